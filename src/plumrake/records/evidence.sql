-- name: keep
-- A picture, once per content.
INSERT INTO evidence (hash, media_type, content) VALUES (
    %(hash)s, %(media_type)s, %(content)s
) ON CONFLICT DO NOTHING;

-- name: release_pictures
-- Readings of old sweeps, but the newest of each environment, no longer show their pages' pictures,
-- nor the views of them.
UPDATE reading r SET picture = NULL, page_views = NULL, shown = NULL FROM (
    SELECT id
    FROM
        (
            SELECT
                id,
                created_at,
                row_number() OVER (PARTITION BY site_id, environment ORDER BY id DESC) AS age
            FROM sweep
        ) w
    WHERE w.age > %(kept_sweeps)s AND w.created_at < now() - make_interval(days => %(days)s)
) old
WHERE
    r.sweep_id = old.id
    AND (r.picture IS NOT NULL OR r.page_views IS NOT NULL OR r.shown IS NOT NULL);

-- name: release_page_pictures
-- Pictures that were asked for go with the views of their reading, and after a while.
DELETE FROM page_picture d USING reading r
WHERE
    r.id = d.reading_id
    AND (r.page_views IS NULL OR d.asked_at < now() - make_interval(days => %(days)s));

-- name: release_correction_pictures
-- Corrections that nobody has worked on for long no longer show what their pages looked like.
UPDATE correction SET picture_before = NULL, picture_after = NULL
WHERE
    changed_at < now() - make_interval(days => %(days)s)
    AND (picture_before IS NOT NULL OR picture_after IS NOT NULL);

-- name: forget
-- Evidence that nothing shows any more.
DELETE FROM evidence e
WHERE NOT EXISTS (
    SELECT FROM reading r
    WHERE r.picture = e.hash) AND NOT EXISTS (
    SELECT FROM cause_picture c
    WHERE c.picture = e.hash
) AND NOT EXISTS (
    SELECT FROM clearance g
    WHERE g.picture = e.hash
) AND NOT EXISTS (
    SELECT FROM correction k
    WHERE k.picture_before = e.hash OR k.picture_after = e.hash
) AND NOT EXISTS (
    SELECT FROM page_picture d
    WHERE d.picture = e.hash
);

-- name: forget_inventories
-- Inventories that no reading has any more.
DELETE FROM inventory i
WHERE NOT EXISTS (
    SELECT FROM reading r
    WHERE r.inventory = i.hash
);

-- name: forget_ways
-- Page views that no reading has any more.
DELETE FROM page_view y
WHERE NOT EXISTS (
    SELECT FROM reading r
    WHERE r.page_views = y.hash
);

-- name: forget_shown
-- What pages had to show, where no reading, no sweep and no answer shows it any more.
DELETE FROM page_evidence e
WHERE NOT EXISTS (
    SELECT FROM reading r
    WHERE r.shown = e.hash) AND NOT EXISTS (
    SELECT FROM sweep w
    WHERE w.shown = e.hash
) AND NOT EXISTS (
    SELECT FROM review_answer a
    WHERE a.shown = e.hash
);

-- name: by_hash
-- A piece of evidence; its content is null where it was carried into the store.
SELECT hash, media_type, content FROM evidence
WHERE hash = %(hash)s;

-- name: to_carry
-- Contents that have been here for a while, the oldest first.
SELECT hash, media_type, content FROM evidence
WHERE content IS NOT NULL AND created_at < now() - make_interval(secs => %(seconds)s)
ORDER BY created_at
LIMIT %(limit)s;

-- name: mark_carried
-- Contents that are in the store.
UPDATE evidence e SET content = NULL
WHERE e.hash = any(%(names)s);

-- name: to_drop
-- What nothing has shown for so long that no copy of the database of use knows it.
SELECT d.hash FROM evidence_dropped d
WHERE d.dropped_at < now() - make_interval(days => %(days)s)
ORDER BY d.dropped_at
LIMIT %(limit)s;

-- name: still_shown
-- Those of some contents that came back meanwhile.
SELECT e.hash FROM evidence e
WHERE e.hash = any(%(names)s);

-- name: mark_dropped
-- Contents that the store does not have any more, or has for what came back.
DELETE FROM evidence_dropped d
WHERE d.hash = any(%(names)s);

-- name: carried
-- Contents that were carried into the store, from one hash on.
SELECT hash FROM evidence
WHERE content IS NULL AND hash > %(after)s
ORDER BY hash
LIMIT %(limit)s;

-- name: bring_back
-- A content that is here again.
UPDATE evidence SET content = %(content)s
WHERE hash = %(hash)s AND content IS NULL;

-- name: figures
-- How many contents are here, and how many were carried into the store.
SELECT
    count(*) FILTER (WHERE content IS NOT NULL)::integer AS here,
    count(*) FILTER (WHERE content IS NULL)::integer AS carried
FROM evidence;
