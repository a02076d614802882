-- name: known
-- What was tried of a site's patterns in the last month, and kept since a time.
SELECT
    pattern,
    path,
    is_sound,
    tried_at
FROM tried_pattern
WHERE
    site_id = %(site_id)s AND environment = %(environment)s
    AND tried_at > now() - make_interval(days => %(days)s)
    AND tried_at > %(since)s;

-- name: keep
-- Patterns were tried on a page. One that something was found at is not sound before it was tried
-- anew in a later sweep; one that is known as it is is written again after a day.
INSERT INTO tried_pattern AS known (site_id, environment, pattern, path, is_sound)
SELECT
    %(site_id)s,
    %(environment)s,
    x.pattern,
    %(path)s,
    x.is_sound
FROM unnest(%(patterns)s::bigint[], %(sound)s::boolean[]) AS x (pattern, is_sound)
ORDER BY x.pattern
ON CONFLICT (site_id, environment, pattern) DO UPDATE
    SET path = excluded.path, is_sound = excluded.is_sound, tried_at = now()
    WHERE
    (excluded.is_sound < known.is_sound)
    OR known.tried_at < now() - interval '1 day';

-- name: faulty_before
-- Of some pages those that had a finding of some checks in a sweep.
SELECT DISTINCT r.page_id
FROM finding f JOIN reading r ON r.id = f.reading_id
WHERE
    r.sweep_id = %(sweep_id)s
    AND r.page_id = any(%(pages)s)
    AND f.check_id = any(%(checks)s);
