-- depends: 0016.pages_left_out
-- Fixes stand in the order that findings and causes stand in.

UPDATE fix SET rank = weight_rank(weight, 'failed');
COMMENT ON COLUMN fix.rank IS 'What stands first, by weight_rank.';
