-- name: figures
-- What became of the findings from one sweep to another: by kind and weight; pages that one of them
-- could not read are left out, what the newer did not test is not gone, and only what counts or is
-- doubtful is counted.
WITH in_both AS (
    SELECT n.page_id, n.untested
    FROM reading n
    JOIN reading o ON o.page_id = n.page_id AND o.sweep_id = %(base)s AND o.status = 'read'
    WHERE n.sweep_id = %(sweep)s AND n.status = 'read'
),

judged AS (
    SELECT
        f.weight, f.is_doubtful, CASE WHEN EXISTS (
            SELECT
            FROM finding b
            WHERE b.page_id = f.page_id AND b.place_key = f.place_key AND b.sweep_id = %(base)s
        ) THEN 'still'
        WHEN f.reopened THEN 'reopened' ELSE 'new' END AS kind
    FROM finding f
    JOIN in_both ON in_both.page_id = f.page_id
    WHERE f.sweep_id = %(sweep)s AND (f.counts OR f.is_doubtful)
    UNION ALL
    SELECT
        f.weight, f.is_doubtful, 'gone'
    FROM finding f
    JOIN in_both ON in_both.page_id = f.page_id
    WHERE
        f.sweep_id = %(base)s AND (f.counts OR f.is_doubtful)
        AND NOT was_untested(in_both.untested, f.check_id)
        AND NOT EXISTS (
            SELECT FROM finding n
            WHERE n.page_id = f.page_id AND n.place_key = f.place_key AND n.sweep_id = %(sweep)s
        )
)

SELECT kind, CASE WHEN is_doubtful THEN 'doubtful' ELSE weight END AS weight, count(*)::int AS count
FROM judged
GROUP BY 1, 2
ORDER BY 1, 2;

-- name: findings
-- The findings of one kind of change, in the order of their pages and places: those of the newer
-- sweep, or, where gone, of the older.
SELECT v.* FROM finding_row v JOIN finding f ON f.id = v.id AND f.sweep_id = v.sweep_id
JOIN reading n ON n.page_id = f.page_id AND n.sweep_id = %(sweep)s AND n.status = 'read'
JOIN reading o ON o.page_id = f.page_id AND o.sweep_id = %(base)s AND o.status = 'read'
WHERE
    f.sweep_id = CASE WHEN %(kind)s = 'gone' THEN %(base)s::bigint ELSE %(sweep)s::bigint END
    AND f.ordinal > %(after)s
    AND (f.counts OR f.is_doubtful)
    AND (%(cause)s::text IS NULL OR f.cause = %(cause)s)
    AND (%(path)s::text IS NULL OR v.path = %(path)s)
    AND CASE %(kind)s
        WHEN
            'gone'
            THEN NOT was_untested(
                n.untested, f.check_id) AND NOT EXISTS (
                SELECT FROM finding x
                WHERE x.page_id = f.page_id AND x.place_key = f.place_key AND x.sweep_id = %(sweep)s
            )
        WHEN
            'still'
            THEN EXISTS (
                SELECT FROM finding x
                WHERE x.page_id = f.page_id AND x.place_key = f.place_key AND x.sweep_id = %(base)s
            )
        ELSE
            f.reopened = (%(kind)s = 'reopened')
            AND NOT EXISTS (
                SELECT FROM finding x
                WHERE x.page_id = f.page_id AND x.place_key = f.place_key AND x.sweep_id = %(base)s
            )
    END
ORDER BY f.ordinal LIMIT %(limit)s;

-- name: pages
-- Pages that one of two sweeps has and the other has not, and pages that only one could read. A
-- sweep of given pages says nothing of others.
SELECT
    p.path,
    CASE
        WHEN o.id IS NULL THEN 'appeared' WHEN n.id IS NULL THEN 'vanished' WHEN
            n.status = 'read'
            THEN 'readable'
        ELSE 'unreadable'
    END AS kind
FROM (
    SELECT * FROM reading
    WHERE sweep_id = %(sweep)s
) n
FULL JOIN (
    SELECT * FROM reading
    WHERE sweep_id = %(base)s
) o
    ON o.page_id = n.page_id
JOIN page p ON p.id = coalesce(n.page_id, o.page_id)
WHERE
    o.id IS NULL
    OR n.status <> o.status
    OR (
        n.id IS NULL
        AND EXISTS (
            SELECT FROM sweep w
            WHERE w.id = %(sweep)s AND w.scope <> 'given'
        )
    )
ORDER BY 2, 1 LIMIT 10000;

-- name: causes
-- Causes of two sweeps: those of one alone, and those whose reach differs.
SELECT
    c.key,
    coalesce(n.check_id, o.check_id) AS "check",
    coalesce(n.weight, o.weight) AS weight,
    f.says,
    coalesce(o.places, 0) AS places_before,
    coalesce(n.places, 0) AS places_now,
    coalesce(o.pages, 0) AS pages_before,
    coalesce(n.pages, 0) AS pages_now,
    CASE
        WHEN o.key IS NULL THEN 'new' WHEN n.key IS NULL THEN 'gone' WHEN
            n.places > o.places
            THEN 'wider'
        ELSE 'narrower'
    END AS kind
FROM (
    SELECT * FROM cause
    WHERE sweep_id = %(sweep)s
) n
FULL JOIN (
    SELECT * FROM cause
    WHERE sweep_id = %(base)s
) o
    ON o.key = n.key
CROSS JOIN
    LATERAL (
        SELECT
            coalesce(n.key, o.key) AS key,
            coalesce(n.best, o.best) AS best,
            CASE WHEN n.key IS NULL THEN %(base)s::bigint ELSE %(sweep)s::bigint END AS sweep_id
    ) c
CROSS JOIN LATERAL ({example}) f
WHERE
    (
        n.key IS NULL OR o.key IS NULL OR n.places <> o.places) AND EXISTS (
        SELECT FROM cause
        WHERE sweep_id = %(base)s
    )
ORDER BY greatest(coalesce(n.pages, 0), coalesce(o.pages, 0)) DESC, 1 LIMIT 1000;
