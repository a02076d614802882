-- depends: 0022.library_texts
-- Pages that tests hand over in a state that only they reach.

CREATE TABLE handed_over (
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    path text NOT NULL,
    source text NOT NULL,
    answer text NOT NULL,
    PRIMARY KEY (sweep_id, path)
);
COMMENT ON TABLE handed_over IS
'The pages of a sweep that were handed over instead of being fetched, until the sweep is finished.';
COMMENT ON COLUMN handed_over.source IS 'The HTML.';
COMMENT ON COLUMN handed_over.answer IS 'What our collector told of the page in its browser: JSON.';
