-- name: known
-- What was tried of a site's patterns in the last month, and kept since a time: all, or some.
SELECT
    pattern,
    path,
    faulty,
    tried_at
FROM tried_pattern
WHERE
    site_id = %(site_id)s AND environment = %(environment)s
    AND tried_at > now() - make_interval(days => %(days)s)
    AND tried_at > %(since)s
    AND (%(among)s::bigint[] IS NULL OR pattern = any(%(among)s::bigint[]));

-- name: keep
-- Patterns were tried on a page. By what one was faulty it stays so for a day.
INSERT INTO tried_pattern AS known (site_id, environment, pattern, path, faulty)
SELECT
    %(site_id)s,
    %(environment)s,
    x.pattern,
    %(path)s,
    x.faulty
FROM unnest(%(patterns)s::bigint[], %(faulty)s::smallint[]) AS x (pattern, faulty)
ORDER BY x.pattern
ON CONFLICT (site_id, environment, pattern) DO UPDATE
    SET
        path = excluded.path,
        faulty = CASE
            WHEN known.tried_at < now() - interval '1 day' THEN excluded.faulty
            ELSE known.faulty | excluded.faulty
        END,
        tried_at = now()
    WHERE
    known.tried_at < now() - interval '1 day'
    OR known.faulty | excluded.faulty <> known.faulty;

-- name: faulty_before
-- Of some pages those that had a finding of some checks in a sweep.
SELECT DISTINCT r.page_id
FROM finding f JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
WHERE
    r.sweep_id = %(sweep_id)s
    AND r.page_id = any(%(pages)s)
    AND f.check_id = any(%(checks)s);
