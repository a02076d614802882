DROP VIEW sweep_row, fix_row, finding_row, clearance_row;

ALTER TABLE responsibility RENAME CONSTRAINT responsibility_has_one_owner TO part_has_one_owner;
ALTER TABLE sweep RENAME CONSTRAINT sweep_environment_check TO sweep_edition_check;
ALTER TABLE fix RENAME CONSTRAINT fix_environment_check TO fix_edition_check;
ALTER TABLE site RENAME CONSTRAINT site_schedule_environment_check TO site_schedule_edition_check;
ALTER INDEX responsibility_site_id_path_pattern_key RENAME TO part_site_id_path_pattern_key;
ALTER INDEX responsibility_pkey RENAME TO part_pkey;
ALTER INDEX link_check_pkey RENAME TO link_round_pkey;
ALTER INDEX reading_of_page_views RENAME TO reading_of_ways;
ALTER INDEX page_view_pkey RENAME TO ways_pkey;
ALTER INDEX notification_to_mail RENAME TO notice_to_mail;
ALTER INDEX notification_of_person RENAME TO notice_of_person;
ALTER INDEX notification_pkey RENAME TO notice_pkey;
ALTER INDEX fix_of_group RENAME TO fix_of_crew;
ALTER INDEX people_group_of_person RENAME TO crew_of_person;
ALTER INDEX people_group_member_pkey RENAME TO crew_member_pkey;
ALTER INDEX people_group_name RENAME TO crew_name;
ALTER INDEX people_group_pkey RENAME TO crew_pkey;
ALTER TABLE people_group RENAME TO crew;
ALTER TABLE people_group_member RENAME TO crew_member;
ALTER TABLE responsibility RENAME TO part;
ALTER TABLE notification RENAME TO notice;
ALTER TABLE page_view RENAME TO ways;
ALTER TABLE link_check RENAME TO link_round;
ALTER TABLE sweep RENAME COLUMN environment TO edition;
ALTER TABLE fix RENAME COLUMN environment TO edition;
ALTER TABLE judgement RENAME COLUMN environment TO edition;
ALTER TABLE site RENAME COLUMN schedule_environment TO schedule_edition;
ALTER TABLE finding RENAME COLUMN zone TO region;
ALTER TABLE cause RENAME COLUMN zone TO region;
ALTER TABLE fix RENAME COLUMN zone TO region;
ALTER TABLE finding RENAME COLUMN reopened TO returned;
ALTER TABLE fix RENAME COLUMN times_reopened TO times_returned;
ALTER TABLE fix RENAME COLUMN group_id TO crew_id;
ALTER TABLE crew_member RENAME COLUMN group_id TO crew_id;
ALTER TABLE part RENAME COLUMN group_id TO crew_id;
ALTER TABLE person RENAME COLUMN immediately TO at_once;
ALTER TABLE site RENAME COLUMN parallel TO at_once;
ALTER TABLE sweep RENAME COLUMN unchanged TO kept;
ALTER TABLE reading RENAME COLUMN unchanged_from TO kept_from;
ALTER TABLE reading RENAME COLUMN page_views TO ways;
ALTER TABLE clearance RENAME COLUMN given_as TO way;

ALTER TABLE fix DROP CONSTRAINT fix_state_check;
UPDATE fix SET state = CASE state WHEN 'reopened' THEN 'returned' WHEN 'page_gone' THEN 'void' ELSE state END WHERE state IN ('reopened', 'page_gone');
ALTER TABLE fix ADD CONSTRAINT fix_state_check CHECK (state IN ('open', 'in_hand', 'handed_in', 'proven', 'returned', 'waived', 'void'));
UPDATE fix_event SET move = CASE move WHEN 'reopen' THEN 'return' WHEN 'page_back' THEN 'reopen' WHEN 'page_gone' THEN 'void' ELSE move END WHERE move IN ('reopen', 'page_back', 'page_gone');
UPDATE fix_event SET before = CASE before WHEN 'reopened' THEN 'returned' WHEN 'page_gone' THEN 'void' ELSE before END, after = CASE after WHEN 'reopened' THEN 'returned' WHEN 'page_gone' THEN 'void' ELSE after END WHERE before IN ('reopened', 'page_gone') OR after IN ('reopened', 'page_gone');
UPDATE notice SET kind = 'returned' WHERE kind = 'reopened';
UPDATE webhook SET kinds = array_replace(kinds, 'fix.reopened', 'fix.returned');

CREATE TEMPORARY TABLE check_renamed (before text PRIMARY KEY, after text NOT NULL);
INSERT INTO check_renamed VALUES
    ('pictures/decorative-described', 'pictures/ornament-described'),
    ('pictures/decorative-to-confirm', 'pictures/ornament-to-confirm'),
    ('pictures/decorative-conflict', 'pictures/ornament-conflict'),
    ('headings/no-level-1', 'headings/no-main'),
    ('headings/several-level-1', 'headings/several-main'),
    ('headings/level-1-late', 'headings/main-comes-late'),
    ('pictures/filler-text', 'pictures/stock-text'),
    ('forms/label-dangling', 'forms/label-astray'),
    ('tables/headers-dangling', 'tables/headers-astray'),
    ('controls/reference-dangling', 'controls/reference-astray'),
    ('controls/name-hidden', 'controls/name-swallowed'),
    ('keyboard/order-forced', 'controls/forced-order');
UPDATE finding x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE cause x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE fix x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE waiver x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE judgement x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
DROP TABLE check_renamed;
UPDATE finding SET check_id = 'pictures/moving' WHERE check_id LIKE 'media/%';
UPDATE cause SET check_id = 'pictures/moving' WHERE check_id LIKE 'media/%';
UPDATE fix SET check_id = 'pictures/moving' WHERE check_id LIKE 'media/%';
UPDATE waiver SET check_id = 'pictures/moving' WHERE check_id LIKE 'media/%';
UPDATE judgement SET check_id = 'pictures/moving' WHERE check_id LIKE 'media/%';
UPDATE site SET policy = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(policy::text, '"pictures/decorative-described"', '"pictures/ornament-described"'), '"pictures/decorative-to-confirm"', '"pictures/ornament-to-confirm"'), '"pictures/decorative-conflict"', '"pictures/ornament-conflict"'), '"headings/no-level-1"', '"headings/no-main"'), '"headings/several-level-1"', '"headings/several-main"'), '"headings/level-1-late"', '"headings/main-comes-late"'), '"pictures/filler-text"', '"pictures/stock-text"'), '"forms/label-dangling"', '"forms/label-astray"'), '"tables/headers-dangling"', '"tables/headers-astray"'), '"controls/reference-dangling"', '"controls/reference-astray"'), '"controls/name-hidden"', '"controls/name-swallowed"'), '"keyboard/order-forced"', '"controls/forced-order"'), '"filler-texts"', '"stock-texts"'), '"scope"', '"regions"'), '"sections"', '"parts"')::jsonb;
UPDATE sweep SET policy = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(policy::text, '"pictures/decorative-described"', '"pictures/ornament-described"'), '"pictures/decorative-to-confirm"', '"pictures/ornament-to-confirm"'), '"pictures/decorative-conflict"', '"pictures/ornament-conflict"'), '"headings/no-level-1"', '"headings/no-main"'), '"headings/several-level-1"', '"headings/several-main"'), '"headings/level-1-late"', '"headings/main-comes-late"'), '"pictures/filler-text"', '"pictures/stock-text"'), '"forms/label-dangling"', '"forms/label-astray"'), '"tables/headers-dangling"', '"tables/headers-astray"'), '"controls/reference-dangling"', '"controls/reference-astray"'), '"controls/name-hidden"', '"controls/name-swallowed"'), '"keyboard/order-forced"', '"controls/forced-order"'), '"filler-texts"', '"stock-texts"'), '"scope"', '"regions"'), '"sections"', '"parts"')::jsonb;
UPDATE reading SET untested = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(untested::text, '"pictures/decorative-described"', '"pictures/ornament-described"'), '"pictures/decorative-to-confirm"', '"pictures/ornament-to-confirm"'), '"pictures/decorative-conflict"', '"pictures/ornament-conflict"'), '"headings/no-level-1"', '"headings/no-main"'), '"headings/several-level-1"', '"headings/several-main"'), '"headings/level-1-late"', '"headings/main-comes-late"'), '"pictures/filler-text"', '"pictures/stock-text"'), '"forms/label-dangling"', '"forms/label-astray"'), '"tables/headers-dangling"', '"tables/headers-astray"'), '"controls/reference-dangling"', '"controls/reference-astray"'), '"controls/name-hidden"', '"controls/name-swallowed"'), '"keyboard/order-forced"', '"controls/forced-order"')::jsonb WHERE untested <> '[]';
UPDATE clearance SET judged = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(judged::text, '"pictures/decorative-described"', '"pictures/ornament-described"'), '"pictures/decorative-to-confirm"', '"pictures/ornament-to-confirm"'), '"pictures/decorative-conflict"', '"pictures/ornament-conflict"'), '"headings/no-level-1"', '"headings/no-main"'), '"headings/several-level-1"', '"headings/several-main"'), '"headings/level-1-late"', '"headings/main-comes-late"'), '"pictures/filler-text"', '"pictures/stock-text"'), '"forms/label-dangling"', '"forms/label-astray"'), '"tables/headers-dangling"', '"tables/headers-astray"'), '"controls/reference-dangling"', '"controls/reference-astray"'), '"controls/name-hidden"', '"controls/name-swallowed"'), '"keyboard/order-forced"', '"controls/forced-order"')::jsonb, untested = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(untested::text, '"pictures/decorative-described"', '"pictures/ornament-described"'), '"pictures/decorative-to-confirm"', '"pictures/ornament-to-confirm"'), '"pictures/decorative-conflict"', '"pictures/ornament-conflict"'), '"headings/no-level-1"', '"headings/no-main"'), '"headings/several-level-1"', '"headings/several-main"'), '"headings/level-1-late"', '"headings/main-comes-late"'), '"pictures/filler-text"', '"pictures/stock-text"'), '"forms/label-dangling"', '"forms/label-astray"'), '"tables/headers-dangling"', '"tables/headers-astray"'), '"controls/reference-dangling"', '"controls/reference-astray"'), '"controls/name-hidden"', '"controls/name-swallowed"'), '"keyboard/order-forced"', '"controls/forced-order"')::jsonb;
UPDATE inventory SET pictures = replace(pictures::text, '"decorative":', '"ornament":')::jsonb WHERE pictures <> '[]';
UPDATE saved_filter SET query = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(query::text, '"environment":', '"edition":'), '"zone":', '"region":'), '"comes-from":', '"printed":'), '"reopened"', '"returned"'), '"page_gone"', '"void"'), '"pictures/decorative-described"', '"pictures/ornament-described"'), '"pictures/decorative-to-confirm"', '"pictures/ornament-to-confirm"'), '"pictures/decorative-conflict"', '"pictures/ornament-conflict"'), '"headings/no-level-1"', '"headings/no-main"'), '"headings/several-level-1"', '"headings/several-main"'), '"headings/level-1-late"', '"headings/main-comes-late"'), '"pictures/filler-text"', '"pictures/stock-text"'), '"forms/label-dangling"', '"forms/label-astray"'), '"tables/headers-dangling"', '"tables/headers-astray"'), '"controls/reference-dangling"', '"controls/reference-astray"'), '"controls/name-hidden"', '"controls/name-swallowed"'), '"keyboard/order-forced"', '"controls/forced-order"')::jsonb;
UPDATE site SET journeys = replace(replace(replace(replace(replace(journeys::text, '"into":', '"fill":'), '"in":', '"fill":'), '"write":', '"with":'), '"choose":', '"with":'), '"scope":', '"region":')::jsonb WHERE journeys::text <> '[]';

CREATE VIEW sweep_row AS
SELECT w.id, w.site_id, s.slug AS site, w.edition, w.lens, w.section, w.state, w.problem, w.policy, w.asked_by, w.total, w.created_at, w.started_at,
    w.finished_at, w.scope, w.given_paths, w.fresh, w.ground, w.batches, w.next_batch, w.base_id, w.read, w.unreadable, w.ready, w.kept, w.found
FROM sweep w JOIN site s ON s.id = w.site_id;

CREATE VIEW fix_row AS
SELECT f.id, s.slug AS site, f.edition, f.cause, f.page_id, f.place_key, f.check_id AS check, f.weight, f.rank, f.says, f.region, f.by_template, f.path,
    f.places, f.pages, f.state, f.owner_id, o.name AS owner, f.crew_id, c.name AS crew, f.due_on, f.proposal, f.links, f.finding_id, f.proof_sweep,
    f.times_returned, m.name AS made_by, f.made_at, f.closed_at, f.version, f.changed_at, f.site_id,
    f.state IN ('open', 'in_hand', 'returned') AND f.due_on IS NOT NULL AND f.due_on < CURRENT_DATE AS late
FROM fix f JOIN site s ON s.id = f.site_id LEFT JOIN person o ON o.id = f.owner_id LEFT JOIN crew c ON c.id = f.crew_id
    LEFT JOIN person m ON m.id = f.made_by;

CREATE VIEW finding_row AS
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, f.page_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says,
    f.question, f.selector, f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key,
    f.cause_key, f.region, f.cause, f.waiver_id, f.answer
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id;

CREATE VIEW clearance_row AS
SELECT c.id, c.site_id, s.slug AS site, s.name AS site_name, c.release_id, c.path, c.way, c.address, c.lens, c.frame, c.slot, c.content_hash, c.state,
    c.decision, c.reason, c.title, c.problem_code, c.judged, c.live_count, c.untested, c.picture, c.seconds, c.asked_by AS asked_by_id, p.name AS asked_by,
    c.asked_at, c.answered_at, c.valid_until, o.name AS overruled_by, c.overruled_at, c.overruled_why, c.used_at
FROM clearance c JOIN site s ON s.id = c.site_id JOIN person p ON p.id = c.asked_by LEFT JOIN person o ON o.id = c.overruled_by;
