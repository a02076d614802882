-- The roles of the database, made once by a superuser ('deploy/make-roles' does it, and gives each a password). 'plumrake migrate',
-- run as the first, gives the others what they may.
CREATE ROLE plumrake LOGIN;                      -- owns the tables: plumrake migrate, restore, check, person forget
CREATE ROLE plumrake_serving LOGIN;              -- plumrake serve: meets the walls between sites, changes no shape, only adds to the log
CREATE ROLE plumrake_working LOGIN BYPASSRLS;    -- plumrake worker: every site, but nothing that people sign in with
CREATE ROLE plumrake_copying LOGIN BYPASSRLS CREATEDB IN ROLE pg_read_all_data;  -- the nightly copy: reads all, writes its proof alone
CREATE DATABASE plumrake OWNER plumrake;
