-- name: make
-- The roles that are not the owner, where they are missing; a superuser makes them. Who works reads
-- every site, and a copy is of everything: they pass the walls.
DO $$
BEGIN
    IF NOT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = 'plumrake_serving') THEN
        CREATE ROLE plumrake_serving LOGIN;
    END IF;
    IF NOT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = 'plumrake_working') THEN
        CREATE ROLE plumrake_working LOGIN BYPASSRLS;
    END IF;
    IF NOT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = 'plumrake_copying') THEN
        CREATE ROLE plumrake_copying LOGIN BYPASSRLS CREATEDB IN ROLE pg_read_all_data;
    END IF;
END
$$;

-- name: there
-- Those of some roles of the database that are there.
SELECT rolname FROM pg_roles
WHERE rolname = any(%(names)s);

-- name: plumrake_serving
-- What the role of the service may: all rows that the walls show it; the log it only adds to.
GRANT USAGE ON SCHEMA public TO plumrake_serving;
GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO plumrake_serving;
GRANT USAGE ON ALL SEQUENCES IN SCHEMA public TO plumrake_serving;
REVOKE UPDATE, DELETE ON log_entry FROM plumrake_serving;
REVOKE INSERT, UPDATE, DELETE ON log_start, fix_state, standing_rule FROM plumrake_serving;
REVOKE INSERT, UPDATE, DELETE ON _yoyo_migration, _yoyo_log FROM plumrake_serving;

-- name: plumrake_working
-- What the role of workers may: everything but what people sign in with.
GRANT USAGE ON SCHEMA public TO plumrake_working;
GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO plumrake_working;
GRANT USAGE ON ALL SEQUENCES IN SCHEMA public TO plumrake_working;
REVOKE ALL ON
session,
token,
authenticator,
passkey,
recovery_code,
challenge,
known_browser,
sign_in_attempt,
start_key,
invitation
FROM plumrake_working;
REVOKE INSERT, DELETE ON password_reset FROM plumrake_working;
REVOKE INSERT, UPDATE, DELETE ON person, membership, fix_state, standing_rule FROM plumrake_working;
GRANT UPDATE (digested_at) ON person TO plumrake_working;
GRANT EXECUTE ON FUNCTION make_partition() TO plumrake_working;
GRANT EXECUTE ON FUNCTION know_sweep(bigint) TO plumrake_working;
GRANT EXECUTE ON FUNCTION drop_partition(bigint, integer, integer) TO plumrake_working;
REVOKE INSERT, UPDATE, DELETE ON _yoyo_migration, _yoyo_log FROM plumrake_working;
