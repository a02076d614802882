-- name: add
-- A site; the slug is unique.
INSERT INTO site (slug, name, live_address, staging_address, found_by, listed_paths, private_leave, policy)
VALUES (%(slug)s, %(name)s, %(live_address)s, %(staging_address)s, %(found_by)s, %(listed_paths)s, %(private_leave)s, %(policy)s)
ON CONFLICT (slug) DO NOTHING
RETURNING *

-- name: by_slug
-- One site.
SELECT * FROM site WHERE slug = %(slug)s

-- name: by_id
-- One site by its number.
SELECT * FROM site WHERE id = %(id)s

-- name: all
-- Every site by name.
SELECT * FROM site ORDER BY name, id

-- name: figures
-- What the last finished sweep of each site's editions found.
SELECT DISTINCT ON (w.site_id, w.edition) w.site_id, w.edition, w.id AS sweep_id, w.finished_at, w.total AS pages,
    (SELECT count(*) FROM reading r WHERE r.sweep_id = w.id AND r.ready)::int AS ready,
    (SELECT count(*) FROM reading r WHERE r.sweep_id = w.id AND r.status = 'unreadable')::int AS unreadable,
    (SELECT count(*) FROM finding f WHERE f.sweep_id = w.id AND f.outcome = 'failed' AND f.weight = 'barrier')::int AS barriers,
    (SELECT count(*) FROM finding f WHERE f.sweep_id = w.id AND f.outcome = 'failed' AND f.weight = 'obstacle')::int AS obstacles,
    (SELECT count(*) FROM finding f WHERE f.sweep_id = w.id AND f.outcome = 'failed' AND f.weight = 'friction')::int AS frictions,
    (SELECT count(*) FROM finding f WHERE f.sweep_id = w.id AND f.outcome = 'cantTell')::int AS doubtful
FROM sweep w
WHERE w.state = 'done' AND w.section = '/' AND (%(site_id)s::bigint IS NULL OR w.site_id = %(site_id)s)
ORDER BY w.site_id, w.edition, w.id DESC
