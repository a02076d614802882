-- name: add_waiver
-- A waiver.
INSERT INTO waiver (
    site_id,
    scope,
    check_id,
    page_id,
    place_key,
    cause,
    pattern,
    path_like,
    says,
    reason,
    ends_on,
    granted_by
)
VALUES (
    %(site_id)s,
    %(scope)s,
    %(check)s,
    %(page_id)s,
    %(place_key)s,
    %(cause)s,
    %(pattern)s,
    %(path_like)s,
    %(says)s,
    %(reason)s,
    %(ends_on)s,
    %(granted_by)s
)
RETURNING id;

-- name: waivers
-- The waivers of a site, the newest first, with how many findings of the newest sweeps they cover.
SELECT
    v.id,
    v.scope,
    v.check_id AS "check",
    v.page_id,
    g.path,
    v.place_key,
    v.cause,
    v.pattern,
    v.says,
    v.reason,
    v.ends_on,
    p.name AS granted_by,
    v.granted_at,
    v.ended_at, e.name AS ended_by,
    (
        SELECT count(*) FROM finding f
        WHERE f.waiver_id = v.id AND f.sweep_id = any(%(sweeps)s))::int
        AS covers
FROM waiver v
JOIN person p ON p.id = v.granted_by
LEFT JOIN person e ON e.id = v.ended_by
LEFT JOIN page g ON g.id = v.page_id
WHERE
    v.site_id = %(site_id)s
    AND (%(id)s::bigint IS NULL OR v.id = %(id)s)
    AND (%(before)s::bigint IS NULL OR v.id < %(before)s)
    AND (%(in_force)s::boolean IS NULL OR (v.ended_at IS NULL) = %(in_force)s)
ORDER BY v.id DESC LIMIT %(limit)s;

-- name: due_waivers
-- The waivers whose last day is over.
SELECT id, site_id
FROM waiver
WHERE ended_at IS NULL AND ends_on < %(today)s FOR UPDATE SKIP LOCKED;

-- name: end_waiver
-- A waiver is over; what it covered stands again.
UPDATE waiver SET ended_at = now(), ended_by = %(ended_by)s
WHERE id = %(id)s AND ended_at IS NULL;

-- name: unmark
-- Findings that a waiver covered are no longer covered by it.
UPDATE finding SET waiver_id = NULL
WHERE waiver_id = %(id)s;

-- name: waived_fixes
-- The fixes that a waiver is about: of its cause or its place; those that are waived only where no
-- other waiver in force is about them.
SELECT x.id FROM fix x JOIN waiver v ON v.site_id = x.site_id AND v.check_id = x.check_id
WHERE
    v.id = %(id)s AND x.state = any(%(states)s)
    AND (
        v.scope = 'cause' AND x.place_key IS NULL AND x.cause = v.cause
        OR v.scope = 'place' AND x.page_id = v.page_id AND x.place_key = v.place_key
        OR v.scope = 'place' AND x.place_key IS NULL AND x.places = 1 AND EXISTS (
            SELECT
            FROM fix_place l
            WHERE l.fix_id = x.id AND l.page_id = v.page_id AND l.place_key = v.place_key
        )
    )
    AND (x.state <> 'waived' OR NOT EXISTS (
        SELECT FROM
            waiver o
        WHERE
            o.id <> v.id
            AND o.ended_at IS NULL
            AND o.site_id = x.site_id
            AND o.check_id = x.check_id
            AND (
                o.scope = 'cause' AND x.place_key IS NULL AND o.cause = x.cause
                OR o.scope = 'place' AND o.page_id = x.page_id AND o.place_key = x.place_key
            )
    ))
ORDER BY x.id;

-- name: apply_waivers
-- Which waiver in force covers each finding of a sweep, the narrowest first.
UPDATE finding f SET waiver_id = n.waiver_id FROM (
    SELECT
        f.id, (
            SELECT v.id FROM waiver v
            WHERE
                v.site_id = %(site_id)s AND v.ended_at IS NULL AND v.check_id = f.check_id
                AND (
                    v.scope = 'place' AND v.page_id = f.page_id AND v.place_key = f.place_key
                    OR v.scope = 'page' AND v.page_id = f.page_id
                    OR v.scope = 'cause' AND v.cause = f.cause
                    OR v.scope = 'check' AND p.path LIKE v.path_like
                )
            ORDER BY array_position(ARRAY['place', 'page', 'cause', 'check'], v.scope), v.id LIMIT 1
        ) AS waiver_id
    FROM finding f JOIN page p ON p.id = f.page_id
    WHERE
        f.sweep_id = %(sweep_id)s AND f.check_id IN (
            SELECT check_id FROM waiver
            WHERE site_id = %(site_id)s AND ended_at IS NULL
        )
) n
WHERE n.id = f.id AND f.sweep_id = %(sweep_id)s AND f.waiver_id IS DISTINCT FROM n.waiver_id;

-- name: judge
-- An answer to what no program can decide, in place of an earlier one.
WITH earlier AS (
    UPDATE judgement j SET ended_at = now() FROM finding f
    WHERE
        f.id = %(finding_id)s
        AND j.page_id = f.page_id
        AND j.check_id = f.check_id
        AND j.place_key = f.place_key
        AND j.ended_at IS NULL
    RETURNING j.id
)

INSERT INTO judgement (
    site_id, environment, page_id, check_id, place_key, context, says, answer, note, judged_by
)
SELECT
    w.site_id,
    w.environment,
    f.page_id,
    f.check_id,
    f.place_key,
    md5(f.says || coalesce(f.question, '') || f.excerpt || f.facts::text),
    f.says,
    %(answer)s,
    %(note)s,
    %(judged_by)s
FROM finding f
JOIN sweep w ON w.id = f.sweep_id
WHERE f.id = %(finding_id)s AND (SELECT count(*) FROM earlier) >= 0
RETURNING id;

-- name: unanswer
-- Answers of judgements that are over no longer count.
UPDATE finding f SET judgement_id = NULL, answer = NULL
FROM judgement j
WHERE j.id = f.judgement_id AND j.ended_at IS NOT NULL AND j.page_id = %(page_id)s;

-- name: apply_judgements
-- Which judgement answers each doubtful finding of a sweep: one of the same place whose context is
-- as it was.
UPDATE finding f SET judgement_id = n.judgement_id, answer = n.answer FROM (
    SELECT f.id, j.id AS judgement_id, j.answer FROM finding f LEFT JOIN judgement j
        ON
            j.page_id = f.page_id AND j.check_id = f.check_id
            AND j.place_key = f.place_key AND j.ended_at IS NULL
            AND j.context = md5(f.says || coalesce(f.question, '') || f.excerpt || f.facts::text)
    WHERE f.sweep_id = %(sweep_id)s AND f.outcome = 'cantTell'
) n
WHERE n.id = f.id AND f.sweep_id = %(sweep_id)s AND f.judgement_id IS DISTINCT FROM n.judgement_id;

-- name: settle_standing
-- What becomes of each finding of a sweep, by the core's rule; checks that are off leave theirs
-- out, and so do pages that the policy leaves out.
UPDATE finding f SET standing = s.standing FROM standing_rule s
WHERE
    f.sweep_id = %(sweep_id)s
    AND s.outcome = f.outcome
    AND s.answer = coalesce(f.answer, '')
    AND s.waived = (f.waiver_id IS NOT NULL)
    AND s.left_out = (
        f.check_id = any(%(off)s)
        OR EXISTS (
            SELECT
            FROM reading r
            JOIN page p ON p.id = r.page_id
            WHERE
                r.id = f.reading_id
                AND r.sweep_id = f.sweep_id
                AND (p.path LIKE any(%(left_out_pages)s) OR r.kind = any(%(left_out_kinds)s))
        )
    )
    AND s.mended = f.mended
    AND f.standing <> s.standing;

-- name: mark_mended
-- Which findings of a sweep a later one, of some of its pages, no longer shows; those whose check
-- it did not make stay as they were.
UPDATE finding f SET mended = n.mended FROM (
    SELECT
        f.id, NOT EXISTS (
            SELECT
            FROM finding g
            WHERE
                g.reading_id = r.id
                AND g.sweep_id = r.sweep_id
                AND g.check_id = f.check_id
                AND g.place_key = f.place_key
        ) AS mended
    FROM reading r
    JOIN finding f ON f.page_id = r.page_id AND f.sweep_id = %(sweep_id)s
    WHERE
        r.sweep_id = %(later)s
        AND r.status = 'read'
        AND f.check_id = any(%(tested)s)
        AND NOT was_untested(r.untested, f.check_id)
) n
WHERE n.id = f.id AND f.sweep_id = %(sweep_id)s AND f.mended <> n.mended;

-- name: lapse
-- Judgements of the environment whose element, or what is around it, is not as it was when it was
-- judged; and those that hold again.
UPDATE judgement j SET lapsed_at = CASE WHEN n.same THEN NULL ELSE coalesce(j.lapsed_at, now()) END
FROM (
    SELECT
        j.id, exists(
            SELECT FROM finding f
            WHERE f.sweep_id = r.sweep_id AND f.judgement_id = j.id
        ) AS same
    FROM judgement j
    JOIN reading r ON r.page_id = j.page_id AND r.sweep_id = %(sweep_id)s AND r.status = 'read'
    WHERE j.site_id = %(site_id)s AND j.environment = %(environment)s AND j.ended_at IS NULL
) n
WHERE n.id = j.id AND (j.lapsed_at IS NULL) <> n.same;

-- name: judgements
-- The judgements of a site, the newest first.
SELECT
    j.id,
    j.environment,
    g.path,
    j.check_id AS "check",
    j.place_key,
    j.says,
    j.answer,
    j.note,
    p.name AS judged_by,
    j.judged_at,
    j.lapsed_at,
    j.ended_at
FROM judgement j JOIN page g ON g.id = j.page_id JOIN person p ON p.id = j.judged_by
WHERE
    j.site_id = %(site_id)s
    AND (%(before)s::bigint IS NULL OR j.id < %(before)s)
    AND (%(id)s::bigint IS NULL OR j.id = %(id)s)
    AND (%(lapsed)s::boolean IS NULL OR (j.lapsed_at IS NOT NULL) = %(lapsed)s)
    AND j.ended_at IS NULL
ORDER BY j.id DESC LIMIT %(limit)s;

-- name: end_judgement
-- A judgement is taken back.
UPDATE judgement SET ended_at = now()
WHERE id = %(id)s AND ended_at IS NULL RETURNING page_id AS id;

-- name: settle_ready
-- Which pages of a sweep are left out, and which are ready, waivers and judgements counted in:
-- nothing that holds is left.
UPDATE reading r SET ready = n.ready, left_out_page = n.left_out FROM (
    SELECT
        r.id,
        p.path LIKE any(%(left_out_pages)s) OR r.kind = any(%(left_out_kinds)s) AS left_out,
        r.status = 'read' AND NOT EXISTS (
            SELECT
            FROM finding f
            WHERE
                f.reading_id = r.id
                AND f.sweep_id = r.sweep_id
                AND f.weight = any(%(holding)s)
                AND f.counts
        ) AS ready
    FROM reading r
    JOIN page p ON p.id = r.page_id
    WHERE r.sweep_id = %(sweep_id)s
) n
WHERE
    n.id = r.id
    AND r.sweep_id = %(sweep_id)s
    AND (r.ready, r.left_out_page) <> (n.ready, n.left_out);

-- name: newest_sweeps
-- The newest finished sweep of all pages of each environment of a site.
SELECT DISTINCT ON (environment) id FROM sweep
WHERE site_id = %(site_id)s AND state = 'done' AND is_whole(section, scope)
ORDER BY environment, id DESC;
