ALTER TABLE sweep DROP counted;
DROP TABLE start_key, saved_filter;
ALTER TABLE reading DROP ways;
DROP TABLE ways;
