-- name: ask_texts
-- Texts of a picture are asked for; asked for again after a while, they are looked for anew.
INSERT INTO picture_text (finding_id) VALUES (%(finding_id)s)
ON CONFLICT (finding_id) DO UPDATE
    SET state = 'waiting', items = '[]', problem = '', asked_at = now()
    WHERE picture_text.asked_at < now() - interval '10 minutes'
RETURNING finding_id;

-- name: texts
-- The texts that the picture of a finding might get, as far as they were looked for.
SELECT state, items, problem FROM picture_text
WHERE finding_id = %(finding_id)s;

-- name: keep_texts
-- What was found.
UPDATE picture_text SET state = 'ready', items = %(items)s, problem = %(problem)s
WHERE finding_id = %(finding_id)s;

-- name: elsewhere
-- What the picture of a finding is called on other places of its sweep, and on how many pages.
WITH own AS (
    SELECT f.sweep_id, f.reading_id, f.selector, coalesce(x.hash, x.source) AS picture
    FROM finding f
    JOIN reading r ON r.id = f.reading_id
    JOIN inventory i ON i.hash = r.inventory
    CROSS JOIN
        LATERAL jsonb_to_recordset(i.pictures)
            AS x (source text, hash text, selector text)
    WHERE f.id = %(finding_id)s AND x.selector = f.selector
    LIMIT 1
)

SELECT x.name AS text, count(DISTINCT r.page_id)::int AS pages
FROM own
JOIN reading r ON r.sweep_id = own.sweep_id
JOIN inventory i ON i.hash = r.inventory
CROSS JOIN
    LATERAL jsonb_to_recordset(i.pictures)
        AS x (name text, source text, hash text, selector text)
WHERE
    own.picture <> ''
    AND coalesce(x.hash, x.source) = own.picture
    AND x.name <> ''
    AND (r.id, x.selector) <> (own.reading_id, own.selector)
GROUP BY x.name
ORDER BY 2 DESC, 1
LIMIT 20;

-- name: title_of
-- The title of a page as a sweep read it.
SELECT r.title AS text FROM reading r JOIN page p ON p.id = r.page_id
WHERE r.sweep_id = %(sweep_id)s AND p.path = %(path)s;

-- name: ask_description
-- The describer is to be asked about the picture of a finding.
INSERT INTO description (site_id, finding_id, asked_by)
VALUES (%(site_id)s, %(finding_id)s, %(asked_by)s)
RETURNING id;

-- name: tell_description
-- What the describer is sent, kept before it is.
UPDATE description SET
    picture_hash = %(picture_hash)s, picture_bytes = %(picture_bytes)s, told = %(told)s
WHERE id = %(id)s;

-- name: end_description
-- What came of it.
UPDATE description SET
    state = %(state)s, text = %(text)s, problem = %(problem)s, answered_at = now()
WHERE id = %(id)s;

-- name: description
-- What the describer was sent, and answered.
{description_fields}
WHERE d.id = %(id)s;

-- name: descriptions
-- What the describer was sent of a site, the newest first.
{description_fields}
WHERE d.site_id = %(site_id)s AND (%(before)s::bigint IS NULL OR d.id < %(before)s)
ORDER BY d.id DESC LIMIT %(limit)s;

-- name: description_fields
-- What is known of a description; set into the queries above.
SELECT
    d.id,
    d.site_id,
    d.finding_id,
    d.picture_hash,
    d.picture_bytes,
    d.told,
    d.state,
    d.text,
    d.problem,
    p.name AS asked_by,
    d.asked_at,
    d.answered_at
FROM description d LEFT JOIN person p ON p.id = d.asked_by;
