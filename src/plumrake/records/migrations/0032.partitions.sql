-- depends: 0031.walls
-- What sweeps keep by the million stands in partitions by the sweep's number, of about a week's
-- sweeps each, so that old ones go at once, and new ones do not get slower for them. What was there
-- is the first partition as it stands: nothing is copied.

CREATE SCHEMA partitions;
COMMENT ON SCHEMA partitions IS
'The partitions of readings, findings, planned pages and events. They are met through their tables '
'in the schema public alone, where the walls between sites stand.';

ALTER TABLE sweep ADD forgotten_at timestamptz;
COMMENT ON COLUMN sweep.forgotten_at IS
'When what the sweep read and found was forgotten for its age; its counts are kept.';

-- What points to findings and readings is let go by triggers from now on.
ALTER TABLE cause DROP CONSTRAINT cause_best_fkey;
ALTER TABLE cause_picture DROP CONSTRAINT cause_picture_finding_id_fkey;
ALTER TABLE correction DROP CONSTRAINT correction_finding_id_fkey;
ALTER TABLE description DROP CONSTRAINT description_finding_id_fkey;
ALTER TABLE fix DROP CONSTRAINT fix_finding_id_fkey;
ALTER TABLE library_text DROP CONSTRAINT library_text_finding_id_fkey;
ALTER TABLE picture_text DROP CONSTRAINT picture_text_finding_id_fkey;
ALTER TABLE finding DROP CONSTRAINT finding_reading_id_fkey;
ALTER TABLE page_picture DROP CONSTRAINT page_picture_reading_id_fkey;

CREATE FUNCTION cut_into_partitions(before_sweep bigint) RETURNS void
LANGUAGE plpgsql SET search_path = public, pg_temp AS $$
DECLARE
    name text;
    said text;
    last_id bigint;
    index_made text;
    indexes text[];
    keys text[];
    has_id boolean;
BEGIN
    FOREACH name IN ARRAY ARRAY['reading', 'finding', 'sweep_page', 'sweep_event'] LOOP
        indexes := ARRAY(SELECT i.indexdef FROM pg_indexes i
            WHERE i.schemaname = 'public' AND i.tablename = name ORDER BY i.indexname);
        keys := ARRAY(
            SELECT format('ALTER TABLE %I ADD CONSTRAINT %I %s', name, k.conname,
                pg_get_constraintdef(k.oid))
            FROM pg_constraint k
            WHERE k.conrelid = name::regclass AND k.contype IN ('f', 'c') ORDER BY k.conname);
        said := obj_description(name::regclass);
        has_id := EXISTS (SELECT FROM pg_attribute a
            WHERE a.attrelid = name::regclass AND a.attname = 'id');
        IF has_id THEN
            EXECUTE format('SELECT coalesce(max(id), 0) FROM %I', name) INTO last_id;
            last_id := greatest(last_id, coalesce(
                pg_sequence_last_value(pg_get_serial_sequence(name, 'id')), 0));
            EXECUTE format('ALTER TABLE %I ALTER id DROP IDENTITY', name);
        END IF;
        EXECUTE format('DROP POLICY seen ON %I', name);
        EXECUTE format('ALTER TABLE %I DISABLE ROW LEVEL SECURITY', name);
        EXECUTE format('ALTER TABLE %I RENAME TO %I', name, name || '_0');
        EXECUTE format('ALTER TABLE %I SET SCHEMA partitions', name || '_0');
        IF has_id THEN
            EXECUTE format('ALTER TABLE partitions.%I DROP CONSTRAINT %I', name || '_0',
                name || '_pkey');
        END IF;
        EXECUTE format('CREATE TABLE %I (LIKE partitions.%I INCLUDING DEFAULTS INCLUDING GENERATED '
            'INCLUDING COMMENTS) PARTITION BY RANGE (sweep_id)', name, name || '_0');
        EXECUTE format('COMMENT ON TABLE %I IS %L', name, said);
        IF has_id THEN
            EXECUTE format('ALTER TABLE %I ALTER id ADD GENERATED ALWAYS AS IDENTITY '
                '(START WITH %s)', name, last_id + 1);
            EXECUTE format('CREATE INDEX %I ON %I (id, sweep_id)', name || '_of_id', name);
        END IF;
        FOREACH index_made IN ARRAY indexes LOOP
            CONTINUE WHEN has_id AND index_made LIKE '%INDEX ' || name || '_pkey ON %';
            EXECUTE replace(index_made, '(reading_id)', '(reading_id, sweep_id)');
        END LOOP;
        FOREACH index_made IN ARRAY keys LOOP
            EXECUTE index_made;
        END LOOP;
        EXECUTE format('ALTER TABLE %I ATTACH PARTITION partitions.%I FOR VALUES FROM (0) TO (%s)',
            name, name || '_0', before_sweep);
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY seen ON %1$I USING ((SELECT sees_all()) OR '
            'EXISTS (SELECT 1 FROM sweep up WHERE up.id = %1$I.sweep_id))', name);
    END LOOP;
END
$$;

DO $$
DECLARE
    findings text := replace(
        pg_get_viewdef('finding_row'::regclass),
        '(r.id = f.reading_id)', '(r.id = f.reading_id AND r.sweep_id = f.sweep_id)');
    fixes text := pg_get_viewdef('fix_row'::regclass);
BEGIN
    DROP VIEW finding_row, fix_row;
    DROP POLICY seen ON page_picture;
    DROP POLICY seen ON picture_text;
    PERFORM cut_into_partitions((SELECT coalesce(max(w.id), 0) + 1 FROM sweep w));
    EXECUTE 'CREATE VIEW finding_row WITH (security_invoker = TRUE) AS ' || findings;
    EXECUTE 'CREATE VIEW fix_row WITH (security_invoker = TRUE) AS ' || fixes;
END
$$;
CREATE POLICY seen ON page_picture USING ((SELECT sees_all()) OR EXISTS (
    SELECT 1 FROM reading up
    WHERE up.id = page_picture.reading_id
));
CREATE POLICY seen ON picture_text USING ((SELECT sees_all()) OR EXISTS (
    SELECT 1 FROM finding up
    WHERE up.id = picture_text.finding_id
));
DROP FUNCTION cut_into_partitions(bigint);

CREATE VIEW sweep_partition WITH (security_invoker = TRUE) AS
SELECT
    c.first_sweep,
    substring(c.bound FROM 'TO \(''(\d+)''\)')::bigint AS before_sweep
FROM (
    SELECT
        substring(t.relname FROM '\d+$')::bigint AS first_sweep,
        pg_get_expr(t.relpartbound, t.oid) AS bound
    FROM pg_inherits i JOIN pg_class t ON t.oid = i.inhrelid
    WHERE i.inhparent = 'finding'::regclass
) c;
COMMENT ON VIEW sweep_partition IS
'The partitions that there are: each has the sweeps from its first one to the next partition''s.';

CREATE FUNCTION make_partition() RETURNS void
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    name text;
    first_sweep bigint;
    past bigint;
BEGIN
    PERFORM pg_advisory_xact_lock(hashtext('sweep_partition'));
    SELECT max(b.before_sweep) INTO STRICT first_sweep FROM sweep_partition b;
    SELECT first_sweep + greatest(50, count(*)) INTO STRICT past FROM sweep w
    WHERE w.created_at > now() - interval '7 days';
    FOREACH name IN ARRAY ARRAY['reading', 'finding', 'sweep_page', 'sweep_event'] LOOP
        EXECUTE format('CREATE TABLE partitions.%I (LIKE %I INCLUDING DEFAULTS INCLUDING GENERATED '
            'INCLUDING CONSTRAINTS)', name || '_' || first_sweep, name);
        EXECUTE format('ALTER TABLE %I ATTACH PARTITION partitions.%I FOR VALUES FROM (%s) TO (%s)',
            name, name || '_' || first_sweep, first_sweep, past);
    END LOOP;
END
$$;
COMMENT ON FUNCTION make_partition() IS
'Makes the next partition, for as many sweeps as were begun in the last week.';
REVOKE EXECUTE ON FUNCTION make_partition() FROM public;

CREATE FUNCTION know_sweep(known_sweep bigint) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    part bigint;
BEGIN
    SELECT b.first_sweep INTO part FROM sweep_partition b
    WHERE b.first_sweep <= known_sweep AND b.before_sweep > known_sweep;
    IF part IS NOT NULL THEN
        EXECUTE format('ANALYZE partitions.%I, partitions.%I, partitions.%I',
            'reading_' || part, 'finding_' || part, 'sweep_page_' || part);
    END IF;
END
$$;
COMMENT ON FUNCTION know_sweep(bigint) IS
'Has PostgreSQL count how much a sweep has of its partition: one that it has not heard of it takes '
'for one without rows, and joins it so.';
REVOKE EXECUTE ON FUNCTION know_sweep(bigint) FROM public;

CREATE FUNCTION partition_there() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    WHILE new.id >= (SELECT max(b.before_sweep) FROM sweep_partition b) LOOP
        PERFORM make_partition();
    END LOOP;
    RETURN new;
END
$$;
COMMENT ON FUNCTION partition_there() IS
'A sweep has its partition, also where no worker has made it ahead.';
CREATE TRIGGER partition_there BEFORE INSERT ON sweep
FOR EACH ROW EXECUTE FUNCTION partition_there();

CREATE FUNCTION findings_gone() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    DELETE FROM cause c USING gone WHERE c.best = gone.id;
    DELETE FROM cause_picture c USING gone WHERE c.finding_id = gone.id;
    DELETE FROM picture_text t USING gone WHERE t.finding_id = gone.id;
    UPDATE correction x SET finding_id = NULL FROM gone WHERE x.finding_id = gone.id;
    UPDATE description x SET finding_id = NULL FROM gone WHERE x.finding_id = gone.id;
    UPDATE fix x SET finding_id = NULL FROM gone WHERE x.finding_id = gone.id;
    UPDATE library_text x SET finding_id = NULL FROM gone WHERE x.finding_id = gone.id;
    RETURN NULL;
END
$$;
COMMENT ON FUNCTION findings_gone() IS 'Nothing points to findings that are gone.';
CREATE TRIGGER findings_gone AFTER DELETE ON finding
REFERENCING OLD TABLE AS gone FOR EACH STATEMENT EXECUTE FUNCTION findings_gone();

CREATE FUNCTION readings_gone() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    DELETE FROM finding f USING gone WHERE f.sweep_id = gone.sweep_id AND f.reading_id = gone.id;
    DELETE FROM page_picture d USING gone WHERE d.reading_id = gone.id;
    RETURN NULL;
END
$$;
COMMENT ON FUNCTION readings_gone() IS 'Nothing is left of readings that are gone.';
CREATE TRIGGER readings_gone AFTER DELETE ON reading
REFERENCING OLD TABLE AS gone FOR EACH STATEMENT EXECUTE FUNCTION readings_gone();

CREATE FUNCTION forgettable(days integer, kept_sweeps integer) RETURNS SETOF bigint
LANGUAGE sql STABLE SET search_path = public, pg_temp AS $$
WITH whole AS (
    SELECT
        w.site_id,
        w.environment,
        w.id,
        row_number() OVER (PARTITION BY w.site_id, w.environment ORDER BY w.id DESC) AS age
    FROM sweep w
    WHERE w.state = 'done' AND is_whole(w.section, w.scope)
)

SELECT w.id
FROM sweep w
WHERE
    w.forgotten_at IS NULL
    AND w.state NOT IN ('queued', 'running')
    AND w.created_at < now() - make_interval(days => days)
    AND NOT EXISTS (
        SELECT FROM whole k
        WHERE
            k.site_id = w.site_id
            AND k.environment = w.environment
            AND (k.id = w.id AND k.age <= kept_sweeps OR k.age = 1 AND w.id > k.id)
    )
    AND NOT EXISTS (
        SELECT FROM fix x
        JOIN fix_state s ON s.name = x.state AND s.is_live
        JOIN finding f ON f.id = x.finding_id
        WHERE f.sweep_id = w.id
    )
$$;
COMMENT ON FUNCTION forgettable(integer, integer) IS
'The sweeps of which only the counts are kept from now on: older than so many days, not among the '
'newest of the whole site, nor since the newest, and with no finding that a fix is under way for.';

CREATE FUNCTION drop_partition(old bigint, days integer, kept_sweeps integer) RETURNS integer
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    name text;
    past bigint;
    held boolean;
    forgotten integer;
BEGIN
    SELECT b.before_sweep INTO past FROM sweep_partition b WHERE b.first_sweep = old;
    SELECT EXISTS (
        SELECT FROM sweep w
        WHERE
            w.id >= old AND w.id < past
            AND w.forgotten_at IS NULL
            AND w.id NOT IN (SELECT forgettable(days, kept_sweeps))
    ) OR past IS NULL OR past > (SELECT max(w.id) FROM sweep w) INTO held;
    IF held OR days < 1 OR kept_sweeps < 1 THEN
        RETURN NULL;
    END IF;
    DELETE FROM cause c WHERE c.sweep_id >= old AND c.sweep_id < past;
    EXECUTE format('DELETE FROM picture_text t WHERE EXISTS '
        '(SELECT FROM partitions.%I f WHERE f.id = t.finding_id)', 'finding_' || old);
    FOREACH name IN ARRAY ARRAY['correction', 'description', 'fix', 'library_text'] LOOP
        EXECUTE format('UPDATE %I x SET finding_id = NULL WHERE EXISTS '
            '(SELECT FROM partitions.%I f WHERE f.id = x.finding_id)', name, 'finding_' || old);
    END LOOP;
    EXECUTE format('DELETE FROM page_picture d WHERE EXISTS '
        '(SELECT FROM partitions.%I r WHERE r.id = d.reading_id)', 'reading_' || old);
    FOREACH name IN ARRAY ARRAY['reading', 'finding', 'sweep_page', 'sweep_event'] LOOP
        EXECUTE format('DROP TABLE partitions.%I', name || '_' || old);
    END LOOP;
    UPDATE sweep w SET base_id = NULL WHERE w.base_id >= old AND w.base_id < past;
    UPDATE sweep w SET forgotten_at = now()
    WHERE w.id >= old AND w.id < past AND w.forgotten_at IS NULL;
    GET DIAGNOSTICS forgotten = ROW_COUNT;
    RETURN forgotten;
END
$$;
COMMENT ON FUNCTION drop_partition(bigint, integer, integer) IS
'Forgets all sweeps of a partition at once, and says how many; nothing (null) where one is kept.';
REVOKE EXECUTE ON FUNCTION drop_partition(bigint, integer, integer) FROM public;

DO $$ BEGIN PERFORM make_partition(); END $$;
