-- name: add
-- A correction whose page is to be read.
INSERT INTO correction (
    site_id, environment, page_id, finding_id, check_id, cause, place_key, lens, fault, mend,
    insist, as_references, says, why, by_id, description_id
)
SELECT
    w.site_id,
    w.environment,
    f.page_id,
    f.id,
    f.check_id,
    f.cause,
    f.place_key,
    w.lens,
    f.says,
    %(mend)s,
    %(insist)s,
    %(as_references)s,
    %(says)s,
    %(why)s,
    %(by_id)s,
    (
        SELECT d.id FROM description d
        WHERE d.id = %(description_id)s AND d.site_id = w.site_id AND d.state = 'answered'
    )
FROM finding f JOIN sweep w ON w.id = f.sweep_id
WHERE f.id = %(finding_id)s
RETURNING id;

-- name: by_id
-- One correction.
SELECT * FROM correction_row
WHERE id = %(id)s;

-- name: lock
-- One correction, held until the transaction ends.
SELECT id FROM correction
WHERE id = %(id)s FOR UPDATE;

-- name: lock_page
-- A page, held until the transaction ends: its drafts fit together.
SELECT id FROM page
WHERE id = %(page_id)s FOR UPDATE;

-- name: lock_writing
-- A page's source is written by one at a time; held until the transaction ends.
SELECT pg_advisory_xact_lock(hashtextextended('writing', %(page_id)s));

-- name: matching
-- Corrections by what they are about and how far they are, the newest first.
SELECT * FROM correction_row
WHERE {matches} AND (%(before)s::bigint IS NULL OR id < %(before)s)
ORDER BY id DESC LIMIT %(limit)s;

-- name: count
-- How many corrections there are, counted to ten thousand.
SELECT count(*)::int AS count
FROM (
    SELECT FROM correction_row
    WHERE {matches}
    LIMIT 10000
) found;

-- name: matches
-- Which corrections are wanted; what follows WHERE is set into the queries above.
SELECT FROM correction_row
WHERE
    site_id = %(site_id)s
    AND (%(states)s::text[] IS NULL OR state = any(%(states)s))
    AND (%(environment)s::text IS NULL OR environment = %(environment)s)
    AND (%(by_id)s::bigint IS NULL OR by_id = %(by_id)s)
    AND (%(path)s::text IS NULL OR path = %(path)s)
    AND (%(cause)s::text IS NULL OR cause = %(cause)s)
    AND (%(ids)s::bigint[] IS NULL OR id = any(%(ids)s));

-- name: came_back
-- How many corrections of a person are in conflict, by site; of all sites, or of one.
SELECT site, count(*)::int AS corrections FROM correction_row
WHERE
    by_id = %(by_id)s
    AND state = 'conflict'
    AND site_id IN (SELECT sites_of(%(by_id)s))
    AND (%(site_id)s::bigint IS NULL OR site_id = %(site_id)s)
GROUP BY site
ORDER BY site;

-- name: drafts_of_page
-- The drafts of a page's source, in the order in which they were made.
SELECT * FROM correction_row
WHERE page_id = %(page_id)s AND environment = %(environment)s AND state = 'drafted'
ORDER BY id;

-- name: set_state
-- A correction goes from a state to another.
UPDATE correction SET
    state = %(state)s,
    problem = %(problem)s,
    may_insist = %(may_insist)s,
    may_reference = %(may_reference)s,
    insist = coalesce(%(insist)s, insist),
    as_references = coalesce(%(as_references)s, as_references),
    changed_at = now()
WHERE id = %(id)s;

-- name: set_draft
-- What drafting a correction came to.
UPDATE correction SET
    says = %(says)s,
    edits = %(edits)s,
    source_hash = %(source_hash)s,
    place = %(place)s,
    mends_too = %(mends_too)s,
    picture_before = %(picture_before)s,
    picture_after = %(picture_after)s,
    box_before = %(box_before)s,
    box_after = %(box_after)s
WHERE id = %(id)s;

-- name: set_written
-- Corrections stand in the source now.
UPDATE correction SET
    writing_id = %(writing_id)s,
    written_at = now(),
    written_after = (SELECT coalesce(max(id), 0) FROM sweep)
WHERE id = any(%(ids)s);

-- name: set_edits
-- Where a draft's edits lie after its source was written for other corrections.
UPDATE correction SET edits = %(edits)s, source_hash = %(source_hash)s, place = %(place)s
WHERE id = %(id)s;

-- name: add_event
-- A move of a correction.
INSERT INTO correction_event (correction_id, move, before, after, by_id, actor, why)
VALUES (
    %(correction_id)s, %(move)s, %(before)s, %(after)s, %(by_id)s, %(actor)s, %(why)s
);

-- name: events
-- The moves of a correction, the first one first.
SELECT e.id, e.move, e.before, e.after, p.name AS by, e.actor, e.why, e.at
FROM correction_event e LEFT JOIN person p ON p.id = e.by_id
WHERE e.correction_id = %(correction_id)s
ORDER BY e.id;

-- name: keep_source
-- A source, once per content.
INSERT INTO source_text (hash, body, charset, own_start, own_end, file, is_built)
VALUES (
    %(hash)s, %(body)s, %(charset)s, %(own_start)s, %(own_end)s, %(file)s, %(is_built)s
)
ON CONFLICT DO NOTHING;

-- name: source
-- A source as it was.
SELECT hash, body, charset, own_start, own_end, file, is_built FROM source_text
WHERE hash = %(hash)s;

-- name: add_writing
-- A page's source is about to be written.
INSERT INTO writing (
    site_id, environment, page_id, before_hash, after_hash, edits, takes_back, by_id
)
VALUES (
    %(site_id)s,
    %(environment)s,
    %(page_id)s,
    %(before_hash)s,
    %(after_hash)s,
    %(edits)s,
    %(takes_back)s,
    %(by_id)s
)
RETURNING id;

-- name: end_writing
-- A page's source was written, or was not.
UPDATE writing SET state = %(state)s, done_at = now()
WHERE id = %(id)s;

-- name: begun_writing
-- A writing of a page that nobody ended: whoever wrote it died.
SELECT id, before_hash, after_hash, edits, takes_back, state FROM writing
WHERE page_id = %(page_id)s AND environment = %(environment)s AND state = 'begun'
ORDER BY id DESC LIMIT 1;

-- name: writings_since
-- How a page's source was written from a writing on, that one included.
SELECT id, before_hash, after_hash, edits, takes_back, state FROM writing
WHERE
    page_id = %(page_id)s AND environment = %(environment)s AND id >= %(since)s AND state = 'done'
ORDER BY id;

-- name: of_writing
-- The corrections that a writing is to write.
SELECT * FROM correction_row
WHERE writing_id = %(writing_id)s
ORDER BY id;

-- name: set_writing
-- Corrections are about to be written.
UPDATE correction SET writing_id = %(writing_id)s
WHERE id = any(%(ids)s);

-- name: alike
-- Where else a sweep found what has the same cause as a finding, or the same on another place of
-- the same picture, and it is still to be mended: a place per row.
WITH own AS (
    SELECT f.sweep_id, f.check_id, f.cause, coalesce(x.hash, x.source) AS picture
    FROM finding f
    JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
    LEFT JOIN inventory i ON i.hash = r.inventory AND f.check_id LIKE 'pictures/%%'
    LEFT JOIN
        LATERAL jsonb_to_recordset(i.pictures)
            AS x (source text, hash text, selector text)
        ON x.selector = f.selector
    WHERE f.id = %(finding_id)s
    LIMIT 1
),

shown AS (
    SELECT r.id AS reading_id, x.selector
    FROM own
    JOIN reading r ON r.sweep_id = own.sweep_id
    JOIN inventory i ON i.hash = r.inventory
    CROSS JOIN
        LATERAL jsonb_to_recordset(i.pictures)
            AS x (source text, hash text, selector text)
    WHERE own.picture <> '' AND coalesce(x.hash, x.source) = own.picture
)

SELECT f.id, p.path, f.says, f.excerpt, f.selector
FROM own
JOIN finding f ON f.sweep_id = own.sweep_id AND f.check_id = own.check_id
JOIN page p ON p.id = f.page_id
WHERE
    (f.counts OR f.is_doubtful)
    AND (f.cause = own.cause OR (f.reading_id, f.selector) IN (SELECT * FROM shown))
ORDER BY f.ordinal, f.id
LIMIT %(limit)s;

-- name: to_prove
-- Written corrections of pages that a sweep read, with what it found there of the same check.
SELECT
    c.id,
    c.check_id AS "check",
    c.place_key,
    c.place,
    r.content_hash,
    t.before_hash,
    t.after_hash,
    t.edits,
    s.is_built,
    coalesce(
        (
            SELECT
                jsonb_agg(
                    jsonb_build_object(
                        'line', f.line, 'column', f."column", 'place_key', f.place_key
                    )
                )
            FROM finding f
            WHERE f.reading_id = r.id AND f.sweep_id = r.sweep_id AND f.check_id = c.check_id
        ), '[]'
    ) AS found
FROM correction c
JOIN reading r ON r.page_id = c.page_id AND r.sweep_id = %(sweep_id)s
JOIN writing t ON t.id = c.writing_id
JOIN source_text s ON s.hash = t.after_hash
WHERE
    c.site_id = %(site_id)s
    AND c.environment = %(environment)s
    AND c.state = 'written'
    AND r.status = 'read'
    AND c.written_after < r.sweep_id
    AND c.check_id = any(%(checks)s)
ORDER BY c.id;
