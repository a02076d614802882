ALTER TABLE reading DROP links;
