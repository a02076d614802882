ALTER TABLE reading DROP kind;
