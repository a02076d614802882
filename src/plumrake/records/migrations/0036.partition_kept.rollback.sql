CREATE OR REPLACE FUNCTION drop_partition(old bigint, days integer, kept_sweeps integer)
RETURNS integer
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

CREATE OR REPLACE FUNCTION partition_there() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    WHILE new.id >= (SELECT max(b.before_sweep) FROM sweep_partition b) LOOP
        PERFORM make_partition();
    END LOOP;
    RETURN new;
END
$$;

CREATE OR REPLACE FUNCTION make_partition() RETURNS void
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
