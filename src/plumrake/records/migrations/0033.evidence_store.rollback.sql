DROP TABLE sweep_to_picture;
DROP TRIGGER dropped ON evidence;
DROP FUNCTION drop_from_store();
DROP TABLE evidence_dropped;
DROP INDEX evidence_carried;
DROP INDEX evidence_here;
COMMENT ON COLUMN evidence.content IS NULL;
ALTER TABLE evidence ALTER COLUMN content SET NOT NULL;
