-- depends: 0034.areas
-- What the walls ask for each row or for each query is planned once for a connection, and asks who
-- is where in one go for all sites. The answers are what they were.

CREATE FUNCTION role_by(own_role text, member_role text) RETURNS text
LANGUAGE sql IMMUTABLE AS $$
SELECT CASE WHEN own_role = 'manager' THEN own_role ELSE coalesce(member_role, own_role) END
$$;
COMMENT ON FUNCTION role_by(text, text) IS
'The role in a site by what somebody is everywhere and as a member of it. The one rule of who may '
'know what.';

CREATE FUNCTION areas_by(own_role text, member_areas text[]) RETURNS text[]
LANGUAGE sql IMMUTABLE AS $$
SELECT CASE WHEN own_role IS DISTINCT FROM 'manager' THEN member_areas END
$$;
COMMENT ON FUNCTION areas_by(text, text[]) IS
'The areas that somebody is there for in a site, by what they are everywhere and as a member of '
'it; null: all of it. The one rule, beside role_by.';

CREATE FUNCTION roles_of(asked_person bigint)
RETURNS TABLE (site_id bigint, role text, areas text[])
LANGUAGE sql STABLE AS $$
SELECT s.id, role_by(p.role, m.role), areas_by(p.role, m.areas_like)
FROM person p CROSS JOIN site s LEFT JOIN membership m ON m.person_id = p.id AND m.site_id = s.id
WHERE p.id = asked_person AND role_by(p.role, m.role) IS NOT NULL
$$;
COMMENT ON FUNCTION roles_of(bigint) IS
'The sites that are there for a person, each with their role and their areas as LIKE has them.';

CREATE OR REPLACE FUNCTION role_in(asked_person bigint, asked_site bigint) RETURNS text
LANGUAGE sql STABLE AS $$
SELECT role_by(p.role, m.role)
FROM person p LEFT JOIN membership m ON m.person_id = p.id AND m.site_id = asked_site
WHERE p.id = asked_person
$$;
COMMENT ON FUNCTION role_in(bigint, bigint) IS
'The role of a person in a site; null: the site is not there for them.';

CREATE OR REPLACE FUNCTION areas_in(asked_person bigint, asked_site bigint) RETURNS text[]
LANGUAGE sql STABLE AS $$
SELECT areas_by(p.role, m.areas_like)
FROM membership m JOIN person p ON p.id = m.person_id
WHERE m.person_id = asked_person AND m.site_id = asked_site
$$;
COMMENT ON FUNCTION areas_in(bigint, bigint) IS
'The areas of a site that a person is there for, as LIKE has them; null: the whole site, where it '
'is there for them at all.';

CREATE OR REPLACE FUNCTION sites_of(asked_person bigint) RETURNS SETOF bigint
LANGUAGE sql STABLE AS $$
SELECT r.site_id FROM roles_of(asked_person) AS r
$$;

CREATE OR REPLACE FUNCTION sees_all() RETURNS boolean
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    RETURN EXISTS (SELECT 1 FROM person p WHERE p.id = person_served() AND p.role IS NOT NULL);
END
$$;

CREATE OR REPLACE FUNCTION sites_seen() RETURNS SETOF bigint
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    RETURN QUERY SELECT sites_of(person_served());
END
$$;

CREATE OR REPLACE FUNCTION is_confined() RETURNS boolean
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    RETURN current_setting('plumrake.areas', TRUE) IS DISTINCT FROM 'looked at'
    AND EXISTS (
        SELECT 1 FROM person p JOIN membership m ON m.person_id = p.id
        WHERE p.id = person_served() AND areas_by(p.role, m.areas_like) IS NOT NULL
    );
END
$$;

-- ROWS 1: pages and fixes are looked for site by site, by their indexes.
CREATE OR REPLACE FUNCTION areas_seen() RETURNS TABLE (site_id bigint, areas text[])
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp ROWS 1 AS $$
BEGIN
    RETURN QUERY SELECT r.site_id, r.areas FROM roles_of(person_served()) AS r;
END
$$;

CREATE OR REPLACE FUNCTION pages_seen() RETURNS SETOF bigint
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    RETURN QUERY
    WITH own AS MATERIALIZED (SELECT * FROM areas_seen())

    SELECT g.id
    FROM own o JOIN page g ON g.site_id = o.site_id
    WHERE o.areas IS NULL OR g.path LIKE ANY (o.areas);
END
$$;

CREATE OR REPLACE FUNCTION fixes_seen() RETURNS SETOF bigint
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    RETURN QUERY
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
    SELECT l.fix_id FROM near n JOIN fix_place l ON l.page_id = n.page_id;
END
$$;

CREATE FUNCTION sweeps_seen() RETURNS SETOF bigint
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    RETURN QUERY SELECT w.id FROM areas_seen() AS s JOIN sweep w ON w.site_id = s.site_id;
END
$$;
COMMENT ON FUNCTION sweeps_seen() IS 'The sweeps that are there for whom the transaction is for.';

DO $$
DECLARE
    name text;
BEGIN
    FOREACH name IN ARRAY ARRAY[
        'cause', 'cause_picture', 'finding', 'handed_over', 'reading', 'sweep_event', 'sweep_page',
        'sweep_to_picture'
    ] LOOP
        EXECUTE format(
            'ALTER POLICY seen ON %I USING ('
            '(SELECT sees_all()) OR sweep_id IN (SELECT sweeps_seen()))',
            name
        );
    END LOOP;
END
$$;
