DROP VIEW clearance_row;
DROP VIEW fix_row;
DROP VIEW finding_row;
ALTER TABLE token DROP site_id;
DELETE FROM clearance
WHERE is_ahead;
ALTER TABLE clearance
DROP version,
DROP item,
DROP asked_for,
DROP asked_for_id,
DROP is_ahead;
ALTER TABLE finding DROP block;
ALTER TABLE connection DROP synced_at;
DROP VIEW item_row;
DROP TABLE item_author;
DROP TABLE item;
CREATE VIEW finding_row AS
SELECT
    f.id,
    f.ordinal,
    f.sweep_id,
    f.reading_id,
    f.page_id,
    p.path,
    r.address,
    r.title,
    f.check_id AS "check",
    f.outcome,
    f.weight,
    f.criteria,
    f.says,
    f.question,
    f.selector,
    f.line,
    f."column",
    f.box,
    f.visible,
    f.nearest_visible,
    f.nearest_box,
    f.excerpt,
    f.facts,
    f.mends,
    f.place_key,
    f.cause_key,
    f.zone,
    f.cause,
    f.waiver_id,
    f.answer,
    f.standing,
    f.rank
FROM finding f
JOIN page p ON p.id = f.page_id
JOIN reading r ON r.id = f.reading_id;
CREATE VIEW clearance_row AS
SELECT
    c.id,
    c.site_id,
    s.slug AS site,
    s.name AS site_name,
    c.release_id,
    c.path,
    c.given_as,
    c.address,
    c.lens,
    c.frame,
    c.slot,
    c.content_hash,
    c.state,
    c.decision,
    c.reason,
    c.title,
    c.problem_code,
    c.judged,
    c.live_count,
    c.untested,
    c.picture,
    c.seconds,
    c.asked_by AS asked_by_id,
    p.name AS asked_by,
    c.asked_at,
    c.answered_at,
    c.valid_until,
    o.name AS overruled_by,
    c.overruled_at,
    c.overruled_why,
    c.used_at
FROM clearance c
JOIN site s ON s.id = c.site_id
JOIN person p ON p.id = c.asked_by
LEFT JOIN person o ON o.id = c.overruled_by;
CREATE VIEW fix_row AS
SELECT
    f.id,
    s.slug AS site,
    f.environment,
    f.cause,
    f.page_id,
    f.place_key,
    f.check_id AS "check",
    f.weight,
    f.rank,
    f.says,
    f.zone,
    f.by_template,
    f.path,
    f.places,
    f.pages,
    f.state,
    f.reopened_after,
    f.owner_id,
    o.name AS owner,
    f.group_id,
    c.name AS group_name,
    f.due_on,
    f.proposal,
    f.links,
    f.finding_id,
    f.proof_sweep,
    f.times_reopened,
    m.name AS made_by,
    f.made_at,
    f.closed_at,
    f.version,
    f.changed_at,
    f.site_id,
    t.is_to_do AND f.due_on IS NOT NULL AND f.due_on < current_date AS late
FROM fix f
JOIN site s ON s.id = f.site_id
JOIN fix_state t ON t.name = f.state
LEFT JOIN person o ON o.id = f.owner_id
LEFT JOIN people_group c ON c.id = f.group_id
LEFT JOIN person m ON m.id = f.made_by;
