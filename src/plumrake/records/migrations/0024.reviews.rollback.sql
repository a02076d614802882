DROP TABLE way_put_away;
DROP TABLE statement;
DROP TABLE review_hold;
DROP TABLE review_fault;
DROP TABLE review_answer;
DROP TABLE review_page;
ALTER TABLE sweep DROP COLUMN shown;
ALTER TABLE reading DROP COLUMN shown;
DROP TABLE page_evidence;
