-- The roles of the database, made once by a superuser (su postgres -c "psql -f deploy/roles.sql"), then given passwords of
-- your own: \password plumrake, and so on. 'plumrake migrate', run as the first, gives the others what they may.
CREATE ROLE plumrake LOGIN CREATEDB;             -- owns the tables: plumrake migrate, restore, check, person forget
CREATE ROLE plumrake_serving LOGIN;              -- plumrake serve: meets the walls between sites, changes no shape, only adds to the log
CREATE ROLE plumrake_working LOGIN BYPASSRLS;    -- plumrake worker: every site, but nothing that people sign in with
CREATE ROLE plumrake_copying LOGIN BYPASSRLS IN ROLE pg_read_all_data;  -- plumrake backup: reads everything, writes nothing
CREATE DATABASE plumrake OWNER plumrake;
