-- name: ask
-- A picture is asked for, if not too many wait already; one that could not be had is tried again
-- after a minute, one that was never drawn after ten.
INSERT INTO page_picture (reading_id, kind)
SELECT
    %(reading_id)s::bigint,
    %(kind)s::text
WHERE
    (
        SELECT count(*) FROM page_picture
        WHERE state = 'waiting' AND asked_at > now() - interval '10 minutes'
    ) < %(most)s
ON CONFLICT (reading_id, kind) DO UPDATE
    SET state = 'waiting', problem = '', asked_at = now()
    WHERE
    (page_picture.problem <> '' AND page_picture.asked_at < now() - interval '1 minute')
    OR (
        page_picture.state = 'waiting'
        AND page_picture.asked_at < now() - interval '10 minutes'
    )
RETURNING reading_id;

-- name: picture
-- A picture, as far as it is drawn.
SELECT kind, state, picture, problem, has_changed FROM page_picture
WHERE reading_id = %(reading_id)s AND kind = %(kind)s;

-- name: keep
-- What was drawn, or why it was not.
UPDATE page_picture SET
    state = 'ready', picture = %(picture)s, problem = %(problem)s, has_changed = %(has_changed)s
WHERE reading_id = %(reading_id)s AND kind = %(kind)s;

-- name: of_reading
-- Where the page of a reading is to be had again.
SELECT
    r.sweep_id,
    p.path,
    r.content_hash
FROM reading r JOIN page p ON p.id = r.page_id
WHERE r.id = %(reading_id)s;

-- name: show_as_read
-- A picture of a page that is as it was read is the picture of that reading, which had none.
UPDATE reading SET picture = %(picture)s
WHERE id = %(reading_id)s AND picture IS NULL;
