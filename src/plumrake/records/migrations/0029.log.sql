-- depends: 0028.signing_in
-- What was done: who came in, who changed what, from where. Entries are only added; each is sealed
-- with the one before it, so that a gap or a change shows.

CREATE TABLE log_entry (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    kind text NOT NULL,
    about text NOT NULL DEFAULT '',
    about_id bigint,
    site_id bigint,
    by_id bigint,
    from_address text NOT NULL DEFAULT '',
    before jsonb,
    after jsonb,
    place bigint UNIQUE,
    seal bytea
);
COMMENT ON TABLE log_entry IS
'What was done, by whom, from where, with what it was before. Only added to; sealed in a chain. '
'People stand in it by number, so that one who is deleted is unnamed.';
CREATE INDEX log_entry_site ON log_entry (site_id, id DESC);
CREATE INDEX log_entry_unsealed ON log_entry (id) WHERE seal IS NULL;

CREATE TABLE log_start (
    only_one boolean PRIMARY KEY DEFAULT TRUE CHECK (only_one),
    place bigint NOT NULL DEFAULT 0,
    seal bytea NOT NULL DEFAULT ''
);
COMMENT ON TABLE log_start IS
'The last entry of the log that was forgotten for its age: what the first kept one hangs on.';
INSERT INTO log_start DEFAULT VALUES;

CREATE FUNCTION log_seal(seal_before bytea, entry log_entry) RETURNS bytea
LANGUAGE sql STABLE AS $$
SELECT sha256(
    seal_before || convert_to(
        jsonb_build_array(
            entry.place,
            entry.id,
            (extract(EPOCH FROM entry.at) * 1000000)::bigint,
            entry.kind,
            entry.about,
            entry.about_id,
            entry.site_id,
            entry.by_id,
            entry.from_address,
            entry.before,
            entry.after
        )::text,
        'UTF8'
    )
)
$$;
COMMENT ON FUNCTION log_seal(bytea, log_entry) IS
'The seal of an entry: SHA-256 of the seal before it and of all that it says.';

CREATE FUNCTION seal_log() RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
    entry log_entry;
    last_place bigint;
    last_seal bytea;
    sealed bigint := 0;
BEGIN
    IF NOT EXISTS (SELECT 1 FROM log_entry WHERE seal IS NULL) THEN
        RETURN 0;
    END IF;
    PERFORM pg_advisory_xact_lock(hashtextextended('log', 0));
    SELECT e.place, e.seal INTO last_place, last_seal
    FROM log_entry e WHERE e.place IS NOT NULL ORDER BY e.place DESC LIMIT 1;
    IF last_place IS NULL THEN
        SELECT s.place, s.seal INTO last_place, last_seal FROM log_start s;
    END IF;
    FOR entry IN SELECT * FROM log_entry e WHERE e.seal IS NULL ORDER BY e.id LIMIT 5000 LOOP
        last_place := last_place + 1;
        entry.place := last_place;
        last_seal := log_seal(last_seal, entry);
        UPDATE log_entry SET place = last_place, seal = last_seal WHERE id = entry.id;
        sealed := sealed + 1;
    END LOOP;
    RETURN sealed;
END
$$;
COMMENT ON FUNCTION seal_log() IS
'Seals the entries that are not yet, in their order; returns how many. Apart from the writing, so '
'that nobody who writes waits for another.';

CREATE FUNCTION guard_log() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'UPDATE' AND OLD.seal IS NULL
        AND (to_jsonb(OLD) - 'place' - 'seal') = (to_jsonb(NEW) - 'place' - 'seal')
    THEN
        RETURN NEW;
    END IF;
    IF TG_OP = 'DELETE' AND current_setting('plumrake.forgetting', TRUE) = 'log' THEN
        RETURN OLD;
    END IF;
    RAISE EXCEPTION 'the log is only added to';
END
$$;
CREATE TRIGGER log_is_only_added_to BEFORE UPDATE OR DELETE ON log_entry
FOR EACH ROW EXECUTE FUNCTION guard_log();

CREATE FUNCTION forget_log(older_than_days integer) RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
    last_entry log_entry;
    gone bigint;
BEGIN
    SELECT * INTO last_entry FROM log_entry
    WHERE place IS NOT NULL AND at < now() - make_interval(days => older_than_days)
    ORDER BY place DESC LIMIT 1;
    IF last_entry.place IS NULL THEN
        RETURN 0;
    END IF;
    PERFORM set_config('plumrake.forgetting', 'log', TRUE);
    DELETE FROM log_entry WHERE place <= last_entry.place;
    GET DIAGNOSTICS gone = ROW_COUNT;
    PERFORM set_config('plumrake.forgetting', '', TRUE);
    UPDATE log_start SET place = last_entry.place, seal = last_entry.seal;
    RETURN gone;
END
$$;
COMMENT ON FUNCTION forget_log(integer) IS
'Forgets the entries that are older than some days, and keeps what the next one hangs on.';

CREATE FUNCTION note_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    was jsonb := CASE WHEN TG_OP <> 'INSERT' THEN to_jsonb(OLD) END;
    is_now jsonb := CASE WHEN TG_OP <> 'DELETE' THEN to_jsonb(NEW) END;
    told jsonb := coalesce(is_now, was);
    deed text := CASE TG_OP WHEN 'INSERT' THEN 'added' WHEN 'UPDATE' THEN 'changed' ELSE 'gone' END;
    old_shown jsonb := '{}';
    new_shown jsonb := '{}';
    field text;
BEGIN
    IF TG_OP = 'DELETE' AND pg_trigger_depth() > 1 THEN
        RETURN NULL;
    END IF;
    FOREACH field IN ARRAY string_to_array(TG_ARGV[2], ',') LOOP
        IF TG_OP = 'UPDATE' AND was -> field IS NOT DISTINCT FROM is_now -> field THEN
            CONTINUE;
        END IF;
        old_shown := old_shown || jsonb_build_object(field, was -> field);
        new_shown := new_shown || jsonb_build_object(field, is_now -> field);
    END LOOP;
    IF TG_OP = 'UPDATE' THEN
        FOREACH field IN ARRAY string_to_array(TG_ARGV[3], ',') LOOP
            IF was -> field IS DISTINCT FROM is_now -> field THEN
                new_shown := new_shown || jsonb_build_object(field, 'changed');
            END IF;
        END LOOP;
        IF new_shown = '{}' THEN
            RETURN NULL;
        END IF;
    END IF;
    INSERT INTO log_entry (kind, about, about_id, site_id, by_id, from_address, before, after)
    VALUES (
        TG_ARGV[0] || '.' || deed,
        coalesce(told ->> TG_ARGV[1], ''),
        coalesce(told ->> 'person_id', told ->> 'id')::bigint,
        CASE WHEN TG_TABLE_NAME = 'site' THEN told ->> 'id' ELSE told ->> 'site_id' END::bigint,
        coalesce(
            nullif(current_setting('plumrake.person', TRUE), ''),
            told ->> TG_ARGV[4]
        )::bigint,
        coalesce(current_setting('plumrake.from', TRUE), ''),
        CASE WHEN TG_OP <> 'INSERT' AND old_shown <> '{}' THEN old_shown END,
        CASE WHEN TG_OP <> 'DELETE' THEN new_shown END
    );
    RETURN NULL;
END
$$;
COMMENT ON FUNCTION note_change() IS
'Notes a change of a row in the log. Arguments: the kind, the column that names it, those that are '
'shown, those of which only is said that they changed, and who did it where no request says so.';

CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON person
FOR EACH ROW EXECUTE FUNCTION note_change(
    'person', '', 'role,active', 'password_hash,name,email,subject', ''
);
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON membership
FOR EACH ROW EXECUTE FUNCTION note_change('member', '', 'role', '', '');
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON invitation
FOR EACH ROW EXECUTE FUNCTION note_change('invitation', '', 'role,accepted_at', '', '');
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON token
FOR EACH ROW EXECUTE FUNCTION note_change(
    'token', 'name', 'scopes,site_ids,expires_at,revoked_at', '', ''
);
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON authenticator
FOR EACH ROW EXECUTE FUNCTION note_change('authenticator', '', 'is_on', 'secret', '');
CREATE TRIGGER noted AFTER INSERT OR DELETE ON passkey
FOR EACH ROW EXECUTE FUNCTION note_change('passkey', 'name', '', '', '');
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON people_group
FOR EACH ROW EXECUTE FUNCTION note_change('group', 'name', 'name', '', '');
CREATE TRIGGER noted AFTER INSERT OR DELETE ON people_group_member
FOR EACH ROW EXECUTE FUNCTION note_change('group-member', '', 'group_id', '', '');
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON responsibility
FOR EACH ROW EXECUTE FUNCTION note_change(
    'responsibility', 'path_pattern', 'owner_id,group_id', '', ''
);
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON site
FOR EACH ROW EXECUTE FUNCTION note_change(
    'site',
    'slug',
    'name,live_address,staging_address,found_by,private_leave,policy,most_pages,crawl_depth,'
    'parallel,pause_ms,schedule,schedule_environment,second_factor_roles',
    'listed_paths,journeys,archive',
    ''
);
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON webhook
FOR EACH ROW EXECUTE FUNCTION note_change(
    'webhook', 'address', 'kinds,ended_at', 'secret', 'made_by'
);
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON connection
FOR EACH ROW EXECUTE FUNCTION note_change(
    'connection', 'environment', 'kind,settings', 'secret', 'made_by'
);
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON waiver
FOR EACH ROW EXECUTE FUNCTION note_change(
    'waiver', 'check_id', 'scope,pattern,reason,ends_on,ended_at', '', 'granted_by'
);
CREATE TRIGGER noted AFTER UPDATE OF overruled_by ON clearance
FOR EACH ROW EXECUTE FUNCTION note_change(
    'clearance', 'path', 'decision,overruled_at,overruled_why', '', 'overruled_by'
);
CREATE TRIGGER noted AFTER UPDATE OF state ON writing
FOR EACH ROW EXECUTE FUNCTION note_change(
    'correction', 'environment', 'state,takes_back', '', 'by_id'
);
CREATE TRIGGER noted AFTER UPDATE OF published_by ON statement
FOR EACH ROW EXECUTE FUNCTION note_change(
    'statement', 'language', 'published_at', '', 'published_by'
);
