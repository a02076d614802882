-- depends: 0011.one_word_each
-- Each rule has one owner: the tables standing_rule and fix_state are filled from the core after every migration.

CREATE TABLE standing_rule (
    outcome text NOT NULL,
    answer text NOT NULL,
    waived boolean NOT NULL,
    left_out boolean NOT NULL,
    standing text NOT NULL,
    PRIMARY KEY (outcome, answer, waived, left_out)
);
COMMENT ON TABLE standing_rule IS 'What becomes of a finding (core.decisions.standing), as rows.';

CREATE TABLE fix_state (
    name text PRIMARY KEY,
    is_live boolean NOT NULL,
    is_to_do boolean NOT NULL
);
COMMENT ON TABLE fix_state IS 'The states of a fix (core.fixes.FixState), and in which of them something is still to be done, or to be mended.';

CREATE FUNCTION was_untested(untested jsonb, check_id text) RETURNS boolean LANGUAGE sql IMMUTABLE
RETURN untested @> jsonb_build_array(jsonb_build_object('check', check_id));
COMMENT ON FUNCTION was_untested IS 'Whether a check was not made in a reading, by what the reading lists as untested.';

CREATE FUNCTION is_whole(section text, scope text) RETURNS boolean LANGUAGE sql IMMUTABLE
RETURN section = '/' AND scope <> 'given';
COMMENT ON FUNCTION is_whole IS 'Whether a sweep is of all pages of its environment.';

ALTER TABLE finding ADD standing text NOT NULL DEFAULT 'counts';
UPDATE finding SET standing = CASE WHEN waiver_id IS NOT NULL THEN 'waived' WHEN answer = 'fine' THEN 'judged fine'
    WHEN outcome = 'failed' OR answer = 'fault' THEN 'counts' ELSE 'doubtful' END;
ALTER TABLE finding
    ALTER standing DROP DEFAULT,
    ADD counts boolean GENERATED ALWAYS AS (standing = 'counts') STORED,
    ADD is_doubtful boolean GENERATED ALWAYS AS (standing = 'doubtful') STORED,
    ADD is_waived boolean GENERATED ALWAYS AS (standing = 'waived') STORED;
CREATE INDEX finding_by_standing ON finding (sweep_id, standing, ordinal);

ALTER TABLE fix DROP CONSTRAINT fix_state_check;

ALTER TABLE reading ADD http_status integer;
COMMENT ON COLUMN reading.http_status IS 'What the server answered, where one did: a page is gone by its status, not by words about it.';
UPDATE reading SET http_status = substring(problem_says FROM '\m(404|410)\M')::integer
WHERE problem_code = 'http-status' AND problem_says ~ '\m(404|410)\M';

ALTER TABLE waiver ADD path_like text;
COMMENT ON COLUMN waiver.path_like IS 'The path pattern of a waived check as LIKE has it.';
UPDATE waiver SET path_like = replace(replace(replace(replace(pattern, '\', '\\'), '%', '\%'), '_', '\_'), '*', '%') WHERE pattern IS NOT NULL;

ALTER TABLE fix ADD reopened_after text;
COMMENT ON COLUMN fix.reopened_after IS 'The state that a fix was reopened from: handed in, and the fault is still there, or proven, and it came back.';
UPDATE fix x SET reopened_after = (SELECT e.before FROM fix_event e WHERE e.fix_id = x.id AND e.after = 'reopened' ORDER BY e.id DESC LIMIT 1)
WHERE x.state = 'reopened';

ALTER TABLE page ADD redirects_to text;
COMMENT ON COLUMN page.redirects_to IS 'Where the address led when it was asked last, if not to a page of its own: a redirect is a fact of an address, not a page.';

ALTER TABLE sweep
    ADD redirects integer NOT NULL DEFAULT 0,
    ADD unlisted integer NOT NULL DEFAULT 0;
COMMENT ON COLUMN sweep.redirects IS 'Addresses that were to be read and lead to other pages.';
COMMENT ON COLUMN sweep.unlisted IS 'Pages that links lead to and that are not in the sitemap, where there is one.';

CREATE TABLE email (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    subject text NOT NULL,
    text text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    attempts integer NOT NULL DEFAULT 0,
    next_at timestamptz NOT NULL DEFAULT now(),
    sent_at timestamptz,
    given_up_at timestamptz,
    problem text
);
COMMENT ON TABLE email IS 'E-mails that go out, each on its own: how often it was tried, when it is tried next, and what the mail server said last.';
CREATE INDEX email_due ON email (next_at) WHERE sent_at IS NULL AND given_up_at IS NULL;
CREATE INDEX email_of_person ON email (person_id, id DESC);

DROP VIEW sweep_row;
CREATE VIEW sweep_row AS
SELECT w.id, w.site_id, s.slug AS site, w.environment, w.lens, w.section, w.state, w.problem, w.policy, w.asked_by, w.total, w.created_at, w.started_at,
    w.finished_at, w.scope, w.given_paths, w.fresh, w.ground, w.batches, w.next_batch, w.base_id, w.read, w.unreadable, w.ready, w.unchanged, w.found,
    w.redirects, w.unlisted, is_whole(w.section, w.scope) AS is_whole
FROM sweep w JOIN site s ON s.id = w.site_id;

DROP VIEW fix_row;
CREATE VIEW fix_row AS
SELECT f.id, s.slug AS site, f.environment, f.cause, f.page_id, f.place_key, f.check_id AS check, f.weight, f.rank, f.says, f.zone, f.by_template, f.path,
    f.places, f.pages, f.state, f.reopened_after, f.owner_id, o.name AS owner, f.group_id, c.name AS group_name, f.due_on, f.proposal, f.links, f.finding_id,
    f.proof_sweep, f.times_reopened, m.name AS made_by, f.made_at, f.closed_at, f.version, f.changed_at, f.site_id,
    t.is_to_do AND f.due_on IS NOT NULL AND f.due_on < CURRENT_DATE AS late
FROM fix f JOIN site s ON s.id = f.site_id JOIN fix_state t ON t.name = f.state LEFT JOIN person o ON o.id = f.owner_id
    LEFT JOIN people_group c ON c.id = f.group_id LEFT JOIN person m ON m.id = f.made_by;

DROP VIEW finding_row;
CREATE VIEW finding_row AS
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, f.page_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says,
    f.question, f.selector, f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key,
    f.cause_key, f.zone, f.cause, f.waiver_id, f.answer, f.standing
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id;
