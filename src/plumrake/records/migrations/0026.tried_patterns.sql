-- depends: 0025.page_pictures
-- What other layouts and Tab were tried with, so that pages made of the same need not be tried.

CREATE TABLE tried_pattern (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    pattern bigint NOT NULL,
    path text NOT NULL,
    is_sound boolean NOT NULL,
    tried_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (site_id, environment, pattern)
);
COMMENT ON TABLE tried_pattern IS
'What the pages of a site are made of (core/patterns.py) that was laid out otherwise and walked '
'through by Tab: on which page, and whether nothing was found at it.';
