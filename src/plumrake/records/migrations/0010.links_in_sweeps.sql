-- depends: 0009.links

ALTER TABLE reading ADD links text;
COMMENT ON COLUMN reading.links IS 'Digest of what the links of the page lead to, where they were followed: a page is unchanged only if that is.';
