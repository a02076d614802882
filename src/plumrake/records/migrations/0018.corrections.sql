-- depends: 0017.one_rank
-- Corrections: changes of the sources that pages are made from, and where those sources are.

CREATE TABLE connection (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    kind text NOT NULL,
    settings jsonb NOT NULL,
    secret bytea,
    made_by bigint REFERENCES person,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (site_id, environment)
);
COMMENT ON TABLE connection IS
'Where the sources of a site''s pages are, and how they are written; the secret is encrypted.';

CREATE TABLE source_text (
    hash text PRIMARY KEY,
    body bytea NOT NULL,
    charset text,
    own_start integer NOT NULL,
    own_end integer NOT NULL,
    kept_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE source_text IS
'The text that a page was made from, each once, as it was when corrections were made or written.';
COMMENT ON COLUMN source_text.own_start IS
'What stands between own_start and own_end (bytes) is the page''s own; around it is its template.';

CREATE TABLE writing (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL,
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    before_hash text NOT NULL REFERENCES source_text,
    after_hash text NOT NULL REFERENCES source_text,
    edits jsonb NOT NULL,
    takes_back bigint[] NOT NULL DEFAULT '{}',
    state text NOT NULL DEFAULT 'begun' CHECK (state IN ('begun', 'done', 'given up')),
    by_id bigint REFERENCES person,
    begun_at timestamptz NOT NULL DEFAULT now(),
    done_at timestamptz
);
CREATE INDEX writing_of_page ON writing (page_id, environment, id DESC);
COMMENT ON TABLE writing IS
'Each time that a page''s source was written: what it was, what it became, and by which edits.';

CREATE TABLE description (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    finding_id bigint REFERENCES finding ON DELETE SET NULL,
    picture_hash text NOT NULL DEFAULT '',
    picture_bytes integer NOT NULL DEFAULT 0,
    told jsonb NOT NULL DEFAULT '{}',
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'answered', 'failed')),
    text text NOT NULL DEFAULT '',
    problem text NOT NULL DEFAULT '',
    asked_by bigint REFERENCES person,
    asked_at timestamptz NOT NULL DEFAULT now(),
    answered_at timestamptz
);
CREATE INDEX description_of_site ON description (site_id, id DESC);
CREATE INDEX description_of_finding ON description (finding_id) WHERE finding_id IS NOT NULL;
COMMENT ON TABLE description IS
'What the organisation''s describer was sent of a picture, for whom, and what it answered.';

CREATE TABLE picture_text (
    finding_id bigint PRIMARY KEY REFERENCES finding ON DELETE CASCADE,
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'ready')),
    items jsonb NOT NULL DEFAULT '[]',
    problem text NOT NULL DEFAULT '',
    asked_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE picture_text IS
'Texts that the picture of a finding might get, each with where it comes from.';

CREATE TABLE correction (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    finding_id bigint REFERENCES finding ON DELETE SET NULL,
    check_id text NOT NULL,
    cause text NOT NULL,
    place_key text NOT NULL,
    lens text NOT NULL CHECK (lens IN ('rendered', 'markup')),
    fault text NOT NULL,
    mend jsonb NOT NULL,
    insist boolean NOT NULL DEFAULT FALSE,
    as_references boolean NOT NULL DEFAULT FALSE,
    says text NOT NULL,
    why text NOT NULL DEFAULT '',
    state text NOT NULL DEFAULT 'waiting' CHECK (
        state IN ('waiting', 'refused', 'drafted', 'written', 'proven', 'conflict', 'taken_back')
    ),
    problem text NOT NULL DEFAULT '',
    may_insist boolean NOT NULL DEFAULT FALSE,
    may_reference boolean NOT NULL DEFAULT FALSE,
    edits jsonb NOT NULL DEFAULT '[]',
    source_hash text REFERENCES source_text,
    place integer,
    mends_too integer NOT NULL DEFAULT 0,
    picture_before text REFERENCES evidence,
    picture_after text REFERENCES evidence,
    box_before integer[],
    box_after integer[],
    writing_id bigint REFERENCES writing ON DELETE SET NULL,
    description_id bigint REFERENCES description ON DELETE SET NULL,
    written_at timestamptz,
    written_after bigint,
    by_id bigint NOT NULL REFERENCES person,
    made_at timestamptz NOT NULL DEFAULT now(),
    changed_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX correction_of_site ON correction (site_id, id DESC);
CREATE INDEX correction_of_page ON correction (page_id, environment, state);
CREATE INDEX correction_of_cause ON correction (site_id, environment, cause);
CREATE INDEX correction_of_person ON correction (by_id, id DESC);
CREATE INDEX correction_of_finding ON correction (finding_id) WHERE finding_id IS NOT NULL;
CREATE INDEX correction_of_source ON correction (source_hash) WHERE source_hash IS NOT NULL;
CREATE INDEX correction_of_writing ON correction (writing_id) WHERE writing_id IS NOT NULL;
CREATE INDEX correction_of_description ON correction (description_id)
WHERE description_id IS NOT NULL;
CREATE INDEX correction_before ON correction (picture_before) WHERE picture_before IS NOT NULL;
CREATE INDEX correction_after ON correction (picture_after) WHERE picture_after IS NOT NULL;
COMMENT ON TABLE correction IS
'A change of a page''s source that a person made for a finding, and how far it is.';
COMMENT ON COLUMN correction.edits IS
'Spans (characters) of the source of that hash, and what replaces them.';
COMMENT ON COLUMN correction.written_after IS 'The last sweep that was there when it was written.';
COMMENT ON COLUMN correction.place IS 'Where the element stands in that source, in characters.';

CREATE TABLE correction_event (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    correction_id bigint NOT NULL REFERENCES correction ON DELETE CASCADE,
    move text NOT NULL,
    before text NOT NULL,
    after text NOT NULL,
    by_id bigint REFERENCES person,
    actor text NOT NULL,
    why text NOT NULL DEFAULT '',
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX correction_event_of ON correction_event (correction_id, id);
COMMENT ON TABLE correction_event IS
'Every move of a correction: who made it, from which state to which, and why.';

CREATE VIEW correction_row AS
SELECT
    c.id,
    c.site_id,
    s.slug AS site,
    c.environment,
    c.page_id,
    p.path,
    c.finding_id,
    c.check_id AS "check",
    c.cause,
    c.place_key,
    c.lens,
    c.fault,
    c.mend,
    c.insist,
    c.as_references,
    c.says,
    c.why,
    c.state,
    c.problem,
    c.may_insist,
    c.may_reference,
    c.edits,
    c.source_hash,
    c.place,
    c.mends_too,
    c.picture_before,
    c.picture_after,
    c.box_before,
    c.box_after,
    c.writing_id,
    c.written_at,
    c.by_id,
    o.name AS made_by,
    c.made_at,
    c.changed_at,
    c.description_id IS NOT NULL AS by_program,
    coalesce(d.text <> c.mend ->> 'value', FALSE) AS changed_by_person
FROM correction c
LEFT JOIN description d ON d.id = c.description_id
JOIN site s ON s.id = c.site_id
JOIN page p ON p.id = c.page_id
JOIN person o ON o.id = c.by_id;
