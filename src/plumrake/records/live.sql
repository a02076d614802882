-- name: fix_events
-- The moves of a site's fixes after an event, for those who watch; they may come to be seen out of
-- their order.
SELECT e.id, e.fix_id
FROM fix_event e
JOIN fix x ON x.id = e.fix_id
WHERE x.site_id = %(site_id)s AND e.id > %(after)s
ORDER BY e.id
LIMIT 1000;

-- name: sweep_events
-- What happened in a site's sweeps after an event, for those who watch.
SELECT
    e.id,
    e.sweep_id,
    e.kind,
    coalesce((e.data ->> 'read')::int, 0) + coalesce((e.data ->> 'unreadable')::int, 0) AS read,
    coalesce((e.data ->> 'total')::int, 0) AS total
FROM sweep_event e
JOIN sweep w ON w.id = e.sweep_id
WHERE w.site_id = %(site_id)s AND e.id > %(after)s
ORDER BY e.id
LIMIT 1000;

-- name: last
-- The newest events of all, from where on somebody who comes watches; and how much they were told
-- and have not seen.
SELECT
    coalesce((SELECT max(id) FROM fix_event), 0) AS fix_event,
    coalesce((SELECT max(id) FROM sweep_event), 0) AS sweep_event,
    (
        SELECT count(*) FROM notification
        WHERE person_id = %(person_id)s AND read_at IS NULL)::int
        AS unread;
