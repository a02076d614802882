-- name: keep
-- An item as its content system lists it.
INSERT INTO item (
    site_id,
    environment,
    number,
    kind,
    status,
    path,
    title,
    author,
    email,
    edit,
    changed_at,
    due_at
)
VALUES (
    %(site_id)s,
    %(environment)s,
    %(number)s,
    %(kind)s,
    %(status)s,
    %(path)s,
    %(title)s,
    %(author)s,
    %(email)s,
    %(edit)s,
    %(changed_at)s,
    %(due_at)s
)
ON CONFLICT (site_id, environment, number) DO UPDATE SET
    kind = excluded.kind,
    status = excluded.status,
    path = excluded.path,
    title = excluded.title,
    author = excluded.author,
    email = excluded.email,
    edit = excluded.edit,
    changed_at = excluded.changed_at,
    due_at = excluded.due_at,
    seen_at = now();

-- name: forget
-- An item that its content system has no more.
DELETE FROM item
WHERE site_id = %(site_id)s AND environment = %(environment)s AND number = %(number)s;

-- name: forget_unseen
-- The items of some statuses that were not listed any more.
DELETE FROM item
WHERE
    site_id = %(site_id)s
    AND environment = %(environment)s
    AND status = any(%(statuses)s)
    AND seen_at < %(before)s;

-- name: going_out
-- What is not public yet, with its newest answer and who its author is here: scheduled first, by
-- when it is due, then what was changed last.
SELECT
    i.*,
    c.id AS clearance_id,
    c.state AS clearance_state,
    c.decision,
    c.reason,
    c.problem_code,
    c.answered_at,
    (
        SELECT count(*)::int FROM jsonb_array_elements(c.judged) j
        WHERE j ->> 'standing' = 'holds'
    ) AS holding
FROM item_row i
LEFT JOIN clearance c
    ON
        c.id = (
            SELECT max(l.id) FROM clearance l
            WHERE l.site_id = i.site_id AND l.item = i.number
        )
WHERE
    i.site_id = %(site_id)s
    AND i.environment = %(environment)s
    AND i.status <> 'publish'
    AND (%(person_id)s::bigint IS NULL OR i.person_id = %(person_id)s)
ORDER BY i.due_at NULLS LAST, i.changed_at DESC, i.id
LIMIT %(limit)s;

-- name: at
-- The item that makes the page at a path; of several the public one.
SELECT i.* FROM item_row i
WHERE
    i.site_id = (
        SELECT s.id FROM site s
        WHERE s.slug = %(site)s
    )
    AND i.environment = %(environment)s
    AND i.path = %(path)s
ORDER BY i.status = 'publish' DESC, i.id
LIMIT 1;

-- name: by_number
-- An item by what its content system knows it by.
SELECT i.* FROM item_row i
WHERE
    i.site_id = %(site_id)s AND i.environment = %(environment)s AND i.number = %(number)s;

-- name: author_of
-- Who wrote most of the items at some paths, of those that are known here.
SELECT i.person_id FROM item_row i
JOIN person p ON p.id = i.person_id
WHERE
    i.site_id = %(site_id)s
    AND i.environment = %(environment)s
    AND i.path = any(%(paths)s)
    AND p.active
    AND role_in(p.id, i.site_id) <> 'reader'
GROUP BY i.person_id
ORDER BY count(*) DESC, i.person_id LIMIT 1;

-- name: due_soon
-- Scheduled items that are due within some minutes and were not read since a while.
SELECT i.number FROM item i
WHERE
    i.site_id = %(site_id)s
    AND i.environment = %(environment)s
    AND i.status = 'future'
    AND i.due_at < now() + make_interval(mins => %(minutes)s)
    AND coalesce(
        (
            SELECT max(c.asked_at) FROM clearance c
            WHERE c.site_id = i.site_id AND c.item = i.number
        ) < now() - make_interval(mins => %(minutes)s), TRUE
    );

-- name: authors
-- The authors of a site's items, and who they are here.
SELECT
    lower(i.email) AS email,
    min(i.author) AS author,
    count(*)::int AS items,
    min(i.person_id) AS person_id,
    min(i.person) AS person,
    bool_or(i.by_hand) AS by_hand
FROM item_row i
WHERE i.site_id = %(site_id)s AND i.email <> ''
GROUP BY lower(i.email)
ORDER BY min(i.author), lower(i.email);

-- name: set_author
-- Who an author is here.
INSERT INTO item_author (site_id, email, person_id)
VALUES (%(site_id)s, lower(%(email)s), %(person_id)s)
ON CONFLICT (site_id, email) DO UPDATE SET person_id = excluded.person_id;

-- name: drop_author
-- Who an author is here goes by the e-mail address again.
DELETE FROM item_author
WHERE site_id = %(site_id)s AND email = lower(%(email)s);

-- name: person_for
-- Who somebody of a content system is here, by hand or by e-mail address.
SELECT p.id FROM person p
WHERE
    p.active AND p.id = coalesce(
        (
            SELECT a.person_id FROM item_author a
            WHERE a.site_id = %(site_id)s AND a.email = lower(%(email)s)
        ),
        (
            SELECT o.id FROM person o
            WHERE o.email = lower(%(email)s)
        )
    );

-- name: synced
-- When items were listed last; now, and what it was before.
UPDATE connection c SET synced_at = now()
FROM (
    SELECT site_id, environment, synced_at FROM connection
    WHERE site_id = %(site_id)s AND environment = %(environment)s
) o
WHERE c.site_id = o.site_id AND c.environment = o.environment
RETURNING o.synced_at AS before, now() AS at;

-- name: listed
-- The connections of the kinds whose systems list items.
SELECT site_id, environment FROM connection
WHERE kind = any(%(kinds)s)
ORDER BY site_id, environment;
