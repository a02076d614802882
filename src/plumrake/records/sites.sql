-- name: add
-- A site; the slug is unique.
INSERT INTO site (
    slug,
    name,
    live_address,
    staging_address,
    found_by,
    listed_paths,
    private_leave,
    policy,
    most_pages,
    crawl_depth,
    parallel,
    pause_ms,
    schedule, schedule_environment, journeys, second_factor_roles
)
VALUES (
    %(slug)s,
    %(name)s,
    %(live_address)s,
    %(staging_address)s,
    %(found_by)s,
    %(listed_paths)s,
    %(private_leave)s,
    %(policy)s,
    %(most_pages)s,
    %(crawl_depth)s,
    %(parallel)s,
    %(pause_ms)s,
    %(schedule)s,
    %(schedule_environment)s,
    %(journeys)s,
    %(second_factor_roles)s
)
ON CONFLICT (slug) DO NOTHING
RETURNING *;

-- name: by_slug
-- One site.
SELECT * FROM site
WHERE slug = %(slug)s;

-- name: by_id
-- One site by its number.
SELECT * FROM site
WHERE id = %(id)s;

-- name: of_person
-- The sites that are there for a person, by name.
SELECT * FROM site
WHERE id IN (SELECT sites_of(%(person_id)s))
ORDER BY name, id;

-- name: figures
-- What the last finished sweep of each site's environments found, as it was counted when it ended
-- and after each decision.
SELECT DISTINCT ON (w.site_id, w.environment)
    w.site_id,
    w.environment,
    w.id AS sweep_id,
    w.finished_at,
    w.total - coalesce((w.counted ->> 'left_out')::int, 0) AS pages,
    coalesce((w.counted ->> 'left_out')::int, 0) AS left_out,
    w.ready,
    w.unreadable - coalesce((w.counted ->> 'unreadable_left_out')::int, 0) AS unreadable,
    coalesce((w.counted ->> 'barriers')::int, 0) AS barriers,
    coalesce((w.counted ->> 'obstacles')::int, 0) AS obstacles,
    coalesce((w.counted ->> 'frictions')::int, 0) AS frictions,
    coalesce((w.counted ->> 'doubtful')::int, 0) AS doubtful,
    coalesce((w.counted ->> 'words')::int, 0) AS words,
    coalesce((w.counted ->> 'waived')::int, 0) AS waived
FROM sweep w
WHERE
    w.state = 'done'
    AND is_whole(w.section, w.scope)
    AND (%(site_id)s::bigint IS NULL OR w.site_id = %(site_id)s)
ORDER BY w.site_id, w.environment, w.id DESC;

-- name: under_way
-- Sweeps that wait or run, of one site or of all; but for those of given pages.
SELECT
    w.site_id,
    w.environment,
    w.id AS sweep_id,
    w.state,
    w.total,
    w.read,
    w.unreadable
FROM sweep w
WHERE
    w.state IN ('queued', 'running')
    AND w.scope <> 'given'
    AND (%(site_id)s::bigint IS NULL OR w.site_id = %(site_id)s)
ORDER BY w.site_id, w.id;

-- name: change
-- What may be changed of a site; nothing where somebody changed it meanwhile.
UPDATE site SET
    name = %(name)s,
    live_address = %(live_address)s,
    staging_address = %(staging_address)s,
    found_by = %(found_by)s,
    listed_paths = %(listed_paths)s,
    private_leave = %(private_leave)s,
    policy = %(policy)s,
    most_pages = %(most_pages)s,
    crawl_depth = %(crawl_depth)s,
    parallel = %(parallel)s,
    pause_ms = %(pause_ms)s,
    schedule = %(schedule)s,
    schedule_environment = %(schedule_environment)s,
    journeys = %(journeys)s,
    second_factor_roles = %(second_factor_roles)s,
    changed_at = clock_timestamp(),
    scheduled_at = CASE WHEN schedule IS DISTINCT FROM %(schedule)s THEN now() ELSE scheduled_at END
WHERE id = %(id)s AND changed_at = %(known)s
RETURNING *;

-- name: drop
-- A site goes with all that is known of it.
DELETE FROM site
WHERE id = %(id)s;

-- name: every
-- All sites.
SELECT * FROM site
ORDER BY id;

-- name: scheduled
-- Sites that are read by the clock, held until the transaction ends; those that another worker
-- holds are left to it.
SELECT * FROM site
WHERE schedule IS NOT NULL FOR UPDATE SKIP LOCKED;

-- name: note_scheduled
-- A site's sweep was started by the clock.
UPDATE
    site SET scheduled_at = %(at)s
WHERE id = %(id)s;

-- name: keep_archive
-- A site's archive of pages, which takes the place of an older one.
WITH kept AS (
    INSERT INTO archive (hash, site_id, name, content) VALUES (
        %(hash)s, %(site_id)s, %(name)s, %(content)s
    )
    ON CONFLICT (hash) DO UPDATE SET name = excluded.name RETURNING hash
)

UPDATE site SET archive = kept.hash, found_by = 'archive', changed_at = clock_timestamp()
FROM kept
WHERE id = %(site_id)s
RETURNING site.*;

-- name: archive
-- An archive by its hash.
SELECT name, content FROM archive
WHERE hash = %(hash)s;
