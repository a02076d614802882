-- depends: 0020.built_sources
-- Kinds of pages that only list others.

ALTER TABLE reading ADD kind text NOT NULL DEFAULT '';
COMMENT ON COLUMN reading.kind IS
'What kind of page that lists others it is, where its content system says so.';
