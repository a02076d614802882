-- name: add
-- A version of a statement.
INSERT INTO statement (site_id, language, body, made_by)
VALUES (%(site_id)s, %(language)s, %(body)s, %(made_by)s)
RETURNING id;

-- name: of_site
-- The versions of a site's statement, the newest first.
SELECT
    s.id,
    s.language,
    s.body,
    m.name AS made_by,
    s.made_at,
    p.name AS published_by,
    s.published_at
FROM statement s
JOIN person m ON m.id = s.made_by
LEFT JOIN person p ON p.id = s.published_by
WHERE s.site_id = %(site_id)s AND (%(id)s::bigint IS NULL OR s.id = %(id)s)
ORDER BY s.id DESC LIMIT %(limit)s;

-- name: publish
-- A version is the public one from now on.
UPDATE statement SET published_by = %(by_id)s, published_at = now()
WHERE site_id = %(site_id)s AND id = %(id)s AND published_at IS NULL;

-- name: published_on
-- When the newest public version was published.
SELECT published_at FROM statement
WHERE site_id = %(site_id)s AND published_at IS NOT NULL
ORDER BY published_at DESC LIMIT 1;

-- name: plans
-- The live fixes of some causes of an environment, and until when they are due.
SELECT x.cause, x.due_on
FROM fix x JOIN fix_state t ON t.name = x.state
WHERE
    x.site_id = %(site_id)s
    AND x.environment = %(environment)s
    AND x.cause = any(%(causes)s::text[])
    AND x.place_key IS NULL
    AND t.is_live;
