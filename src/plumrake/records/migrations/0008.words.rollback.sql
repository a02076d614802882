ALTER TABLE site DROP words_dropped;
DROP TABLE site_word;
