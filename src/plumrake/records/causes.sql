-- name: places
-- The findings of a sweep as gathering needs them, in their order.
SELECT
    f.id AS finding,
    f.page_id AS page,
    f.check_id AS "check",
    f.weight,
    f.zone,
    f.structure,
    f.shape_key,
    f.cause_key,
    f.visible,
    f.box IS NOT NULL AND r.picture IS NOT NULL AS pictured
FROM finding f JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
WHERE f.sweep_id = %(sweep_id)s AND (%(check)s::text IS NULL OR f.check_id = %(check)s)
ORDER BY f.ordinal;

-- name: census
-- How many elements of each build that has findings the pages of a sweep have.
SELECT c.key AS structure, sum(c.value::int)::int AS count
FROM reading r
JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL jsonb_each_text(i.census) c
WHERE
    r.sweep_id = %(sweep_id)s AND c.key IN (
        SELECT structure FROM finding
        WHERE sweep_id = %(sweep_id)s AND structure <> ''
    )
GROUP BY c.key;

-- name: known_by_template
-- The causes of a sweep that a template prints.
SELECT key FROM cause
WHERE sweep_id = %(sweep_id)s AND by_template;

-- name: assign
-- Which cause each finding has.
UPDATE finding f SET cause = given.cause
FROM unnest(%(findings)s::bigint[], %(causes)s::text[]) AS given (id, cause)
WHERE
    f.id = given.id
    AND f.sweep_id = %(sweep_id)s
    AND f.cause IS DISTINCT FROM given.cause;

-- name: add
-- The causes of a sweep; each keeps when it was first seen in an environment of the site.
INSERT INTO cause (
    sweep_id,
    key,
    position,
    check_id,
    outcome,
    weight,
    zone,
    by_template,
    places,
    pages,
    best,
    first_sweep,
    first_seen_at
)
SELECT
    %(sweep_id)s,
    g.key,
    %(behind)s + g.position,
    g.check_id,
    f.outcome,
    g.weight,
    g.zone,
    g.by_template,
    g.places,
    g.pages,
    g.best,
    coalesce(k.first_sweep, %(sweep_id)s), coalesce(k.first_seen_at, r.read_at)
FROM
    unnest(
        %(keys)s::text[],
        %(checks)s::text[],
        %(weights)s::text[],
        %(zones)s::text[],
        %(by_template)s::boolean[],
        %(places)s::int[],
        %(pages)s::int[],
        %(best)s::bigint[]) WITH ORDINALITY
        AS g (key, check_id, weight, zone, by_template, places, pages, best, position)
JOIN finding f ON f.id = g.best AND f.sweep_id = %(sweep_id)s
JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
LEFT JOIN LATERAL (
    SELECT c.first_sweep, c.first_seen_at FROM cause c JOIN sweep o ON o.id = c.sweep_id
    WHERE
        c.key = g.key
        AND o.site_id = %(site_id)s
        AND o.environment = %(environment)s
        AND o.id < %(sweep_id)s
    ORDER BY c.sweep_id DESC LIMIT 1
) k ON TRUE;

-- name: clear
-- Forget the causes of a sweep, or those of a check, which are gathered anew.
DELETE FROM cause
WHERE sweep_id = %(sweep_id)s AND (%(check)s::text IS NULL OR check_id = %(check)s);

-- name: last_position
-- Behind which place those that are gathered anew come.
SELECT coalesce(max(position), 0) FROM cause
WHERE sweep_id = %(sweep_id)s;

-- name: mark_reopened
-- Findings that the sweep before did not have, though an earlier one of the environment did.
UPDATE finding f SET reopened = TRUE
WHERE
    f.sweep_id = %(sweep_id)s
    AND NOT EXISTS (
        SELECT FROM finding b
        WHERE b.page_id = f.page_id AND b.place_key = f.place_key AND b.sweep_id = %(base_id)s
    )
    AND EXISTS (
        SELECT FROM reading r
        WHERE r.page_id = f.page_id AND r.sweep_id = %(base_id)s AND r.status = 'read'
    )
    AND EXISTS (
        SELECT FROM finding e JOIN sweep o ON o.id = e.sweep_id
        WHERE
            e.page_id = f.page_id
            AND e.place_key = f.place_key
            AND e.sweep_id < %(base_id)s
            AND o.environment = %(environment)s
    );

-- name: to_picture
-- For the causes of widest reach up to three places each that a page's picture shows, page by page.
SELECT c.key, f.id AS finding, f.box, r.picture
FROM cause c CROSS JOIN
    LATERAL (
        SELECT o.id, o.box, o.reading_id, o.sweep_id
        FROM finding o JOIN reading q ON q.id = o.reading_id AND q.sweep_id = o.sweep_id
        WHERE
            o.sweep_id = c.sweep_id
            AND o.cause = c.key
            AND o.box IS NOT NULL
            AND o.visible
            AND q.picture IS NOT NULL
        ORDER BY o.id <> c.best, o.ordinal LIMIT 3
    ) f
JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
WHERE
    c.sweep_id = %(sweep_id)s
    AND (c.position <= %(most)s OR c.check_id = %(check)s)
    AND (%(check)s::text IS NULL OR c.check_id = %(check)s)
ORDER BY r.picture, f.id;

-- name: keep_picture
-- A picture of a place of a cause.
INSERT INTO cause_picture (sweep_id, key, finding_id, picture) VALUES (
    %(sweep_id)s, %(key)s, %(finding)s, %(picture)s
) ON CONFLICT DO NOTHING;

-- name: picture_later
-- Some causes of a sweep want pictures of contents that are in the store.
INSERT INTO sweep_to_picture (sweep_id) VALUES (%(sweep_id)s)
ON CONFLICT (sweep_id) DO UPDATE SET sweep_id = excluded.sweep_id; -- waits for whoever holds it

-- name: pictured_later
-- The sweeps that wait for such pictures.
SELECT sweep_id FROM sweep_to_picture
ORDER BY sweep_id;

-- name: hold_to_picture
-- Nobody else notes that a sweep waits, until the transaction is over.
SELECT sweep_id FROM sweep_to_picture
WHERE sweep_id = %(sweep_id)s
FOR UPDATE;

-- name: mark_pictured
-- A sweep waits for no such picture any more.
DELETE FROM sweep_to_picture
WHERE sweep_id = %(sweep_id)s;

-- name: let_through
-- What the filters let through, but for what is handed out; set into the queries below.
SELECT FROM cause c
WHERE
    (%(check)s::text IS NULL OR c.check_id = %(check)s OR c.check_id LIKE %(check)s || '/%%')
    AND (%(weight)s::text IS NULL OR c.weight = %(weight)s)
    AND (%(outcome)s::text IS NULL OR c.outcome = %(outcome)s)
    AND (%(zone)s::text IS NULL OR c.zone = %(zone)s)
    AND (%(by_template)s::boolean IS NULL OR c.by_template = %(by_template)s)
    AND (%(words)s::boolean IS NULL OR is_word(c.check_id) = %(words)s)
    AND (%(counting)s::text[] IS NULL OR c.weight = any(%(counting)s) AND EXISTS (
        SELECT
        FROM finding h
        WHERE h.sweep_id = c.sweep_id AND h.cause = c.key AND h.counts
    ));

-- name: of_sweep
-- The causes of a sweep that the filters let through, by reach (which is their position), or first
-- by weight (the sure ones of each before the doubtful)
-- or by how new they are. What shows each is looked for once they are chosen.
WITH c AS MATERIALIZED (
    SELECT
        c.*,
        k.rank,
        x.id AS fix_id,
        x.state AS fix_state,
        x.reopened_after AS fix_reopened_after,
        x.owner_id,
        x.group_id
    FROM cause c
    JOIN sweep w ON w.id = c.sweep_id
    LEFT JOIN
        fix x
        ON
            x.site_id = w.site_id
            AND x.environment = w.environment
            AND x.cause = c.key
            AND x.place_key IS NULL
    CROSS JOIN
        LATERAL (SELECT CASE %(sort)s::text
            WHEN 'weight' THEN weight_rank(c.weight, c.outcome)
            WHEN 'newest' THEN -c.first_sweep ELSE 0
        END AS rank) k
    WHERE
        c.sweep_id = %(sweep_id)s AND (%(key)s::text IS NULL OR c.key = %(key)s)
        AND (k.rank > %(after_rank)s::bigint OR c.position > %(after)s)
        AND k.rank >= %(after_rank)s::bigint
        AND {let_through}
        AND (%(handed_out)s::boolean IS NULL OR (x.id IS NOT NULL) = %(handed_out)s)
    ORDER BY k.rank, c.position LIMIT %(limit)s
)

SELECT
    c.key,
    c.position,
    c.rank,
    c.sweep_id,
    c.check_id AS "check",
    c.outcome,
    c.weight,
    c.zone,
    c.by_template,
    c.places,
    c.pages,
    f.id AS best,
    c.first_sweep,
    c.first_seen_at,
    f.says,
    f.question,
    f.selector,
    f.excerpt,
    f.criteria,
    f.mends,
    p.path,
    r.address,
    r.title,
    array(
        SELECT picture FROM cause_picture x
        WHERE x.sweep_id = c.sweep_id AND x.key = c.key
        ORDER BY x.finding_id <> c.best, x.finding_id
    ) AS pictures,
    (
        SELECT count(*) FROM finding v
        WHERE v.sweep_id = %(sweep_id)s AND v.cause = c.key AND v.is_waived
    )::int AS waived,
    c.fix_id,
    c.fix_state,
    c.fix_reopened_after,
    coalesce(o.name, g.name) AS fix_owner
FROM c
CROSS JOIN LATERAL ({example}) f
JOIN page p ON p.id = f.page_id
JOIN reading r ON r.id = f.reading_id AND r.sweep_id = %(sweep_id)s
LEFT JOIN person o ON o.id = c.owner_id LEFT JOIN people_group g ON g.id = c.group_id
ORDER BY c.rank, c.position;

-- name: count
-- How many causes the filters let through.
SELECT count(*)::int AS count FROM cause c
WHERE
    c.sweep_id = %(sweep_id)s
    AND {let_through}
    AND (%(handed_out)s::boolean IS NULL OR EXISTS (
        SELECT FROM fix x JOIN sweep w ON w.id = c.sweep_id
        WHERE
            x.site_id = w.site_id
            AND x.environment = w.environment
            AND x.cause = c.key
            AND x.place_key IS NULL
    ) = %(handed_out)s);
