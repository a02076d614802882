DROP TRIGGER findings_gone ON finding;
DROP TRIGGER readings_gone ON reading;
DROP TRIGGER partition_there ON sweep;
DROP FUNCTION findings_gone();
DROP FUNCTION readings_gone();
DROP FUNCTION partition_there();
DROP FUNCTION drop_partition(bigint, integer, integer);
DROP FUNCTION forgettable(integer, integer);
DROP FUNCTION make_partition();
DROP FUNCTION know_sweep(bigint);
DROP VIEW sweep_partition;
DO $$
DECLARE
    name text;
    said text;
    indexes text[];
    keys text[];
    columns text;
    made text;
    findings text := pg_get_viewdef('finding_row'::regclass);
    fixes text := pg_get_viewdef('fix_row'::regclass);
BEGIN
    DROP VIEW finding_row, fix_row;
    FOREACH name IN ARRAY ARRAY['reading', 'finding', 'sweep_page', 'sweep_event'] LOOP
        indexes := ARRAY(SELECT replace(replace(i.indexdef, ' ON ONLY ', ' ON '),
                '(reading_id, sweep_id)', '(reading_id)') FROM pg_indexes i
            WHERE i.schemaname = 'public' AND i.tablename = name
            AND i.indexname <> name || '_of_id' ORDER BY i.indexname);
        keys := ARRAY(
            SELECT format('ALTER TABLE %I ADD CONSTRAINT %I %s', name, k.conname,
                pg_get_constraintdef(k.oid))
            FROM pg_constraint k
            WHERE k.conrelid = name::regclass AND k.contype IN ('f', 'c') ORDER BY k.conname);
        said := obj_description(name::regclass);
        SELECT string_agg(quote_ident(a.attname), ', ') INTO columns FROM pg_attribute a
        WHERE a.attrelid = name::regclass AND a.attnum > 0
            AND NOT a.attisdropped AND a.attgenerated = '';
        EXECUTE format('ALTER TABLE %I RENAME TO %I', name, name || '_cut');
        EXECUTE format('CREATE TABLE %I (LIKE %I INCLUDING DEFAULTS INCLUDING GENERATED '
            'INCLUDING COMMENTS INCLUDING IDENTITY)', name, name || '_cut');
        EXECUTE format('INSERT INTO %1$I (%2$s) OVERRIDING SYSTEM VALUE SELECT %2$s FROM %3$I',
            name, columns, name || '_cut');
        EXECUTE format('DROP TABLE %I CASCADE', name || '_cut');
        EXECUTE format('COMMENT ON TABLE %I IS %L', name, said);
        IF columns LIKE 'id, %' THEN
            EXECUTE format('ALTER TABLE %I ADD PRIMARY KEY (id)', name);
            EXECUTE format('SELECT setval(pg_get_serial_sequence(%L, ''id''), '
                '(SELECT coalesce(max(id), 0) + 1 FROM %I), FALSE)', name, name);
        END IF;
        FOREACH made IN ARRAY indexes || keys LOOP
            EXECUTE made;
        END LOOP;
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY seen ON %1$I USING ((SELECT sees_all()) OR '
            'EXISTS (SELECT 1 FROM sweep up WHERE up.id = %1$I.sweep_id))', name);
    END LOOP;
    EXECUTE 'CREATE VIEW finding_row WITH (security_invoker = TRUE) AS ' || findings;
    EXECUTE 'CREATE VIEW fix_row WITH (security_invoker = TRUE) AS ' || fixes;
END
$$;
ALTER TABLE cause ADD FOREIGN KEY (best) REFERENCES finding ON DELETE CASCADE;
ALTER TABLE cause_picture ADD FOREIGN KEY (finding_id) REFERENCES finding ON DELETE CASCADE;
ALTER TABLE correction ADD FOREIGN KEY (finding_id) REFERENCES finding ON DELETE SET NULL;
ALTER TABLE description ADD FOREIGN KEY (finding_id) REFERENCES finding ON DELETE SET NULL;
ALTER TABLE fix ADD FOREIGN KEY (finding_id) REFERENCES finding ON DELETE SET NULL;
ALTER TABLE library_text ADD FOREIGN KEY (finding_id) REFERENCES finding ON DELETE SET NULL;
ALTER TABLE picture_text ADD FOREIGN KEY (finding_id) REFERENCES finding ON DELETE CASCADE;
ALTER TABLE finding ADD FOREIGN KEY (reading_id) REFERENCES reading ON DELETE CASCADE;
ALTER TABLE page_picture ADD FOREIGN KEY (reading_id) REFERENCES reading ON DELETE CASCADE;
CREATE POLICY seen ON page_picture USING ((SELECT sees_all()) OR EXISTS (
    SELECT 1 FROM reading up
    WHERE up.id = page_picture.reading_id
));
CREATE POLICY seen ON picture_text USING ((SELECT sees_all()) OR EXISTS (
    SELECT 1 FROM finding up
    WHERE up.id = picture_text.finding_id
));
DROP SCHEMA partitions;
ALTER TABLE sweep DROP COLUMN forgotten_at;
