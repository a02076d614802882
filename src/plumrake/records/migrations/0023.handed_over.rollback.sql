DROP TABLE handed_over;
