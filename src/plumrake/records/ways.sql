-- name: is_put_away
-- Whether nobody wants to see the way any more.
SELECT count(*) FROM way_put_away
WHERE site_id = %(site_id)s;

-- name: put_away
-- Nobody wants to see the way any more.
INSERT INTO way_put_away (site_id, by_id) VALUES (%(site_id)s, %(by_id)s)
ON CONFLICT DO NOTHING;

-- name: show_again
-- The way is seen again.
DELETE FROM way_put_away
WHERE site_id = %(site_id)s;

-- name: clearances
-- How often the gate was asked.
SELECT count(*) FROM clearance
WHERE site_id = %(site_id)s;
