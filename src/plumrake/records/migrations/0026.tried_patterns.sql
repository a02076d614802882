-- depends: 0025.page_pictures
-- What other layouts and Tab were tried with, so that pages made of the same need not be tried.

CREATE TABLE tried_pattern (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    pattern bigint NOT NULL,
    path text NOT NULL,
    faulty smallint NOT NULL,
    tried_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (site_id, environment, pattern)
);
COMMENT ON TABLE tried_pattern IS
'What the pages of a site are made of (core/patterns.py) that was laid out otherwise and walked '
'through by Tab, and on which page.';
COMMENT ON COLUMN tried_pattern.faulty IS
'By what something was found at it: 1 in a narrow window, 2 with larger text or wider spacing, '
'4 with Tab; their sum.';
