-- name: role_in
-- The role of a person in a site; none: the site is not there for them.
SELECT role_in(%(person_id)s, %(site_id)s) AS role;

-- name: roles
-- The sites that are there for a person, each with their role in it, and the areas that they are
-- there for, if not for all of it.
SELECT
    s.slug,
    role_in(%(person_id)s, s.id) AS role,
    (
        SELECT m.areas FROM membership m
        WHERE
            m.person_id = %(person_id)s
            AND m.site_id = s.id
            AND areas_in(m.person_id, s.id) IS NOT NULL
    ) AS areas
FROM site s
WHERE s.id IN (SELECT sites_of(%(person_id)s))
ORDER BY s.slug;

-- name: at_site
-- What a site is called.
{at}
WHERE s.slug = %(key)s;

-- name: at_sweep
-- The site of a sweep.
{at}
JOIN sweep w ON w.site_id = s.id
WHERE w.id = %(key)s;

-- name: at_reading
-- The site of a reading.
{at}
JOIN sweep w ON w.site_id = s.id JOIN reading r ON r.sweep_id = w.id
WHERE r.id = %(key)s;

-- name: at_finding
-- The site of a finding.
{at}
JOIN sweep w ON w.site_id = s.id JOIN finding f ON f.sweep_id = w.id
WHERE f.id = %(key)s;

-- name: at_fix
-- The site of a fix.
{at}
JOIN fix x ON x.site_id = s.id
WHERE x.id = %(key)s;

-- name: at_correction
-- The site of a correction.
{at}
JOIN correction k ON k.site_id = s.id
WHERE k.id = %(key)s;

-- name: at_clearance
-- The site of a clearance.
{at}
JOIN clearance c ON c.site_id = s.id
WHERE c.id = %(key)s;

-- name: at_release
-- The site of a release.
{at}
JOIN release r ON r.site_id = s.id
WHERE r.id = %(key)s;

-- name: at_library_text
-- The site of a text in a media library.
{at}
JOIN library_text t ON t.site_id = s.id
WHERE t.id = %(key)s;

-- name: at_evidence
-- A site of a person that a picture shows something of.
{at}
WHERE
    s.id IN (SELECT sites_of(%(person_id)s))
    AND s.id IN (
        SELECT w.site_id FROM reading r JOIN sweep w ON w.id = r.sweep_id
        WHERE r.picture = %(key)s
        UNION ALL
        SELECT w.site_id FROM cause_picture c JOIN sweep w ON w.id = c.sweep_id
        WHERE c.picture = %(key)s
        UNION ALL
        SELECT g.site_id FROM clearance g
        WHERE g.picture = %(key)s
        UNION ALL
        SELECT k.site_id FROM correction k
        WHERE k.picture_before = %(key)s OR k.picture_after = %(key)s
        UNION ALL
        SELECT w.site_id
        FROM page_picture d
        JOIN reading r ON r.id = d.reading_id
        JOIN sweep w ON w.id = r.sweep_id
        WHERE d.picture = %(key)s
    )
LIMIT 1;

-- name: at
-- A site with the role of a person in it; set into the queries above.
SELECT
    s.id AS site_id,
    s.slug,
    role_in(%(person_id)s, s.id) AS role,
    areas_in(%(person_id)s, s.id) IS NOT NULL AS is_confined,
    row_security_active('page') AS is_walled
FROM site s;

-- name: of_site
-- Who is in a site: members, and who is in every one; those who may not sign in any more too.
SELECT
    p.id,
    p.name,
    p.email,
    p.active,
    role_in(p.id, %(site_id)s) AS role,
    CASE WHEN areas_in(p.id, %(site_id)s) IS NOT NULL THEN m.areas END AS areas,
    m.person_id IS NULL OR coalesce(p.role, '') = 'manager' AS is_everywhere
FROM person p LEFT JOIN membership m ON m.person_id = p.id AND m.site_id = %(site_id)s
WHERE role_in(p.id, %(site_id)s) IS NOT NULL
ORDER BY p.name, p.id;

-- name: known_to
-- Whom a person may know of: who is in one of the sites that are there for them; everybody for who
-- runs the service.
SELECT p.id FROM person p
WHERE
    p.id = %(person_id)s
    OR EXISTS (
        SELECT FROM sites_of(%(person_id)s) AS s (id)
        WHERE role_in(p.id, s.id) IS NOT NULL
    )
    OR EXISTS (
        SELECT FROM person o
        WHERE o.id = %(person_id)s AND o.role = 'manager'
    );

-- name: put
-- A person has a role in a site, or in areas of it.
INSERT INTO membership (person_id, site_id, role, areas, areas_like, added_by) VALUES (
    %(person_id)s, %(site_id)s, %(role)s, %(areas)s, %(areas_like)s, %(added_by)s
)
ON CONFLICT (person_id, site_id) DO UPDATE SET
    role = excluded.role, areas = excluded.areas, areas_like = excluded.areas_like;

-- name: join_as_invited
-- Whoever was invited to one site is a member of it.
SELECT join_as_invited(%(invitation_id)s, %(person_id)s);

-- name: drop
-- A person is no member of a site any more.
DELETE FROM membership
WHERE person_id = %(person_id)s AND site_id = %(site_id)s;

-- name: seen_findings
-- How many of these findings are there for whom the transaction is for.
SELECT count(*)::int AS count FROM finding
WHERE id = any(%(names)s);

-- name: seen_fixes
-- How many of these fixes are there for whom the transaction is for.
SELECT count(*)::int AS count FROM fix
WHERE id = any(%(names)s);

-- name: seen_corrections
-- How many of these corrections are there for whom the transaction is for.
SELECT count(*)::int AS count FROM correction
WHERE id = any(%(names)s);

-- name: seen_judgements
-- How many of these judgements are there for whom the transaction is for.
SELECT count(*)::int AS count FROM judgement
WHERE id = any(%(names)s);

-- name: seen_waivers
-- How many of these waivers are there for whom the transaction is for.
SELECT count(*)::int AS count FROM waiver
WHERE id = any(%(names)s) AND page_id IS NOT NULL;

-- name: seen_review_answers
-- How many of these review answers are there for whom the transaction is for.
SELECT count(*)::int AS count FROM review_answer
WHERE id = any(%(names)s) AND page_id IS NOT NULL;

-- name: seen_paths
-- How many of these paths of a site are in the areas of whom the transaction is for.
SELECT count(DISTINCT n.path)::int AS count FROM unnest(%(names)s::text[]) AS n (path)
WHERE path_seen(%(site_id)s, n.path);

-- name: causes_within
-- How many of these causes of a site show in the areas of whom the transaction is for alone.
SELECT count(DISTINCT n.key)::int AS count FROM unnest(%(names)s::text[]) AS n (key)
WHERE cause_is_within(%(site_id)s, n.key);

-- name: is_confined
-- Whether the transaction is for somebody who is in some site for single areas alone.
SELECT is_confined()::int AS count;

-- name: example
-- The finding that shows a cause; set into queries about causes of a sweep.
SELECT e.* FROM finding e
WHERE e.sweep_id = %(sweep_id)s AND e.id = c.best;

-- name: example_within
-- The same for members of areas: the best, or the first that is there for them.
SELECT e.* FROM finding e
WHERE e.sweep_id = %(sweep_id)s AND e.cause = c.key
ORDER BY e.id <> c.best, e.ordinal
LIMIT 1;
