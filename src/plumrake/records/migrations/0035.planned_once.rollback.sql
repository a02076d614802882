DO $$
DECLARE
    name text;
BEGIN
    FOREACH name IN ARRAY ARRAY[
        'cause', 'cause_picture', 'finding', 'handed_over', 'reading', 'sweep_event', 'sweep_page',
        'sweep_to_picture'
    ] LOOP
        EXECUTE format(
            'ALTER POLICY seen ON %1$I USING ((SELECT sees_all()) OR '
            'EXISTS (SELECT 1 FROM sweep up WHERE up.id = %1$I.sweep_id))',
            name
        );
    END LOOP;
END
$$;
DROP FUNCTION sweeps_seen();
CREATE OR REPLACE FUNCTION fixes_seen() RETURNS SETOF bigint
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
WITH own AS MATERIALIZED (SELECT * FROM areas_seen()),

near AS MATERIALIZED (SELECT pages_seen() AS page_id)

SELECT x.id FROM fix x JOIN own o ON o.site_id = x.site_id
WHERE
    o.areas IS NULL
    OR x.owner_id = person_served()
    OR x.made_by = person_served()
    OR x.group_id IN (
        SELECT g.group_id FROM people_group_member g
        WHERE g.person_id = person_served()
    )
    OR x.page_id IN (SELECT n.page_id FROM near n)
UNION
SELECT l.fix_id FROM near n JOIN fix_place l ON l.page_id = n.page_id
$$;
CREATE OR REPLACE FUNCTION pages_seen() RETURNS SETOF bigint
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
WITH own AS MATERIALIZED (SELECT * FROM areas_seen())

SELECT g.id
FROM own o JOIN page g ON g.site_id = o.site_id
WHERE o.areas IS NULL OR g.path LIKE ANY (o.areas)
$$;
CREATE OR REPLACE FUNCTION areas_seen() RETURNS TABLE (site_id bigint, areas text[])
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp ROWS 10 AS $$
SELECT
    s.id,
    areas_in(person_served(), s.id)
FROM sites_of(person_served()) AS s (id)
$$;
CREATE OR REPLACE FUNCTION is_confined() RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT
    current_setting('plumrake.areas', TRUE) IS DISTINCT FROM 'looked at'
    AND EXISTS (
        SELECT 1 FROM membership m
        WHERE m.person_id = person_served() AND areas_in(m.person_id, m.site_id) IS NOT NULL
    )
$$;
CREATE OR REPLACE FUNCTION sites_seen() RETURNS SETOF bigint
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT sites_of(person_served())
$$;
CREATE OR REPLACE FUNCTION sees_all() RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT EXISTS (SELECT 1 FROM person p WHERE p.id = person_served() AND p.role IS NOT NULL)
$$;
CREATE OR REPLACE FUNCTION sites_of(asked_person bigint) RETURNS SETOF bigint
LANGUAGE sql STABLE AS $$
SELECT s.id FROM site s WHERE role_in(asked_person, s.id) IS NOT NULL
$$;
CREATE OR REPLACE FUNCTION areas_in(asked_person bigint, asked_site bigint) RETURNS text[]
LANGUAGE sql STABLE AS $$
SELECT m.areas_like
FROM membership m JOIN person p ON p.id = m.person_id
WHERE m.person_id = asked_person AND m.site_id = asked_site AND p.role IS DISTINCT FROM 'manager'
$$;
COMMENT ON FUNCTION areas_in(bigint, bigint) IS
'The areas of a site that a person is there for, as LIKE has them; null: the whole site, where it '
'is there for them at all. The one rule, beside role_in.';
CREATE OR REPLACE FUNCTION role_in(asked_person bigint, asked_site bigint) RETURNS text
LANGUAGE sql STABLE AS $$
SELECT CASE WHEN p.role = 'manager' THEN p.role ELSE coalesce(m.role, p.role) END
FROM person p LEFT JOIN membership m ON m.person_id = p.id AND m.site_id = asked_site
WHERE p.id = asked_person
$$;
COMMENT ON FUNCTION role_in(bigint, bigint) IS
'The role of a person in a site; null: the site is not there for them. The one rule of who may '
'know what.';
DROP FUNCTION roles_of(bigint);
DROP FUNCTION areas_by(text, text[]);
DROP FUNCTION role_by(text, text);
