-- name: addresses
-- The addresses that a sweep's pages lead to; those that were asked since a time, and work, are
-- left out.
SELECT DISTINCT x.address FROM reading r JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (address text)
WHERE
    r.sweep_id = %(sweep_id)s AND x.address <> '' AND NOT EXISTS (
        SELECT
        FROM link_state s
        WHERE
            s.site_id = %(site_id)s
            AND s.address = x.address
            AND s.state = 'works'
            AND s.asked_at > %(since)s
    )
ORDER BY x.address LIMIT %(limit)s;

-- name: known
-- What is known of addresses: that they work since a time, all else since another.
SELECT
    address, state, says, status, chain, asked_at
FROM link_state
WHERE
    site_id = %(site_id)s AND address = any(%(addresses)s)
    AND asked_at > CASE WHEN state = 'works' THEN %(works_since)s ELSE %(since)s END;

-- name: of_reading
-- The addresses that the page of a reading leads to, in the order of its links.
SELECT x.link ->> 'address' AS address FROM reading r JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL jsonb_array_elements(i.links) WITH ORDINALITY AS x (link, at)
WHERE r.id = %(reading_id)s
ORDER BY x.at;

-- name: keep
-- What addresses lead to, in place of what was known of them.
INSERT INTO link_state (site_id, address, state, says, status, chain)
VALUES (%(site_id)s, %(address)s, %(state)s, %(says)s, %(status)s, %(chain)s)
ON CONFLICT (site_id, address) DO UPDATE
    SET
        state = excluded.state,
        says = excluded.says,
        status = excluded.status,
        chain = excluded.chain,
        asked_at = now();

-- name: forget
-- What is known of addresses that no page of the sweep leads to any more.
DELETE FROM link_state s
WHERE s.site_id = %(site_id)s AND s.asked_at < %(since)s AND NOT EXISTS (
    SELECT
    FROM reading r
    JOIN inventory i ON i.hash = r.inventory
    CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (address text)
    WHERE r.sweep_id = %(sweep_id)s AND x.address = s.address
);

-- name: begin
-- A link check begins, unless one is under way that still goes on.
INSERT INTO link_check (site_id, sweep_id, asked_by) VALUES (
    %(site_id)s, %(sweep_id)s, %(asked_by)s
)
ON CONFLICT (site_id) DO UPDATE
    SET
        sweep_id = excluded.sweep_id,
        asked_by = excluded.asked_by,
        total = 0,
        asked = 0,
        begun_at = now(),
        ended_at = NULL
    WHERE link_check.ended_at IS NOT NULL OR link_check.begun_at < now() - interval '1 hour'
RETURNING site_id;

-- name: followed
-- A sweep that followed all links of its pages counts as a link check, unless one is under way.
INSERT INTO link_check (site_id, sweep_id, asked_by, total, asked, begun_at, ended_at)
SELECT w.site_id, w.id, w.asked_by, n.links, n.links, coalesce(w.started_at, w.created_at), now()
FROM sweep w
CROSS JOIN
    LATERAL (
        SELECT count(DISTINCT x.address)::int AS links
        FROM reading r
        JOIN inventory i ON i.hash = r.inventory
        CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (address text)
        WHERE r.sweep_id = w.id AND x.address <> ''
    ) n
WHERE w.id = %(sweep_id)s
ON CONFLICT (site_id) DO UPDATE SET
    sweep_id = excluded.sweep_id,
    asked_by = excluded.asked_by,
    total = excluded.total,
    asked = excluded.asked,
    begun_at = excluded.begun_at, ended_at = excluded.ended_at
WHERE link_check.ended_at IS NOT NULL;

-- name: count
-- How far a link check is.
UPDATE link_check SET
    total = %(total)s, asked = %(asked)s, ended_at = CASE WHEN %(ended)s THEN now() END
WHERE site_id = %(site_id)s;

-- name: link_check
-- The last link check of a site.
SELECT
    n.sweep_id, n.total, n.asked, n.begun_at, n.ended_at, p.name AS asked_by,
    (
        SELECT jsonb_object_agg(
            s.state, s.count) FROM (
            SELECT state, count(*) FROM link_state
            WHERE site_id = n.site_id
            GROUP BY state
        ) s
    ) AS states
FROM link_check n LEFT JOIN person p ON p.id = n.asked_by
WHERE n.site_id = %(site_id)s;

-- name: of_page
-- What is known of the addresses that the page of a reading leads to.
SELECT s.address, s.state, s.says, s.status, s.chain, s.asked_at
FROM reading r
JOIN sweep w ON w.id = r.sweep_id
JOIN inventory i ON i.hash = r.inventory
CROSS JOIN
    LATERAL (SELECT DISTINCT x.address FROM jsonb_to_recordset(i.links) AS x (address text)) x
JOIN link_state s ON s.site_id = w.site_id AND s.address = x.address
WHERE r.id = %(reading_id)s;
