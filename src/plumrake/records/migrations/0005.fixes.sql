-- depends: 0004.journeys

ALTER TABLE person
    ADD active boolean NOT NULL DEFAULT true,
    ADD digest boolean NOT NULL DEFAULT true,
    ADD at_once boolean NOT NULL DEFAULT true,
    ADD digested_at timestamptz NOT NULL DEFAULT now(),
    ADD feed_hash bytea UNIQUE;
CREATE INDEX session_of_person ON session (person_id);

CREATE TABLE invitation (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    email text NOT NULL,
    name text NOT NULL,
    role text NOT NULL CHECK (role IN ('manager', 'editor', 'developer', 'reader')),
    token_hash bytea NOT NULL UNIQUE,
    invited_by bigint NOT NULL REFERENCES person,
    created_at timestamptz NOT NULL DEFAULT now(),
    expires_at timestamptz NOT NULL,
    accepted_at timestamptz
);
CREATE UNIQUE INDEX invitation_open ON invitation (lower(email)) WHERE accepted_at IS NULL;

CREATE TABLE crew (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX crew_name ON crew (lower(name));
COMMENT ON TABLE crew IS 'A group of people; "group" is a word of SQL.';

CREATE TABLE crew_member (
    crew_id bigint NOT NULL REFERENCES crew ON DELETE CASCADE,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    PRIMARY KEY (crew_id, person_id)
);
CREATE INDEX crew_of_person ON crew_member (person_id);

ALTER TABLE part
    ALTER owner_id DROP NOT NULL,
    ADD crew_id bigint REFERENCES crew ON DELETE CASCADE,
    ADD CONSTRAINT part_has_one_owner CHECK (num_nonnulls(owner_id, crew_id) = 1);

CREATE TABLE fix (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    edition text NOT NULL CHECK (edition IN ('live', 'staging')),
    cause text NOT NULL,
    page_id bigint REFERENCES page ON DELETE CASCADE,
    place_key text,
    check_id text NOT NULL,
    weight text NOT NULL,
    rank smallint NOT NULL,
    says text NOT NULL,
    region text NOT NULL,
    by_template boolean NOT NULL,
    path text NOT NULL,
    places integer NOT NULL,
    pages integer NOT NULL,
    state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'in_hand', 'handed_in', 'proven', 'returned', 'waived', 'void')),
    owner_id bigint REFERENCES person,
    crew_id bigint REFERENCES crew ON DELETE SET NULL,
    due_on date,
    proposal jsonb,
    links text[] NOT NULL DEFAULT '{}',
    finding_id bigint REFERENCES finding ON DELETE SET NULL,
    proof_sweep bigint REFERENCES sweep ON DELETE SET NULL,
    proof_sample bigint REFERENCES sweep ON DELETE SET NULL,
    proof_rest boolean NOT NULL DEFAULT false,
    times_returned integer NOT NULL DEFAULT 0,
    made_by bigint REFERENCES person,
    made_at timestamptz NOT NULL DEFAULT now(),
    closed_at timestamptz,
    version integer NOT NULL DEFAULT 1,
    changed_at timestamptz NOT NULL DEFAULT now(),
    CHECK ((page_id IS NULL) = (place_key IS NULL)),
    CHECK (num_nonnulls(owner_id, crew_id) <= 1)
);
CREATE UNIQUE INDEX fix_of_cause ON fix (site_id, edition, cause) WHERE place_key IS NULL;
CREATE UNIQUE INDEX fix_of_place ON fix (site_id, edition, page_id, place_key, check_id) WHERE place_key IS NOT NULL;
CREATE INDEX fix_by_reach ON fix (site_id, rank, (-pages), id);
CREATE INDEX fix_by_due ON fix (site_id, (COALESCE(due_on, 'infinity'::date)), id);
CREATE INDEX fix_by_change ON fix (site_id, changed_at, id);
CREATE INDEX fix_by_state ON fix (site_id, state, rank, (-pages), id);
CREATE INDEX fix_by_check ON fix (site_id, check_id, rank, (-pages), id);
CREATE INDEX fix_of_owner ON fix (owner_id, state) WHERE owner_id IS NOT NULL;
CREATE INDEX fix_of_crew ON fix (crew_id, state) WHERE crew_id IS NOT NULL;
CREATE INDEX fix_of_finding ON fix (finding_id) WHERE finding_id IS NOT NULL;
CREATE INDEX fix_of_proof ON fix (proof_sweep) WHERE proof_sweep IS NOT NULL;

CREATE TABLE fix_place (
    fix_id bigint NOT NULL REFERENCES fix ON DELETE CASCADE,
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    place_key text NOT NULL,
    there boolean NOT NULL DEFAULT true,
    PRIMARY KEY (fix_id, page_id, place_key)
);
CREATE INDEX fix_place_of_page ON fix_place (page_id, fix_id);

CREATE TABLE fix_event (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    fix_id bigint NOT NULL REFERENCES fix ON DELETE CASCADE,
    move text NOT NULL,
    before text NOT NULL,
    after text NOT NULL,
    by_id bigint REFERENCES person,
    actor text NOT NULL,
    why text NOT NULL DEFAULT '',
    data jsonb NOT NULL DEFAULT '{}',
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX fix_event_of_fix ON fix_event (fix_id, id);
CREATE INDEX fix_event_of_person ON fix_event (by_id, id) WHERE by_id IS NOT NULL;

CREATE TABLE waiver (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    scope text NOT NULL CHECK (scope IN ('place', 'page', 'cause', 'check')),
    check_id text NOT NULL,
    page_id bigint REFERENCES page ON DELETE CASCADE,
    place_key text,
    cause text,
    pattern text,
    says text NOT NULL,
    reason text NOT NULL,
    ends_on date NOT NULL,
    granted_by bigint NOT NULL REFERENCES person,
    granted_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz,
    ended_by bigint REFERENCES person
);
CREATE INDEX waiver_of_site ON waiver (site_id, id DESC);
CREATE INDEX waiver_in_force ON waiver (site_id, check_id) WHERE ended_at IS NULL;

CREATE TABLE judgement (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    edition text NOT NULL,
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    check_id text NOT NULL,
    place_key text NOT NULL,
    context text NOT NULL,
    says text NOT NULL,
    answer text NOT NULL CHECK (answer IN ('fault', 'fine')),
    note text NOT NULL,
    judged_by bigint NOT NULL REFERENCES person,
    judged_at timestamptz NOT NULL DEFAULT now(),
    lapsed_at timestamptz,
    ended_at timestamptz
);
CREATE UNIQUE INDEX judgement_in_force ON judgement (page_id, check_id, place_key, context) WHERE ended_at IS NULL;
CREATE INDEX judgement_of_site ON judgement (site_id, id DESC);

ALTER TABLE finding
    ADD waiver_id bigint REFERENCES waiver ON DELETE SET NULL,
    ADD judgement_id bigint REFERENCES judgement ON DELETE SET NULL,
    ADD answer text;
CREATE INDEX finding_waived ON finding (waiver_id) WHERE waiver_id IS NOT NULL;
CREATE INDEX finding_judged ON finding (judgement_id) WHERE judgement_id IS NOT NULL;

CREATE TABLE notice (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    kind text NOT NULL,
    fix_id bigint NOT NULL REFERENCES fix ON DELETE CASCADE,
    event_id bigint REFERENCES fix_event ON DELETE CASCADE,
    urgent boolean NOT NULL DEFAULT false,
    at timestamptz NOT NULL DEFAULT now(),
    mailed_at timestamptz,
    read_at timestamptz
);
CREATE INDEX notice_of_person ON notice (person_id, id DESC);
CREATE INDEX notice_to_mail ON notice (person_id) WHERE mailed_at IS NULL;

CREATE TABLE webhook (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    address text NOT NULL,
    secret text NOT NULL,
    kinds text[] NOT NULL,
    made_by bigint NOT NULL REFERENCES person,
    made_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
CREATE INDEX webhook_of_site ON webhook (site_id) WHERE ended_at IS NULL;

CREATE TABLE delivery (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    webhook_id bigint NOT NULL REFERENCES webhook ON DELETE CASCADE,
    message_id text NOT NULL,
    kind text NOT NULL,
    payload jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    attempts integer NOT NULL DEFAULT 0,
    next_at timestamptz NOT NULL DEFAULT now(),
    delivered_at timestamptz,
    given_up_at timestamptz,
    status integer,
    problem text
);
CREATE INDEX delivery_of_webhook ON delivery (webhook_id, id DESC);
CREATE INDEX delivery_due ON delivery (next_at) WHERE delivered_at IS NULL AND given_up_at IS NULL;

CREATE VIEW fix_row AS
SELECT f.id, s.slug AS site, f.edition, f.cause, f.page_id, f.place_key, f.check_id AS check, f.weight, f.rank, f.says, f.region, f.by_template, f.path,
    f.places, f.pages, f.state, f.owner_id, o.name AS owner, f.crew_id, c.name AS crew, f.due_on, f.proposal, f.links, f.finding_id, f.proof_sweep,
    f.times_returned, m.name AS made_by, f.made_at, f.closed_at, f.version, f.changed_at, f.site_id,
    f.state IN ('open', 'in_hand', 'returned') AND f.due_on IS NOT NULL AND f.due_on < CURRENT_DATE AS late
FROM fix f JOIN site s ON s.id = f.site_id LEFT JOIN person o ON o.id = f.owner_id LEFT JOIN crew c ON c.id = f.crew_id
    LEFT JOIN person m ON m.id = f.made_by;

DROP VIEW finding_row;
CREATE VIEW finding_row AS
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, f.page_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says,
    f.question, f.selector, f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key,
    f.cause_key, f.region, f.cause, f.waiver_id, f.answer
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id;
