-- depends: 0024.reviews
-- Pictures of pages that somebody asked for: in other layouts, with focus marks.

CREATE TABLE page_picture (
    reading_id bigint NOT NULL REFERENCES reading ON DELETE CASCADE,
    kind text NOT NULL CHECK (kind IN ('whole', 'narrow', 'enlarged', 'spaced', 'focus')),
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'ready')),
    picture text REFERENCES evidence,
    problem text NOT NULL DEFAULT '',
    has_changed boolean NOT NULL DEFAULT FALSE,
    asked_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (reading_id, kind)
);
CREATE INDEX page_picture_of_evidence ON page_picture (picture) WHERE picture IS NOT NULL;
COMMENT ON TABLE page_picture IS
'Pictures of a reading''s page that somebody asked for, drawn when they were asked for.';
COMMENT ON COLUMN page_picture.has_changed IS
'The page was not as it was read any more when it was drawn.';
