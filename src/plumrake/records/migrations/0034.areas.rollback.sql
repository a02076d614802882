DO $$
DECLARE
    wall record;
BEGIN
    FOR wall IN SELECT tablename FROM pg_policies WHERE policyname = 'areas' LOOP
        EXECUTE format('DROP POLICY areas ON %I', wall.tablename);
    END LOOP;
END
$$;
DROP FUNCTION cause_is_within(bigint, text);
DROP FUNCTION fixes_seen();
DROP FUNCTION pages_seen();
DROP FUNCTION areas_seen();
DROP FUNCTION path_seen(bigint, text);
DROP FUNCTION is_confined();
DROP FUNCTION areas_in(bigint, bigint);
CREATE OR REPLACE FUNCTION join_as_invited(asked_invitation bigint, new_person bigint) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
INSERT INTO membership (person_id, site_id, role)
SELECT
    p.id,
    i.site_id,
    i.role
FROM invitation i JOIN person p ON lower(p.email) = lower(i.email)
WHERE
    i.id = asked_invitation
    AND p.id = new_person
    AND i.site_id IS NOT NULL
    AND i.accepted_at IS NULL
    AND i.expires_at > now()
$$;
DROP TRIGGER noted ON membership;
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON membership
FOR EACH ROW EXECUTE FUNCTION note_change('member', '', 'role', '', '');
DELETE FROM invitation
WHERE areas IS NOT NULL;
ALTER TABLE invitation DROP COLUMN areas, DROP COLUMN areas_like;
DELETE FROM membership
WHERE areas IS NOT NULL;
ALTER TABLE membership DROP COLUMN areas, DROP COLUMN areas_like;
