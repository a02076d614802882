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
    JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
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

-- name: source_of
-- The address of the picture of a finding, as its page has it.
SELECT x.source AS text
FROM finding f
JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
JOIN inventory i ON i.hash = r.inventory
CROSS JOIN
    LATERAL jsonb_to_recordset(i.pictures)
        AS x (source text, selector text)
WHERE f.id = %(finding_id)s AND x.selector = f.selector
LIMIT 1;

-- name: add_library_text
-- A text was written into the media library.
INSERT INTO library_text (
    site_id, environment, finding_id, picture, number, before, after, by_id
)
VALUES (
    %(site_id)s,
    %(environment)s,
    %(finding_id)s,
    %(picture)s,
    %(number)s,
    %(before)s,
    %(after)s,
    %(by_id)s
)
RETURNING id;

-- name: library_text_fields
-- A text of a media library, with who wrote it; set into the queries below.
SELECT
    t.id,
    s.slug AS site,
    t.site_id,
    t.environment,
    t.finding_id,
    t.picture,
    t.number,
    t.before,
    t.after,
    p.name AS by,
    t.written_at,
    t.taken_back_at
FROM library_text t
JOIN site s ON s.id = t.site_id
LEFT JOIN person p ON p.id = t.by_id;

-- name: library_text
-- A text of a media library.
{library_text_fields}
WHERE t.id = %(id)s;

-- name: library_texts
-- The texts that were written into the media library of a site, the newest first.
{library_text_fields}
WHERE t.site_id = %(site_id)s AND (%(before)s::bigint IS NULL OR t.id < %(before)s)
ORDER BY t.id DESC LIMIT %(limit)s;

-- name: library_text_of
-- The text of a finding's picture that was written last, if it was not taken back.
{library_text_fields}
WHERE t.finding_id = %(finding_id)s AND t.taken_back_at IS NULL
ORDER BY t.id DESC LIMIT 1;

-- name: end_library_text
-- A text was taken back.
UPDATE library_text SET taken_back_at = now()
WHERE id = %(id)s AND taken_back_at IS NULL RETURNING id;
