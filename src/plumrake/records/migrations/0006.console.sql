-- depends: 0005.fixes

CREATE TABLE ways (
    hash text PRIMARY KEY,
    content bytea NOT NULL
);
COMMENT ON TABLE ways IS 'The ways to look at a page (outline, as heard, reading order, names) as compressed JSON, once per content.';
ALTER TABLE reading ADD ways text REFERENCES ways;
CREATE INDEX reading_of_ways ON reading (ways) WHERE ways IS NOT NULL;

CREATE TABLE saved_filter (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    view text NOT NULL,
    name text NOT NULL,
    query jsonb NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX saved_filter_name ON saved_filter (person_id, site_id, view, lower(name));

CREATE TABLE start_key (
    only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
    token_hash bytea NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE start_key IS 'What the first person of an empty service needs to come in; gone once there is somebody.';
