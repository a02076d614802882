DROP VIEW finding_row, fix_row;
ALTER TABLE finding DROP waiver_id, DROP judgement_id, DROP answer;
CREATE VIEW finding_row AS
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, f.page_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says,
    f.question, f.selector, f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key,
    f.cause_key, f.region, f.cause
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id;
DROP TABLE delivery, webhook, notice, judgement, waiver, fix_event, fix_place, fix;
DELETE FROM part WHERE owner_id IS NULL;
ALTER TABLE part DROP CONSTRAINT part_has_one_owner, DROP crew_id, ALTER owner_id SET NOT NULL;
DROP TABLE crew_member, crew, invitation;
DROP INDEX session_of_person;
ALTER TABLE person DROP active, DROP digest, DROP at_once, DROP digested_at, DROP feed_hash;
