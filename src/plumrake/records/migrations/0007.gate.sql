-- depends: 0006.console

CREATE TABLE service_secret (
    name text PRIMARY KEY,
    secret bytea NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE service_secret IS 'Keys that the service made for itself, such as the one that seals clearances.';

CREATE TABLE release (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    name text NOT NULL,
    asked_by bigint NOT NULL REFERENCES person,
    asked_at timestamptz NOT NULL DEFAULT now(),
    answered_at timestamptz
);
CREATE INDEX release_of_site ON release (site_id, id DESC);

CREATE TABLE clearance (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    release_id bigint REFERENCES release ON DELETE CASCADE,
    path text NOT NULL,
    way text NOT NULL CHECK (way IN ('address', 'document', 'fragment', 'staging')),
    address text NOT NULL,
    lens text NOT NULL CHECK (lens IN ('rendered', 'markup')),
    frame text,
    slot text,
    content bytea,
    content_hash text,
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'answered')),
    decision text CHECK (decision IN ('clear', 'clear with waivers', 'held')),
    reason text NOT NULL DEFAULT '',
    title text NOT NULL DEFAULT '',
    problem_code text,
    judged jsonb NOT NULL DEFAULT '[]',
    live_count integer NOT NULL DEFAULT 0,
    untested jsonb NOT NULL DEFAULT '[]',
    picture text REFERENCES evidence,
    seconds real,
    asked_by bigint NOT NULL REFERENCES person,
    asked_at timestamptz NOT NULL DEFAULT now(),
    answered_at timestamptz,
    valid_until timestamptz,
    overruled_by bigint REFERENCES person,
    overruled_at timestamptz,
    overruled_why text,
    used_at timestamptz,
    CHECK (state = 'waiting' OR decision IS NOT NULL)
);
CREATE INDEX clearance_of_site ON clearance (site_id, id DESC);
CREATE INDEX clearance_of_page ON clearance (site_id, path, id DESC);
CREATE INDEX clearance_of_release ON clearance (release_id, id) WHERE release_id IS NOT NULL;
CREATE INDEX clearance_waiting ON clearance (id) WHERE state = 'waiting';
CREATE INDEX clearance_of_picture ON clearance (picture) WHERE picture IS NOT NULL;

CREATE VIEW clearance_row AS
SELECT c.id, c.site_id, s.slug AS site, s.name AS site_name, c.release_id, c.path, c.way, c.address, c.lens, c.frame, c.slot, c.content_hash, c.state,
    c.decision, c.reason, c.title, c.problem_code, c.judged, c.live_count, c.untested, c.picture, c.seconds, c.asked_by AS asked_by_id, p.name AS asked_by,
    c.asked_at, c.answered_at, c.valid_until, o.name AS overruled_by, c.overruled_at, c.overruled_why, c.used_at
FROM clearance c JOIN site s ON s.id = c.site_id JOIN person p ON p.id = c.asked_by LEFT JOIN person o ON o.id = c.overruled_by;
