COMMENT ON COLUMN fix.rank IS NULL;
UPDATE fix SET rank = array_position(ARRAY['barrier', 'obstacle', 'friction'], weight);
