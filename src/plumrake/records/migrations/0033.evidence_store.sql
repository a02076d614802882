-- depends: 0032.partitions
-- Contents of evidence may be carried into a store beside the database; what is known of them stays
-- here. The version before keeps contents as it did, and none is carried until a worker of this
-- version is told of a store.

ALTER TABLE evidence ALTER COLUMN content DROP NOT NULL;
COMMENT ON COLUMN evidence.content IS 'Null: it was carried into the store, under its hash.';
CREATE INDEX evidence_here ON evidence (created_at) WHERE content IS NOT NULL;
CREATE INDEX evidence_carried ON evidence (hash) WHERE content IS NULL;

CREATE TABLE evidence_dropped (
    hash text PRIMARY KEY,
    dropped_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE evidence_dropped IS
'Contents that the store still has and nothing here shows any more; they are kept there for a '
'while, for whoever brings an older copy of the database back.';

CREATE FUNCTION drop_from_store() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO evidence_dropped (hash) VALUES (old.hash) ON CONFLICT DO NOTHING;
    RETURN NULL;
END
$$;
CREATE TRIGGER dropped AFTER DELETE ON evidence
FOR EACH ROW WHEN (old.content IS NULL) EXECUTE FUNCTION drop_from_store();

CREATE TABLE sweep_to_picture (
    sweep_id bigint PRIMARY KEY REFERENCES sweep ON DELETE CASCADE
);
COMMENT ON TABLE sweep_to_picture IS
'Sweeps of which causes still want pictures that are cut out of contents in the store.';
ALTER TABLE sweep_to_picture ENABLE ROW LEVEL SECURITY;
CREATE POLICY seen ON sweep_to_picture
USING ((SELECT sees_all()) OR EXISTS (
    SELECT 1 FROM sweep up
    WHERE up.id = sweep_to_picture.sweep_id
));
