-- name: store_page_views
-- The views of a page, once per content.
INSERT INTO page_view (hash, content) VALUES (%(hash)s, %(content)s) ON CONFLICT DO NOTHING;

-- name: by_id
-- One reading with its sweep and site.
{reading}
WHERE r.id = %(id)s;

-- name: of_page
-- The readings of a page over time, the newest first; of one environment or of both.
{reading}
WHERE
    w.site_id = %(site_id)s
    AND p.path = %(path)s
    AND (%(environment)s::text IS NULL OR w.environment = %(environment)s)
    AND (%(before)s::bigint IS NULL OR r.id < %(before)s)
ORDER BY r.id DESC LIMIT %(limit)s;

-- name: reading
-- What is shown of a reading; set into the queries above.
SELECT
    r.id,
    r.page_id,
    p.path,
    r.address,
    r.lens,
    r.status,
    r.problem_code,
    r.problem_says,
    r.title,
    r.language,
    r.content_hash,
    r.ready,
    r.picture,
    r.seconds,
    r.read_at,
    r.untested,
    r.unchanged_from IS NOT NULL AS unchanged,
    r.left_out,
    r.sweep_id,
    w.environment,
    s.slug AS site,
    s.name AS site_name,
    w.scope, r.page_views IS NOT NULL AS has_views, r.elements,
    (
        SELECT count(*) FROM finding f
        WHERE f.reading_id = r.id AND f.sweep_id = r.sweep_id AND f.counts
    )::int AS failed,
    (
        SELECT count(*) FROM finding f
        WHERE f.reading_id = r.id AND f.sweep_id = r.sweep_id AND f.is_doubtful
    )::int AS doubtful
FROM reading r
JOIN page p ON p.id = r.page_id
JOIN sweep w ON w.id = r.sweep_id
JOIN site s ON s.id = w.site_id;

-- name: page_views
-- The views of the page of a reading, and the parts of its inventory that are page views too.
SELECT y.content, i.pictures, i.links, i.colours
FROM reading r
LEFT JOIN page_view y ON y.hash = r.page_views
LEFT JOIN inventory i ON i.hash = r.inventory
WHERE r.id = %(id)s;

-- name: held
-- The pages of a sweep with what their findings were decided by, each kind once.
SELECT
    p.path,
    r.kind,
    r.status,
    r.ready,
    coalesce(jsonb_agg(DISTINCT jsonb_build_object(
        'check', f.check_id, 'weight', f.weight, 'outcome', f.outcome,
        'answer', f.answer, 'waived', f.waiver_id IS NOT NULL, 'mended', f.mended
    )) FILTER (WHERE f.id IS NOT NULL), '[]')
        AS findings
FROM reading r
JOIN page p ON p.id = r.page_id
LEFT JOIN finding f ON f.reading_id = r.id AND f.sweep_id = r.sweep_id
WHERE r.sweep_id = %(sweep_id)s
GROUP BY p.path, r.kind, r.status, r.ready
ORDER BY p.path;

-- name: find_pages
-- Pages of a sweep whose path or title holds some words, those that begin with them first.
SELECT p.path, r.title FROM reading r JOIN page p ON p.id = r.page_id
WHERE r.sweep_id = %(sweep_id)s AND (p.path ILIKE %(like)s OR r.title ILIKE %(like)s)
ORDER BY NOT (r.title ILIKE %(begins)s OR p.path ILIKE %(begins)s), length(p.path), p.path
LIMIT %(limit)s;

-- name: find_causes
-- Causes of a sweep whose words, check or page hold some words, the widest reach first.
SELECT c.key, f.says, c.check_id AS "check", c.weight, c.pages, p.path
FROM cause c
CROSS JOIN LATERAL ({example}) f
JOIN page p ON p.id = f.page_id
WHERE
    c.sweep_id = %(sweep_id)s
    AND (f.says ILIKE %(like)s OR c.check_id ILIKE %(like)s OR f.excerpt ILIKE %(like)s)
ORDER BY c.position
LIMIT %(limit)s;

-- name: find_fixes
-- Fixes of a site whose number is given, or whose words or page hold some words.
SELECT x.id, x.says, x.state, x.path FROM fix x
WHERE
    x.site_id = %(site_id)s
    AND (x.says ILIKE %(like)s OR x.path ILIKE %(like)s OR x.id::text = %(words)s)
ORDER BY
    x.id::text <> %(words)s, x.state NOT IN (
        SELECT name FROM fix_state
        WHERE is_live
    ), x.rank, x.id
LIMIT %(limit)s;
