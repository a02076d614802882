-- name: set
-- Where the sources of an environment of a site are; in place of what was said before.
INSERT INTO connection (site_id, environment, kind, settings, secret, made_by)
VALUES (%(site_id)s, %(environment)s, %(kind)s, %(settings)s, %(secret)s, %(made_by)s)
ON CONFLICT (site_id, environment) DO UPDATE SET
    kind = excluded.kind,
    settings = excluded.settings,
    secret = excluded.secret,
    made_by = excluded.made_by,
    made_at = now();

-- name: of
-- Where the sources of an environment of a site are.
{connection}
WHERE c.site_id = %(site_id)s AND c.environment = %(environment)s;

-- name: of_site
-- Where the sources of a site are.
{connection}
WHERE c.site_id = %(site_id)s
ORDER BY c.environment;

-- name: every
-- Where the sources of all sites are.
{connection}
ORDER BY c.site_id, c.environment;

-- name: connection
-- What is known of a connection; set into the queries above.
SELECT
    c.site_id,
    c.environment,
    c.kind,
    c.settings,
    c.secret,
    p.name AS made_by,
    c.made_by AS made_by_id,
    c.synced_at,
    c.made_at
FROM connection c LEFT JOIN person p ON p.id = c.made_by;

-- name: drop
-- A connection is ended.
DELETE FROM connection
WHERE site_id = %(site_id)s AND environment = %(environment)s;
