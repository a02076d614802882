-- depends: 0021.page_kinds
-- Texts that were written into the media library of a content system.

CREATE TABLE library_text (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    finding_id bigint REFERENCES finding ON DELETE SET NULL,
    picture text NOT NULL,
    number text NOT NULL,
    before text NOT NULL,
    after text NOT NULL,
    by_id bigint REFERENCES person,
    written_at timestamptz NOT NULL DEFAULT now(),
    taken_back_at timestamptz
);
CREATE INDEX library_text_of_site ON library_text (site_id, id DESC);
CREATE INDEX library_text_of_finding ON library_text (finding_id) WHERE finding_id IS NOT NULL;
CREATE INDEX library_text_by ON library_text (by_id) WHERE by_id IS NOT NULL;
COMMENT ON TABLE library_text IS
'Each text that was written into a media library: for which picture, what was before, by whom.';
COMMENT ON COLUMN library_text.picture IS 'The address of its file.';
COMMENT ON COLUMN library_text.number IS 'What the content system knows the picture by.';
