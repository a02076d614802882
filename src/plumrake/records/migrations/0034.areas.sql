-- depends: 0033.evidence_store
-- Members of single areas of a site: pages by patterns of paths, and what hangs on these. What a
-- request reads is bounded by the walls below; a request that changes something is looked at before
-- (service/areas.py) and then works on the whole site, since what it counts anew is the site's.

ALTER TABLE membership
ADD COLUMN areas text[],
ADD COLUMN areas_like text[],
ADD CONSTRAINT membership_areas CHECK (
    (areas IS NULL) = (areas_like IS NULL)
    AND cardinality(areas) > 0
    AND cardinality(areas) = cardinality(areas_like)
    AND role <> 'manager' OR areas IS NULL
);
COMMENT ON COLUMN membership.areas IS
'The patterns of paths that the person is there for; null: the whole site.';
COMMENT ON COLUMN membership.areas_like IS 'The same as SQL''s LIKE has them.';

ALTER TABLE invitation ADD COLUMN areas text[], ADD COLUMN areas_like text[];
COMMENT ON COLUMN invitation.areas IS 'The areas of the site that somebody is invited to.';
COMMENT ON COLUMN invitation.areas_like IS 'The same as SQL''s LIKE has them.';

DROP TRIGGER noted ON membership;
CREATE TRIGGER noted AFTER INSERT OR UPDATE OR DELETE ON membership
FOR EACH ROW EXECUTE FUNCTION note_change('member', '', 'role,areas', '', '');

CREATE OR REPLACE FUNCTION join_as_invited(asked_invitation bigint, new_person bigint) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
INSERT INTO membership (person_id, site_id, role, areas, areas_like)
SELECT
    p.id,
    i.site_id,
    i.role,
    i.areas,
    i.areas_like
FROM invitation i JOIN person p ON lower(p.email) = lower(i.email)
WHERE
    i.id = asked_invitation
    AND p.id = new_person
    AND i.site_id IS NOT NULL
    AND i.accepted_at IS NULL
    AND i.expires_at > now()
$$;

CREATE FUNCTION areas_in(asked_person bigint, asked_site bigint) RETURNS text[]
LANGUAGE sql STABLE AS $$
SELECT m.areas_like
FROM membership m JOIN person p ON p.id = m.person_id
WHERE m.person_id = asked_person AND m.site_id = asked_site AND p.role IS DISTINCT FROM 'manager'
$$;
COMMENT ON FUNCTION areas_in(bigint, bigint) IS
'The areas of a site that a person is there for, as LIKE has them; null: the whole site, where it '
'is there for them at all. The one rule, beside role_in.';

CREATE FUNCTION is_confined() RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT
    current_setting('plumrake.areas', TRUE) IS DISTINCT FROM 'looked at'
    AND EXISTS (
        SELECT 1 FROM membership m
        WHERE m.person_id = person_served() AND areas_in(m.person_id, m.site_id) IS NOT NULL
    )
$$;
COMMENT ON FUNCTION is_confined() IS
'Whether the transaction is for somebody who is in some site for single areas alone; not where '
'what it names was looked at before, and it works on the whole site.';

CREATE FUNCTION path_seen(asked_site bigint, asked_path text) RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT coalesce(asked_path LIKE ANY (areas_in(person_served(), asked_site)), TRUE)
$$;
COMMENT ON FUNCTION path_seen(bigint, text) IS
'Whether a path of a site is in the areas of whom the transaction is for.';

CREATE FUNCTION areas_seen() RETURNS TABLE (site_id bigint, areas text[])
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp ROWS 10 AS $$
SELECT
    s.id,
    areas_in(person_served(), s.id)
FROM sites_of(person_served()) AS s (id)
$$;
COMMENT ON FUNCTION areas_seen() IS
'The sites that are there for whom the transaction is for, each with the areas that they are there '
'for, as LIKE has them; null: all of it.';

CREATE FUNCTION pages_seen() RETURNS SETOF bigint
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
WITH own AS MATERIALIZED (SELECT * FROM areas_seen())

SELECT g.id
FROM own o JOIN page g ON g.site_id = o.site_id
WHERE o.areas IS NULL OR g.path LIKE ANY (o.areas)
$$;
COMMENT ON FUNCTION pages_seen() IS 'The pages that are there for whom the transaction is for.';

CREATE FUNCTION fixes_seen() RETURNS SETOF bigint
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
COMMENT ON FUNCTION fixes_seen() IS
'The fixes that reach into the areas of whom the transaction is for, or are theirs.';

CREATE FUNCTION cause_is_within(asked_site bigint, asked_cause text) RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT NOT EXISTS (
    SELECT 1
    FROM (
        SELECT max(c.sweep_id) AS sweep_id
        FROM cause c JOIN sweep w ON w.id = c.sweep_id
        WHERE w.site_id = asked_site AND c.key = asked_cause
        GROUP BY w.environment
    ) n JOIN finding f ON f.sweep_id = n.sweep_id AND f.cause = asked_cause
    WHERE f.page_id NOT IN (SELECT pages_seen())
)
$$;
COMMENT ON FUNCTION cause_is_within(bigint, text) IS
'Whether a cause shows on pages alone that are there for whom the transaction is for, by the '
'newest sweep of each environment that has it.';

DO $$
DECLARE
    name text;
    rule text[];
BEGIN
    CREATE POLICY areas ON page AS RESTRICTIVE
    USING ((SELECT NOT is_confined()) OR id IN (SELECT pages_seen()));
    CREATE POLICY areas ON fix AS RESTRICTIVE
    USING ((SELECT NOT is_confined()) OR id IN (SELECT fixes_seen()));
    FOREACH name IN ARRAY ARRAY[
        'correction', 'finding', 'fix_place', 'judgement', 'reading', 'review_answer',
        'review_hold', 'review_page', 'sweep_page', 'writing'
    ] LOOP
        EXECUTE format(
            'CREATE POLICY areas ON %I AS RESTRICTIVE USING ((SELECT NOT is_confined())'
            ' OR page_id IN (SELECT pages_seen()))',
            name
        );
    END LOOP;
    FOREACH rule SLICE 1 IN ARRAY ARRAY[
        [
            'cause',
            'EXISTS (SELECT 1 FROM finding f WHERE f.sweep_id = cause.sweep_id'
            ' AND f.cause = cause.key)'
        ],
        [
            'cause_picture',
            'EXISTS (SELECT 1 FROM finding f WHERE f.sweep_id = cause_picture.sweep_id'
            ' AND f.id = cause_picture.finding_id)'
        ],
        [
            'clearance',
            'path_seen(site_id, path) OR asked_by = person_served()'
            ' OR asked_for_id = person_served()'
        ],
        [
            'description',
            'EXISTS (SELECT 1 FROM finding f WHERE f.id = description.finding_id)'
        ],
        ['handed_over', 'FALSE'],
        [
            'item',
            'path_seen(site_id, path) AND path IS NOT NULL OR EXISTS ('
            'SELECT 1 FROM item_author a WHERE a.site_id = item.site_id AND a.email = item.email'
            ' AND a.person_id = person_served())'
        ],
        [
            'library_text',
            'EXISTS (SELECT 1 FROM finding f WHERE f.id = library_text.finding_id)'
        ],
        [
            'sweep_event',
            'data ->> ''path'' IS NULL OR EXISTS (SELECT 1 FROM sweep w'
            ' WHERE w.id = sweep_event.sweep_id AND path_seen(w.site_id, data ->> ''path''))'
        ],
        ['tried_pattern', 'path_seen(site_id, path)'],
        ['waiver', 'page_id IS NULL OR page_id IN (SELECT pages_seen())']
    ] LOOP
        EXECUTE format(
            'CREATE POLICY areas ON %I AS RESTRICTIVE USING ((SELECT NOT is_confined()) OR %s)',
            rule[1],
            rule[2]
        );
    END LOOP;
END
$$;
