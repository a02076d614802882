DROP FUNCTION sites_of(bigint);
DROP FUNCTION role_in(bigint, bigint);
DELETE FROM invitation
WHERE site_id IS NOT NULL;
ALTER TABLE invitation DROP COLUMN site_id;
DROP TABLE membership;
UPDATE person SET role = 'reader', active = FALSE
WHERE role IS NULL;
ALTER TABLE person ALTER COLUMN role SET NOT NULL;
