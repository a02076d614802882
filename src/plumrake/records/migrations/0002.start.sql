-- depends: 0001.queue

CREATE TABLE person (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    email text NOT NULL,
    name text NOT NULL,
    role text NOT NULL CHECK (role IN ('manager', 'editor', 'developer', 'reader')),
    password_hash text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX person_email ON person (lower(email));

CREATE TABLE session (
    token_hash bytea PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    csrf_token text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    expires_at timestamptz NOT NULL
);

CREATE TABLE sign_in_attempt (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    email text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sign_in_attempt_recent ON sign_in_attempt (email, at);

CREATE TABLE token (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    name text NOT NULL,
    token_hash bytea NOT NULL UNIQUE,
    scopes text[] NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    last_used_at timestamptz,
    revoked_at timestamptz
);

CREATE TABLE site (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    slug text NOT NULL UNIQUE,
    name text NOT NULL,
    live_address text NOT NULL,
    staging_address text,
    found_by text NOT NULL CHECK (found_by IN ('sitemap', 'list')),
    listed_paths text[] NOT NULL DEFAULT '{}',
    private_leave boolean NOT NULL DEFAULT false,
    policy jsonb NOT NULL DEFAULT '{}',
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE part (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    path_pattern text NOT NULL,
    owner_id bigint NOT NULL REFERENCES person,
    UNIQUE (site_id, path_pattern)
);

CREATE TABLE page (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    path text NOT NULL,
    first_seen_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (site_id, path)
);

CREATE TABLE sweep (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    edition text NOT NULL CHECK (edition IN ('live', 'staging')),
    lens text NOT NULL CHECK (lens IN ('rendered', 'markup')),
    section text NOT NULL DEFAULT '/',
    state text NOT NULL DEFAULT 'queued' CHECK (state IN ('queued', 'running', 'done', 'failed')),
    problem text,
    policy jsonb NOT NULL,
    asked_by bigint REFERENCES person,
    total integer NOT NULL DEFAULT 0,
    created_at timestamptz NOT NULL DEFAULT now(),
    started_at timestamptz,
    finished_at timestamptz
);
CREATE INDEX sweep_of_site ON sweep (site_id, id DESC);

CREATE TABLE sweep_page (
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    batch integer NOT NULL,
    position integer NOT NULL,
    PRIMARY KEY (sweep_id, page_id)
);
CREATE INDEX sweep_page_batch ON sweep_page (sweep_id, batch, position);

CREATE TABLE evidence (
    hash text PRIMARY KEY,
    media_type text NOT NULL,
    content bytea NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE reading (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    address text NOT NULL,
    lens text NOT NULL,
    status text NOT NULL CHECK (status IN ('read', 'unreadable')),
    problem_code text,
    problem_says text,
    title text NOT NULL,
    language text NOT NULL,
    content_hash text,
    elements integer NOT NULL,
    untested jsonb NOT NULL,
    ready boolean NOT NULL,
    picture text REFERENCES evidence,
    seconds real NOT NULL,
    read_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (sweep_id, page_id)
);

CREATE TABLE finding (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    reading_id bigint NOT NULL REFERENCES reading ON DELETE CASCADE,
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    ordinal bigint NOT NULL,
    check_id text NOT NULL,
    outcome text NOT NULL,
    weight text NOT NULL,
    criteria text[] NOT NULL,
    says text NOT NULL,
    question text,
    selector text NOT NULL,
    line integer,
    "column" integer,
    box integer[],
    visible boolean NOT NULL,
    nearest_visible text,
    nearest_box integer[],
    excerpt text NOT NULL,
    facts jsonb NOT NULL,
    mends jsonb NOT NULL,
    place_key text NOT NULL,
    cause_key text NOT NULL
);
CREATE UNIQUE INDEX finding_of_sweep ON finding (sweep_id, ordinal);
CREATE INDEX finding_of_check ON finding (sweep_id, check_id, ordinal);
CREATE INDEX finding_of_reading ON finding (reading_id);
CREATE INDEX finding_of_cause ON finding (sweep_id, cause_key);

CREATE TABLE sweep_event (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    kind text NOT NULL,
    data jsonb NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sweep_event_of_sweep ON sweep_event (sweep_id, id);

CREATE TABLE idempotency (
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    key text NOT NULL,
    request_hash text NOT NULL,
    answer jsonb NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (person_id, key)
);
