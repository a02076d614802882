-- name: addresses
-- The addresses that a sweep's pages lead to; those that were asked since a time, and work, are left out.
SELECT DISTINCT x.address FROM reading r JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (address text)
WHERE r.sweep_id = %(sweep_id)s AND x.address <> '' AND NOT EXISTS (
    SELECT FROM link_state s WHERE s.site_id = %(site_id)s AND s.address = x.address AND s.state = 'works' AND s.asked_at > %(since)s)
ORDER BY x.address LIMIT %(limit)s

-- name: known
-- What is known of addresses: that they work since a time, all else since another.
SELECT address, state, says, status, chain, asked_at FROM link_state WHERE site_id = %(site_id)s AND address = ANY(%(addresses)s)
    AND asked_at > CASE WHEN state = 'works' THEN %(works_since)s ELSE %(since)s END

-- name: of_reading
-- The addresses that the page of a reading leads to, in the order of its links.
SELECT x.address FROM reading r JOIN inventory i ON i.hash = r.inventory CROSS JOIN LATERAL ROWS FROM (jsonb_to_recordset(i.links) AS (address text))
    WITH ORDINALITY AS x (address, at) WHERE r.id = %(reading_id)s ORDER BY x.at

-- name: keep
-- What addresses lead to, in place of what was known of them.
INSERT INTO link_state (site_id, address, state, says, status, chain)
VALUES (%(site_id)s, %(address)s, %(state)s, %(says)s, %(status)s, %(chain)s)
ON CONFLICT (site_id, address) DO UPDATE SET state = EXCLUDED.state, says = EXCLUDED.says, status = EXCLUDED.status, chain = EXCLUDED.chain, asked_at = now()

-- name: forget
-- What is known of addresses that no page of the sweep leads to any more.
DELETE FROM link_state s WHERE s.site_id = %(site_id)s AND s.asked_at < %(since)s AND NOT EXISTS (
    SELECT FROM reading r JOIN inventory i ON i.hash = r.inventory CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (address text)
    WHERE r.sweep_id = %(sweep_id)s AND x.address = s.address)

-- name: begin
-- A round begins, unless one is under way that still goes on.
INSERT INTO link_round (site_id, sweep_id, asked_by) VALUES (%(site_id)s, %(sweep_id)s, %(asked_by)s)
ON CONFLICT (site_id) DO UPDATE SET sweep_id = EXCLUDED.sweep_id, asked_by = EXCLUDED.asked_by, total = 0, asked = 0, begun_at = now(), ended_at = NULL
WHERE link_round.ended_at IS NOT NULL OR link_round.begun_at < now() - interval '1 hour'
RETURNING site_id

-- name: followed
-- A sweep that followed all links of its pages counts as a round, unless one is under way.
INSERT INTO link_round (site_id, sweep_id, asked_by, total, asked, begun_at, ended_at)
SELECT w.site_id, w.id, w.asked_by, n.links, n.links, COALESCE(w.started_at, w.created_at), now() FROM sweep w CROSS JOIN LATERAL (
    SELECT count(DISTINCT x.address)::int AS links FROM reading r JOIN inventory i ON i.hash = r.inventory
    CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (address text) WHERE r.sweep_id = w.id AND x.address <> '') n
WHERE w.id = %(sweep_id)s
ON CONFLICT (site_id) DO UPDATE SET sweep_id = EXCLUDED.sweep_id, asked_by = EXCLUDED.asked_by, total = EXCLUDED.total, asked = EXCLUDED.asked,
    begun_at = EXCLUDED.begun_at, ended_at = EXCLUDED.ended_at
WHERE link_round.ended_at IS NOT NULL

-- name: count
-- How far a round is.
UPDATE link_round SET total = %(total)s, asked = %(asked)s, ended_at = CASE WHEN %(ended)s THEN now() END WHERE site_id = %(site_id)s

-- name: round
-- The last round of a site.
SELECT n.sweep_id, n.total, n.asked, n.begun_at, n.ended_at, p.name AS asked_by,
    (SELECT jsonb_object_agg(s.state, s.count) FROM (SELECT state, count(*) FROM link_state WHERE site_id = n.site_id GROUP BY state) s) AS states
FROM link_round n LEFT JOIN person p ON p.id = n.asked_by WHERE n.site_id = %(site_id)s

-- name: of_page
-- What is known of the addresses that the page of a reading leads to.
SELECT s.address, s.state, s.says, s.status, s.chain, s.asked_at FROM reading r JOIN sweep w ON w.id = r.sweep_id JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL (SELECT DISTINCT x.address FROM jsonb_to_recordset(i.links) AS x (address text)) x
JOIN link_state s ON s.site_id = w.site_id AND s.address = x.address WHERE r.id = %(reading_id)s
