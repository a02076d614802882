-- name: store_shown
-- What a page or a site has to show, once per content.
INSERT INTO page_evidence (hash, keys, content) VALUES (%(hash)s, %(keys)s, %(content)s)
ON CONFLICT DO NOTHING;

-- name: shown
-- What a page or a site had to show.
SELECT content FROM page_evidence
WHERE hash = %(hash)s;

-- name: to_review
-- The pages of a sweep as the sample is chosen from.
SELECT
    r.page_id AS page,
    p.path,
    array(SELECT jsonb_object_keys(i.census)) AS builds,
    array(
        SELECT k.key FROM jsonb_each_text(e.keys) k
        WHERE k.value <> ''
    ) AS kinds
FROM reading r
JOIN page p ON p.id = r.page_id
JOIN inventory i ON i.hash = r.inventory
JOIN page_evidence e ON e.hash = r.shown
WHERE r.sweep_id = %(sweep_id)s AND r.status = 'read' AND NOT r.left_out_page
ORDER BY r.id;

-- name: site_links
-- The links of a sweep's pages by text and address.
SELECT
    x.name AS text,
    x.address,
    count(DISTINCT r.page_id)::int AS pages,
    min(p.path) AS first_path
FROM reading r JOIN page p ON p.id = r.page_id JOIN inventory i ON i.hash = r.inventory
CROSS JOIN LATERAL jsonb_to_recordset(i.links) AS x (name text, address text)
WHERE r.sweep_id = %(sweep_id)s AND NOT r.left_out_page AND x.address <> '' AND x.name <> ''
GROUP BY x.name, x.address
ORDER BY x.address, x.name LIMIT 50000;

-- name: menus
-- The pages of a sweep by the menus that they show: how many, and one of them.
SELECT
    count(*)::int AS pages,
    min(p.path) AS first_path,
    (array_agg(r.shown ORDER BY p.path))[1] AS shown
FROM reading r JOIN page p ON p.id = r.page_id JOIN page_evidence e ON e.hash = r.shown
WHERE
    r.sweep_id = %(sweep_id)s
    AND r.status = 'read'
    AND NOT r.left_out_page
    AND e.keys ->> 'repeated-parts' <> ''
GROUP BY e.keys ->> 'repeated-parts'
ORDER BY 1 DESC, 2 LIMIT %(most)s;

-- name: keep_site_shown
-- What the site has to show by a sweep.
UPDATE sweep SET shown = %(hash)s
WHERE id = %(sweep_id)s;

-- name: no_longer_proposed
-- Pages that are not proposed any more; what a person decided stays.
UPDATE review_page SET because = '{}'
WHERE
    site_id = %(site_id)s AND environment = %(environment)s
    AND page_id <> all(%(pages)s::bigint[]) AND because <> '{}';

-- name: drop_undecided
-- Pages that are neither proposed nor decided about.
DELETE FROM review_page
WHERE
    site_id = %(site_id)s
    AND environment = %(environment)s
    AND because = '{}'
    AND chosen IS NULL;

-- name: propose
-- The pages that are proposed, with the reasons.
INSERT INTO review_page (site_id, environment, page_id, because)
SELECT %(site_id)s, %(environment)s, x.page, x.because
FROM jsonb_to_recordset(%(proposed)s::jsonb) AS x (page bigint, because text[])
ON CONFLICT (site_id, environment, page_id) DO UPDATE SET because = excluded.because;

-- name: choose
-- A person takes a page in, leaves it out, or leaves it as proposed.
INSERT INTO review_page (site_id, environment, page_id, chosen, chosen_by)
SELECT %(site_id)s, %(environment)s, p.id, %(chosen)s::boolean, %(by_id)s FROM page p
WHERE
    p.site_id = %(site_id)s
    AND p.path = %(path)s
    AND EXISTS (
        SELECT FROM reading r
        WHERE r.page_id = p.id AND r.shown IS NOT NULL
    )
ON CONFLICT (site_id, environment, page_id) DO UPDATE
    SET chosen = excluded.chosen, chosen_by = excluded.chosen_by;

-- name: sample
-- The pages that people are asked about, or were, each with what it showed last.
SELECT
    s.page_id,
    p.path,
    s.because,
    s.chosen,
    coalesce(s.chosen, s.because <> '{}') AS asked,
    r.id AS reading,
    r.title,
    r.shown,
    e.keys
FROM review_page s
JOIN page p ON p.id = s.page_id
LEFT JOIN LATERAL (
    SELECT r.id, r.title, r.shown
    FROM reading r
    JOIN sweep w ON w.id = r.sweep_id
    WHERE
        r.page_id = s.page_id
        AND r.status = 'read'
        AND r.shown IS NOT NULL
        AND w.environment = s.environment
        AND r.lens = %(lens)s
    ORDER BY r.id DESC LIMIT 1
) r ON TRUE
LEFT JOIN page_evidence e ON e.hash = r.shown
WHERE
    s.site_id = %(site_id)s AND s.environment = %(environment)s
    AND (%(path)s::text IS NULL OR p.path = %(path)s)
ORDER BY p.path;

-- name: sweep_shown
-- What the site has to show by its newest sweep of all pages, and through which lens it was read;
-- nothing to whom is there for single areas.
SELECT w.id AS sweep, w.lens, e.hash AS shown, e.keys
FROM sweep w LEFT JOIN page_evidence e ON e.hash = w.shown AND NOT (SELECT is_confined())
WHERE w.id = %(sweep_id)s;

-- name: answers
-- The answers of a site's environment, the newest first; those in force, or all.
SELECT
    a.id,
    a.environment,
    a.page_id,
    p.path,
    a.question,
    a.kind,
    a.answer,
    a.note,
    a.lens,
    a.shown,
    a.shown_key,
    o.name AS answered_by,
    a.answered_at,
    a.lapsed_at,
    a.ended_at,
    e.name AS ended_by,
    coalesce(
        (
            SELECT
                jsonb_agg(
                    jsonb_build_object('weight', f.weight, 'says', f.says, 'place', f.place)
                    ORDER BY f.position
                )
            FROM review_fault f
            WHERE f.answer_id = a.id
        ), '[]'
    ) AS faults
FROM review_answer a
JOIN person o ON o.id = a.answered_by
LEFT JOIN page p ON p.id = a.page_id
LEFT JOIN person e ON e.id = a.ended_by
WHERE
    a.site_id = %(site_id)s AND a.environment = %(environment)s
    AND (%(id)s::bigint IS NULL OR a.id = %(id)s)
    AND (NOT %(in_force)s OR a.ended_at IS NULL)
    AND (%(before)s::bigint IS NULL OR a.id < %(before)s)
ORDER BY a.id DESC LIMIT %(limit)s;

-- name: lock_question
-- Nobody else answers this question meanwhile.
SELECT pg_advisory_xact_lock(hashtextextended(%(of)s, 19));

-- name: end_answer
-- An answer is over.
UPDATE review_answer SET ended_at = now(), ended_by = %(by_id)s
WHERE id = %(id)s AND ended_at IS NULL;

-- name: add_answer
-- An answer.
INSERT INTO review_answer (
    site_id,
    environment,
    page_id,
    question,
    kind,
    answer,
    note,
    lens,
    shown,
    shown_key,
    answered_by
) VALUES (
    %(site_id)s,
    %(environment)s,
    %(page_id)s,
    %(question)s,
    %(kind)s,
    %(answer)s,
    %(note)s,
    %(lens)s,
    %(shown)s,
    %(shown_key)s,
    %(answered_by)s
) RETURNING id;

-- name: add_faults
-- What is wrong by an answer.
INSERT INTO review_fault (answer_id, position, weight, says, place)
SELECT %(id)s, x.position, x.weight, x.says, x.place
FROM jsonb_to_recordset(%(faults)s::jsonb)
    AS x (position int, weight text, says text, place jsonb);

-- name: lapse_pages
-- Answers about pages that show something else than they did, and those that hold again.
UPDATE review_answer a
SET lapsed_at = CASE WHEN n.same THEN NULL ELSE coalesce(a.lapsed_at, now()) END
FROM (
    SELECT o.id, coalesce(e.keys ->> o.kind, '') = o.shown_key AS same
    FROM review_answer o
    JOIN
        reading r
        ON
            r.page_id = o.page_id
            AND r.sweep_id = %(sweep_id)s
            AND r.status = 'read'
            AND r.lens = o.lens
    JOIN page_evidence e ON e.hash = r.shown
    WHERE
        o.site_id = %(site_id)s
        AND o.environment = %(environment)s
        AND o.ended_at IS NULL
) n
WHERE n.id = a.id AND (a.lapsed_at IS NULL) <> n.same;

-- name: lapse_site
-- Answers about the site where it shows something else than it did, and those that hold again.
UPDATE review_answer a
SET lapsed_at = CASE WHEN n.same THEN NULL ELSE coalesce(a.lapsed_at, now()) END
FROM (
    SELECT o.id, coalesce(e.keys ->> o.kind, '') = o.shown_key AS same
    FROM review_answer o
    JOIN sweep w ON w.id = %(sweep_id)s AND w.lens = o.lens
    JOIN page_evidence e ON e.hash = w.shown
    WHERE
        o.site_id = %(site_id)s
        AND o.environment = %(environment)s
        AND o.page_id IS NULL
        AND o.ended_at IS NULL
) n
WHERE n.id = a.id AND (a.lapsed_at IS NULL) <> n.same;

-- name: seen_faults
-- What people saw on the pages of a sweep, as far as their answers hold; of the whole site on the
-- page that the evidence names.
SELECT p.path, a.question, f.weight, f.says, f.place
FROM review_answer a
JOIN review_fault f ON f.answer_id = a.id
JOIN
    page p
    ON
        p.site_id = a.site_id
        AND (
            p.id = a.page_id
            OR (a.page_id IS NULL AND p.path = coalesce(f.place ->> 'path', '/'))
        )
JOIN reading r ON r.page_id = p.id AND r.sweep_id = %(sweep_id)s AND r.status = 'read'
WHERE
    a.site_id = %(site_id)s
    AND a.environment = %(environment)s
    AND a.answer = 'fault'
    AND a.ended_at IS NULL
    AND a.lapsed_at IS NULL
    AND (%(id)s::bigint IS NULL OR a.id = %(id)s)
ORDER BY p.path, a.id, f.position;

-- name: readings_with
-- The readings of a sweep on which people saw something, by any answer that holds or by what stands
-- among the findings, with the places that stand there.
SELECT
    r.id AS reading,
    p.path,
    array_remove(array_agg(f.place_key ORDER BY f.id), NULL) AS keys
FROM reading r
JOIN page p ON p.id = r.page_id
LEFT JOIN finding f ON f.reading_id = r.id AND f.sweep_id = r.sweep_id AND f.check_id = %(check)s
WHERE
    r.sweep_id = %(sweep_id)s
    AND r.status = 'read'
    AND (f.id IS NOT NULL OR p.path = any(%(paths)s::text[]))
GROUP BY r.id, p.path
ORDER BY r.id;

-- name: forget_seen
-- The findings of what people no longer see on a page.
DELETE FROM finding f
WHERE
    f.reading_id = %(reading_id)s
    AND f.check_id = %(check)s
    AND f.place_key <> all(%(keys)s::text[]);

-- name: hold
-- A person looks at a question, unless somebody else does.
INSERT INTO review_hold (site_id, environment, page_id, question, person_id, until) VALUES (
    %(site_id)s,
    %(environment)s,
    %(page_id)s,
    %(question)s,
    %(person_id)s,
    now() + make_interval(secs => %(seconds)s)
)
ON CONFLICT (site_id, environment, coalesce(page_id, 0), question) DO UPDATE
    SET person_id = excluded.person_id, until = excluded.until
    WHERE review_hold.person_id = excluded.person_id OR review_hold.until < now();

-- name: let_go
-- A person looks at nothing else just now.
DELETE FROM review_hold
WHERE
    (
        site_id = %(site_id)s AND environment = %(environment)s AND person_id = %(person_id)s
    ) OR until < now();

-- name: held
-- What others are looking at.
SELECT h.page_id, h.question, o.name AS person
FROM review_hold h JOIN person o ON o.id = h.person_id
WHERE
    h.site_id = %(site_id)s
    AND h.environment = %(environment)s
    AND h.person_id <> %(person_id)s
    AND h.until > now();
