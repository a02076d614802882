DROP VIEW correction_row;
DROP TABLE correction_event;
DROP TABLE correction;
DROP TABLE picture_text;
DROP TABLE description;
DROP TABLE writing;
DROP TABLE source_text;
DROP TABLE connection;
