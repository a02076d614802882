-- depends: 0008.words

CREATE TABLE link_state (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    address text NOT NULL,
    state text NOT NULL CHECK (state IN ('works', 'only-in-staging', 'dead', 'no-part', 'unknown')),
    says text NOT NULL DEFAULT '',
    status integer,
    chain text[] NOT NULL DEFAULT '{}',
    asked_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (site_id, address)
);
COMMENT ON TABLE link_state IS 'What the links of a site lead to, by address (that of the site itself without its origin), as it was found last.';

CREATE TABLE link_round (
    site_id bigint PRIMARY KEY REFERENCES site ON DELETE CASCADE,
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    asked_by bigint REFERENCES person,
    total integer NOT NULL DEFAULT 0,
    asked integer NOT NULL DEFAULT 0,
    begun_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
COMMENT ON TABLE link_round IS 'The last time that all links of a site were followed, and how far that is.';
