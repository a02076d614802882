DROP VIEW sweep_row, fix_row, finding_row;
DROP TABLE email;
ALTER TABLE fix DROP reopened_after, ADD CONSTRAINT fix_state_check
    CHECK (state IN ('open', 'in_hand', 'handed_in', 'proven', 'reopened', 'waived', 'page_gone'));
ALTER TABLE waiver DROP path_like;
ALTER TABLE reading DROP http_status;
ALTER TABLE page DROP redirects_to;
ALTER TABLE sweep DROP redirects, DROP unlisted;
ALTER TABLE finding DROP counts, DROP is_doubtful, DROP is_waived, DROP standing;
DROP FUNCTION is_whole;
DROP FUNCTION was_untested;
DROP TABLE fix_state;
DROP TABLE standing_rule;

CREATE VIEW sweep_row AS
SELECT w.id, w.site_id, s.slug AS site, w.environment, w.lens, w.section, w.state, w.problem, w.policy, w.asked_by, w.total, w.created_at, w.started_at,
    w.finished_at, w.scope, w.given_paths, w.fresh, w.ground, w.batches, w.next_batch, w.base_id, w.read, w.unreadable, w.ready, w.unchanged, w.found
FROM sweep w JOIN site s ON s.id = w.site_id;

CREATE VIEW fix_row AS
SELECT f.id, s.slug AS site, f.environment, f.cause, f.page_id, f.place_key, f.check_id AS check, f.weight, f.rank, f.says, f.zone, f.by_template, f.path,
    f.places, f.pages, f.state, f.owner_id, o.name AS owner, f.group_id, c.name AS group_name, f.due_on, f.proposal, f.links, f.finding_id, f.proof_sweep,
    f.times_reopened, m.name AS made_by, f.made_at, f.closed_at, f.version, f.changed_at, f.site_id,
    f.state IN ('open', 'in_hand', 'reopened') AND f.due_on IS NOT NULL AND f.due_on < CURRENT_DATE AS late
FROM fix f JOIN site s ON s.id = f.site_id LEFT JOIN person o ON o.id = f.owner_id LEFT JOIN people_group c ON c.id = f.group_id
    LEFT JOIN person m ON m.id = f.made_by;

CREATE VIEW finding_row AS
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, f.page_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says,
    f.question, f.selector, f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key,
    f.cause_key, f.zone, f.cause, f.waiver_id, f.answer
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id;
