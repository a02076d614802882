DROP TABLE library_text;
