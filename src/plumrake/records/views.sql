-- name: sections
-- The sections below a path, one step deep, with their figures.
WITH below AS (
    SELECT
        r.id,
        r.ready,
        r.status,
        %(under)s || split_part(substr(p.path, length(%(under)s) + 1), '/', 1)
        || CASE WHEN position('/' IN substr(p.path, length(%(under)s) + 1)) > 0 THEN '/' ELSE '' END
            AS section
    FROM reading r
    JOIN page p ON p.id = r.page_id
    WHERE
        r.sweep_id = %(sweep_id)s AND starts_with(p.path, %(under)s) AND NOT r.left_out_page
),

faults AS (
    SELECT b.section, f.weight, count(*) AS n
    FROM below b
    JOIN finding f ON f.reading_id = b.id AND f.sweep_id = %(sweep_id)s AND f.counts
    GROUP BY 1, 2
)

SELECT
    b.section AS path, count(*)::int AS pages, count(*) FILTER (WHERE b.ready)::int AS ready,
    count(*) FILTER (WHERE b.status = 'unreadable')::int AS unreadable,
    coalesce(
        (
            SELECT n FROM faults f
            WHERE f.section = b.section AND f.weight = 'barrier'
        ), 0
    )::int AS barriers,
    coalesce(
        (
            SELECT n FROM faults f
            WHERE f.section = b.section AND f.weight = 'obstacle'
        ), 0
    )::int AS obstacles,
    coalesce(
        (
            SELECT n FROM faults f
            WHERE f.section = b.section AND f.weight = 'friction'
        ), 0
    )::int AS frictions,
    b.section LIKE '%%/' AND count(*) > 1 AS has_more
FROM below b
GROUP BY b.section
ORDER BY b.section LIMIT 1000;

-- name: pictures
-- The pictures of a sweep's pages by the content of their file: uses, pages, the texts in use;
-- contradictions are several texts.
WITH used AS (
    SELECT
        coalesce(x.hash, x.source, '') AS file_key,
        x.file,
        x.source,
        x.name,
        coalesce(x.decorative, FALSE) AS decorative,
        x.selector,
        p.path,
        CASE
            WHEN
                r.picture IS NOT NULL AND jsonb_typeof(x.box) = 'array'
                THEN jsonb_build_object('reading', r.id, 'box', x.box)
        END AS cut
    FROM reading r JOIN page p ON p.id = r.page_id JOIN inventory i ON i.hash = r.inventory
    CROSS JOIN
        LATERAL jsonb_to_recordset(i.pictures)
            AS x (
                name text,
                file text,
                source text,
                hash text,
                decorative boolean,
                selector text,
                box jsonb
            )
    WHERE r.sweep_id = %(sweep_id)s AND coalesce(x.hash, x.source, '') <> ''
),

grouped AS (
    SELECT
        file_key AS key,
        min(file) AS file,
        min(source) AS source,
        count(*)::int AS uses,
        count(DISTINCT path)::int AS pages,
        count(*) FILTER (WHERE decorative)::int AS as_decorative,
        count(*) FILTER (WHERE name = '' AND NOT decorative)::int AS without_text,
        coalesce(array_agg(DISTINCT name) FILTER (WHERE name <> ''), '{}') AS texts,
        min(path) AS first_path,
        (array_agg(cut ORDER BY path) FILTER (WHERE cut IS NOT NULL))[1] AS cut
    FROM used
    GROUP BY file_key
)

SELECT *, cardinality(texts) > 1 AS contradictory FROM grouped
WHERE
    (uses, key COLLATE "C") < (%(after_uses)s, %(after_key)s)
    AND (NOT %(contradictory)s OR cardinality(texts) > 1)
    AND (NOT %(without_text)s OR without_text > 0)
ORDER BY uses DESC, key COLLATE "C" DESC LIMIT %(limit)s;

-- name: picture_uses
-- Where one picture is used, with the text it has there.
SELECT
    p.path, x.selector, x.name AS text, coalesce(x.decorative, FALSE) AS decorative,
    CASE
        WHEN
            r.picture IS NOT NULL AND jsonb_typeof(x.box) = 'array'
            THEN jsonb_build_object('reading', r.id, 'box', x.box)
    END AS cut
FROM reading r JOIN page p ON p.id = r.page_id JOIN inventory i ON i.hash = r.inventory
CROSS JOIN
    LATERAL jsonb_to_recordset(i.pictures)
        AS x (name text, source text, hash text, decorative boolean, selector text, box jsonb)
WHERE r.sweep_id = %(sweep_id)s AND coalesce(x.hash, x.source, '') = %(key)s
ORDER BY p.path, x.selector
LIMIT 1000;

-- name: colours
-- The pairs of text and background colour of a sweep's pages, the most used that fail first.
SELECT
    x.text,
    x.background,
    min(x.ratio)::float8 AS ratio,
    max(x.required)::float8 AS required,
    bool_and(x.passes) AS passes,
    sum(x.uses)::int AS uses,
    count(*)::int AS pages, min(p.path) AS first_path
FROM reading r JOIN page p ON p.id = r.page_id JOIN inventory i ON i.hash = r.inventory
CROSS JOIN
    LATERAL jsonb_to_recordset(i.colours)
        AS x (text text, background text, ratio numeric, required numeric, passes boolean, uses int)
WHERE r.sweep_id = %(sweep_id)s
GROUP BY x.text, x.background
ORDER BY bool_and(x.passes), sum(x.uses) DESC, x.text, x.background
LIMIT %(limit)s;

-- name: links
-- The links of a sweep's pages by text and target, the most used first.
SELECT l.*, s.state, s.says, s.status, s.chain, s.asked_at FROM (
    SELECT
        x.name AS text,
        min(x.target) AS target,
        coalesce(x.address, x.target) AS address,
        count(*)::int AS uses,
        count(DISTINCT r.page_id)::int AS pages,
        min(p.path) AS first_path
    FROM reading r JOIN page p ON p.id = r.page_id JOIN inventory i ON i.hash = r.inventory
    CROSS JOIN
        LATERAL jsonb_to_recordset(i.links)
            AS x (name text, target text, address text, selector text)
    WHERE
        r.sweep_id = %(sweep_id)s AND (%(text)s::text IS NULL OR lower(x.name) = lower(%(text)s))
        AND (%(target)s::text IS NULL OR %(target)s IN (x.target, x.address))
    GROUP BY x.name, coalesce(x.address, x.target)
) l
LEFT JOIN link_state s ON s.site_id = %(site_id)s AND s.address = l.address
WHERE
    (l.uses, l.text COLLATE "C", l.address COLLATE "C")
    < (%(after_uses)s, %(after_text)s, %(after_target)s)
    AND (%(states)s::text[] IS NULL OR s.state = any(%(states)s))
ORDER BY l.uses DESC, l.text COLLATE "C" DESC, l.address COLLATE "C" DESC LIMIT %(limit)s;

-- name: titles
-- The titles of a sweep's pages, the most shared first.
SELECT r.title, count(*)::int AS pages, (array_agg(p.path ORDER BY p.path))[1:10] AS paths
FROM reading r JOIN page p ON p.id = r.page_id
WHERE r.sweep_id = %(sweep_id)s AND r.status = 'read'
GROUP BY r.title
HAVING (count(*), r.title COLLATE "C") < (%(after_pages)s, %(after_title)s)
ORDER BY count(*) DESC, r.title COLLATE "C" DESC
LIMIT %(limit)s;

-- name: picture_causes
-- The causes of the faults that a picture's places have: those of the checks of pictures that stand
-- on the picture itself.
SELECT DISTINCT f.cause AS key
FROM reading r JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL jsonb_to_recordset(i.pictures) AS x (source text, hash text, selector text)
JOIN
    finding f
    ON
        f.reading_id = r.id
        AND f.sweep_id = r.sweep_id
        AND f.selector = x.selector
        AND f.check_id LIKE 'pictures/%%'
        AND f.counts
WHERE r.sweep_id = %(sweep_id)s AND coalesce(x.hash, x.source, '') = %(key)s
ORDER BY 1;
