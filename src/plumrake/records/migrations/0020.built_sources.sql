-- depends: 0019.items
-- Sources that are files, and those that a generator builds pages of.

ALTER TABLE source_text
ADD file text NOT NULL DEFAULT '',
ADD is_built boolean NOT NULL DEFAULT FALSE;
COMMENT ON COLUMN source_text.file IS
'Its name in the folder or repository that it is kept in, where it is a file.';
COMMENT ON COLUMN source_text.is_built IS
'Whether a generator builds the page of it, which shows a change only later.';
