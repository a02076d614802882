-- depends: 0010.links_in_sweeps
-- One meaning for each word, before the first release. Place and cause keys are digests that hold the id of their check: findings of
-- the renamed checks are told as new by the next sweep.

DROP VIEW sweep_row, fix_row, finding_row, clearance_row;

ALTER TABLE sweep RENAME COLUMN edition TO environment;
ALTER TABLE fix RENAME COLUMN edition TO environment;
ALTER TABLE judgement RENAME COLUMN edition TO environment;
ALTER TABLE site RENAME COLUMN schedule_edition TO schedule_environment;
ALTER TABLE finding RENAME COLUMN region TO zone;
ALTER TABLE cause RENAME COLUMN region TO zone;
ALTER TABLE fix RENAME COLUMN region TO zone;
ALTER TABLE finding RENAME COLUMN returned TO reopened;
ALTER TABLE fix RENAME COLUMN times_returned TO times_reopened;
ALTER TABLE fix RENAME COLUMN crew_id TO group_id;
ALTER TABLE crew_member RENAME COLUMN crew_id TO group_id;
ALTER TABLE part RENAME COLUMN crew_id TO group_id;
ALTER TABLE person RENAME COLUMN at_once TO immediately;
ALTER TABLE site RENAME COLUMN at_once TO parallel;
ALTER TABLE sweep RENAME COLUMN kept TO unchanged;
ALTER TABLE reading RENAME COLUMN kept_from TO unchanged_from;
ALTER TABLE reading RENAME COLUMN ways TO page_views;
ALTER TABLE clearance RENAME COLUMN way TO given_as;
ALTER TABLE crew RENAME TO people_group;
ALTER TABLE crew_member RENAME TO people_group_member;
ALTER TABLE part RENAME TO responsibility;
ALTER TABLE notice RENAME TO notification;
ALTER TABLE ways RENAME TO page_view;
ALTER TABLE link_round RENAME TO link_check;
ALTER INDEX crew_pkey RENAME TO people_group_pkey;
ALTER INDEX crew_name RENAME TO people_group_name;
ALTER INDEX crew_member_pkey RENAME TO people_group_member_pkey;
ALTER INDEX crew_of_person RENAME TO people_group_of_person;
ALTER INDEX fix_of_crew RENAME TO fix_of_group;
ALTER INDEX notice_pkey RENAME TO notification_pkey;
ALTER INDEX notice_of_person RENAME TO notification_of_person;
ALTER INDEX notice_to_mail RENAME TO notification_to_mail;
ALTER INDEX ways_pkey RENAME TO page_view_pkey;
ALTER INDEX reading_of_ways RENAME TO reading_of_page_views;
ALTER INDEX link_round_pkey RENAME TO link_check_pkey;
ALTER INDEX part_pkey RENAME TO responsibility_pkey;
ALTER INDEX part_site_id_path_pattern_key RENAME TO responsibility_site_id_path_pattern_key;
ALTER TABLE responsibility RENAME CONSTRAINT part_has_one_owner TO responsibility_has_one_owner;
ALTER TABLE sweep RENAME CONSTRAINT sweep_edition_check TO sweep_environment_check;
ALTER TABLE fix RENAME CONSTRAINT fix_edition_check TO fix_environment_check;
ALTER TABLE site RENAME CONSTRAINT site_schedule_edition_check TO site_schedule_environment_check;

ALTER TABLE fix DROP CONSTRAINT fix_state_check;
UPDATE fix SET state = CASE state WHEN 'returned' THEN 'reopened' WHEN 'void' THEN 'page_gone' ELSE state END WHERE state IN ('returned', 'void');
ALTER TABLE fix ADD CONSTRAINT fix_state_check CHECK (state IN ('open', 'in_hand', 'handed_in', 'proven', 'reopened', 'waived', 'page_gone'));
UPDATE fix_event SET move = CASE move WHEN 'reopen' THEN 'page_back' WHEN 'return' THEN 'reopen' WHEN 'void' THEN 'page_gone' ELSE move END WHERE move IN ('reopen', 'return', 'void');
UPDATE fix_event SET before = CASE before WHEN 'returned' THEN 'reopened' WHEN 'void' THEN 'page_gone' ELSE before END, after = CASE after WHEN 'returned' THEN 'reopened' WHEN 'void' THEN 'page_gone' ELSE after END WHERE before IN ('returned', 'void') OR after IN ('returned', 'void');
UPDATE notification SET kind = 'reopened' WHERE kind = 'returned';
UPDATE webhook SET kinds = array_replace(kinds, 'fix.returned', 'fix.reopened');

CREATE TEMPORARY TABLE check_renamed (before text PRIMARY KEY, after text NOT NULL);
INSERT INTO check_renamed VALUES
    ('pictures/ornament-described', 'pictures/decorative-described'),
    ('pictures/ornament-to-confirm', 'pictures/decorative-to-confirm'),
    ('pictures/ornament-conflict', 'pictures/decorative-conflict'),
    ('headings/no-main', 'headings/no-level-1'),
    ('headings/several-main', 'headings/several-level-1'),
    ('headings/main-comes-late', 'headings/level-1-late'),
    ('pictures/stock-text', 'pictures/filler-text'),
    ('forms/label-astray', 'forms/label-dangling'),
    ('tables/headers-astray', 'tables/headers-dangling'),
    ('controls/reference-astray', 'controls/reference-dangling'),
    ('controls/name-swallowed', 'controls/name-hidden'),
    ('controls/forced-order', 'keyboard/order-forced');
UPDATE finding x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE cause x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE fix x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE waiver x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
UPDATE judgement x SET check_id = c.after FROM check_renamed c WHERE x.check_id = c.before;
DROP TABLE check_renamed;
UPDATE finding SET check_id = CASE WHEN says LIKE 'The film %' THEN 'media/no-captions' WHEN says LIKE 'The recording %' THEN 'media/no-transcript'
    ELSE 'media/sound-by-itself' END WHERE check_id = 'pictures/moving';
UPDATE fix SET check_id = CASE WHEN says LIKE 'The film %' THEN 'media/no-captions' WHEN says LIKE 'The recording %' THEN 'media/no-transcript'
    ELSE 'media/sound-by-itself' END WHERE check_id = 'pictures/moving';
UPDATE waiver SET check_id = CASE WHEN says LIKE 'The film %' THEN 'media/no-captions' WHEN says LIKE 'The recording %' THEN 'media/no-transcript'
    ELSE 'media/sound-by-itself' END WHERE check_id = 'pictures/moving';
UPDATE judgement SET check_id = CASE WHEN says LIKE 'The film %' THEN 'media/no-captions' WHEN says LIKE 'The recording %' THEN 'media/no-transcript'
    ELSE 'media/sound-by-itself' END WHERE check_id = 'pictures/moving';
UPDATE cause c SET check_id = f.check_id FROM finding f WHERE f.id = c.best AND c.check_id = 'pictures/moving';
UPDATE site SET policy = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(policy::text, '"pictures/ornament-described"', '"pictures/decorative-described"'), '"pictures/ornament-to-confirm"', '"pictures/decorative-to-confirm"'), '"pictures/ornament-conflict"', '"pictures/decorative-conflict"'), '"headings/no-main"', '"headings/no-level-1"'), '"headings/several-main"', '"headings/several-level-1"'), '"headings/main-comes-late"', '"headings/level-1-late"'), '"pictures/stock-text"', '"pictures/filler-text"'), '"forms/label-astray"', '"forms/label-dangling"'), '"tables/headers-astray"', '"tables/headers-dangling"'), '"controls/reference-astray"', '"controls/reference-dangling"'), '"controls/name-swallowed"', '"controls/name-hidden"'), '"controls/forced-order"', '"keyboard/order-forced"'), '"stock-texts"', '"filler-texts"'), '"regions"', '"scope"'), '"parts"', '"sections"')::jsonb;
UPDATE sweep SET policy = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(policy::text, '"pictures/ornament-described"', '"pictures/decorative-described"'), '"pictures/ornament-to-confirm"', '"pictures/decorative-to-confirm"'), '"pictures/ornament-conflict"', '"pictures/decorative-conflict"'), '"headings/no-main"', '"headings/no-level-1"'), '"headings/several-main"', '"headings/several-level-1"'), '"headings/main-comes-late"', '"headings/level-1-late"'), '"pictures/stock-text"', '"pictures/filler-text"'), '"forms/label-astray"', '"forms/label-dangling"'), '"tables/headers-astray"', '"tables/headers-dangling"'), '"controls/reference-astray"', '"controls/reference-dangling"'), '"controls/name-swallowed"', '"controls/name-hidden"'), '"controls/forced-order"', '"keyboard/order-forced"'), '"stock-texts"', '"filler-texts"'), '"regions"', '"scope"'), '"parts"', '"sections"')::jsonb;
UPDATE reading SET untested = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(untested::text, '"pictures/ornament-described"', '"pictures/decorative-described"'), '"pictures/ornament-to-confirm"', '"pictures/decorative-to-confirm"'), '"pictures/ornament-conflict"', '"pictures/decorative-conflict"'), '"headings/no-main"', '"headings/no-level-1"'), '"headings/several-main"', '"headings/several-level-1"'), '"headings/main-comes-late"', '"headings/level-1-late"'), '"pictures/stock-text"', '"pictures/filler-text"'), '"forms/label-astray"', '"forms/label-dangling"'), '"tables/headers-astray"', '"tables/headers-dangling"'), '"controls/reference-astray"', '"controls/reference-dangling"'), '"controls/name-swallowed"', '"controls/name-hidden"'), '"controls/forced-order"', '"keyboard/order-forced"')::jsonb WHERE untested <> '[]';
UPDATE clearance SET judged = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(judged::text, '"pictures/ornament-described"', '"pictures/decorative-described"'), '"pictures/ornament-to-confirm"', '"pictures/decorative-to-confirm"'), '"pictures/ornament-conflict"', '"pictures/decorative-conflict"'), '"headings/no-main"', '"headings/no-level-1"'), '"headings/several-main"', '"headings/several-level-1"'), '"headings/main-comes-late"', '"headings/level-1-late"'), '"pictures/stock-text"', '"pictures/filler-text"'), '"forms/label-astray"', '"forms/label-dangling"'), '"tables/headers-astray"', '"tables/headers-dangling"'), '"controls/reference-astray"', '"controls/reference-dangling"'), '"controls/name-swallowed"', '"controls/name-hidden"'), '"controls/forced-order"', '"keyboard/order-forced"')::jsonb, untested = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(untested::text, '"pictures/ornament-described"', '"pictures/decorative-described"'), '"pictures/ornament-to-confirm"', '"pictures/decorative-to-confirm"'), '"pictures/ornament-conflict"', '"pictures/decorative-conflict"'), '"headings/no-main"', '"headings/no-level-1"'), '"headings/several-main"', '"headings/several-level-1"'), '"headings/main-comes-late"', '"headings/level-1-late"'), '"pictures/stock-text"', '"pictures/filler-text"'), '"forms/label-astray"', '"forms/label-dangling"'), '"tables/headers-astray"', '"tables/headers-dangling"'), '"controls/reference-astray"', '"controls/reference-dangling"'), '"controls/name-swallowed"', '"controls/name-hidden"'), '"controls/forced-order"', '"keyboard/order-forced"')::jsonb;
UPDATE inventory SET pictures = replace(pictures::text, '"ornament":', '"decorative":')::jsonb WHERE pictures <> '[]';
UPDATE saved_filter SET query = replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(query::text, '"edition":', '"environment":'), '"region":', '"zone":'), '"printed":', '"comes-from":'), '"returned"', '"reopened"'), '"void"', '"page_gone"'), '"pictures/ornament-described"', '"pictures/decorative-described"'), '"pictures/ornament-to-confirm"', '"pictures/decorative-to-confirm"'), '"pictures/ornament-conflict"', '"pictures/decorative-conflict"'), '"headings/no-main"', '"headings/no-level-1"'), '"headings/several-main"', '"headings/several-level-1"'), '"headings/main-comes-late"', '"headings/level-1-late"'), '"pictures/stock-text"', '"pictures/filler-text"'), '"forms/label-astray"', '"forms/label-dangling"'), '"tables/headers-astray"', '"tables/headers-dangling"'), '"controls/reference-astray"', '"controls/reference-dangling"'), '"controls/name-swallowed"', '"controls/name-hidden"'), '"controls/forced-order"', '"keyboard/order-forced"')::jsonb;
UPDATE site SET journeys = replace(replace(replace(journeys::text, '"fill":', '"into":'), '"with":', '"write":'), '"region":', '"scope":')::jsonb WHERE journeys::text <> '[]';

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

CREATE VIEW clearance_row AS
SELECT c.id, c.site_id, s.slug AS site, s.name AS site_name, c.release_id, c.path, c.given_as, c.address, c.lens, c.frame, c.slot, c.content_hash, c.state,
    c.decision, c.reason, c.title, c.problem_code, c.judged, c.live_count, c.untested, c.picture, c.seconds, c.asked_by AS asked_by_id, p.name AS asked_by,
    c.asked_at, c.answered_at, c.valid_until, o.name AS overruled_by, c.overruled_at, c.overruled_why, c.used_at
FROM clearance c JOIN site s ON s.id = c.site_id JOIN person p ON p.id = c.asked_by LEFT JOIN person o ON o.id = c.overruled_by;

COMMENT ON TABLE people_group IS 'A group of people; "group" is a word of SQL.';
COMMENT ON TABLE page_view IS 'The views of a page (outline, as heard, reading order, names) as compressed JSON, once per content.';
COMMENT ON TABLE link_check IS 'The last time that all links of a site were followed, and how far that is.';
