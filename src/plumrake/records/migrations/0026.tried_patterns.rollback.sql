DROP TABLE tried_pattern;
