ALTER TABLE source_text
DROP is_built,
DROP file;
