DROP FUNCTION wants_second_factor(bigint, text[]);
ALTER TABLE site DROP COLUMN second_factor_roles;
ALTER TABLE person DROP COLUMN subject;
DROP TABLE password_reset;
DROP TABLE challenge;
DROP TABLE passkey;
DROP TABLE recovery_code;
DROP TABLE authenticator;
DROP TABLE known_browser;
DROP INDEX sign_in_attempt_address;
ALTER TABLE sign_in_attempt DROP COLUMN from_address, DROP COLUMN browser_hash;
ALTER TABLE token ADD COLUMN site_id bigint REFERENCES site ON DELETE CASCADE;
DELETE FROM token
WHERE site_ids IS NOT NULL AND NOT ('gate' = any(scopes) AND cardinality(site_ids) = 1);
DELETE FROM token
WHERE
    site_ids IS NOT NULL AND NOT EXISTS (
        SELECT 1 FROM site s
        WHERE s.id = token.site_ids[1]
    );
UPDATE token SET site_id = site_ids[1]
WHERE site_ids IS NOT NULL;
ALTER TABLE token
DROP COLUMN expires_at,
DROP COLUMN site_ids,
DROP COLUMN ends_with_password,
DROP COLUMN second_factor;
DROP INDEX session_person;
ALTER TABLE session
DROP COLUMN id,
DROP COLUMN last_used_at,
DROP COLUMN confirmed_at,
DROP COLUMN second_factor,
DROP COLUMN from_address,
DROP COLUMN browser;
