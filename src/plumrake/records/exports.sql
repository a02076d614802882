-- name: pages
-- The pages of a sweep in the order of their paths, those that are left out aside, each with its
-- findings that count, are doubtful, or were decided to be let alone.
SELECT
    p.path,
    r.address,
    r.lens,
    r.problem_code,
    r.problem_says,
    r.title,
    r.language,
    r.content_hash,
    r.untested,
    jsonb_array_length(i.pictures) > 0 AS has_pictures,
    jsonb_array_length(i.links) > 0 AS has_links,
    coalesce(
        (
            SELECT
                jsonb_agg(
                    to_jsonb(f) || jsonb_build_object(
                        'reason', coalesce(w.reason, ''),
                        'is_new', CASE
                            WHEN %(base_id)s::bigint IS NOT NULL THEN NOT EXISTS (
                                SELECT FROM finding g
                                WHERE
                                    g.page_id = f.page_id
                                    AND g.place_key = f.place_key
                                    AND g.sweep_id = %(base_id)s
                                    AND g.check_id = f.check_id
                            )
                        END
                    )
                    ORDER BY f.ordinal
                )
            FROM finding f
            LEFT JOIN waiver w ON w.id = f.waiver_id
            WHERE
                f.reading_id = r.id
                AND f.sweep_id = r.sweep_id
                AND f.standing = any(%(standings)s)
        ), '[]'
    ) AS findings
FROM reading r
JOIN page p ON p.id = r.page_id
LEFT JOIN inventory i ON i.hash = r.inventory
WHERE r.sweep_id = %(sweep_id)s AND NOT r.left_out_page
ORDER BY p.path;

-- name: gone
-- Findings of an earlier sweep that a later one, which read their pages, has not any more.
SELECT
    g.place_key,
    g.check_id AS "check",
    r.address
FROM finding g
JOIN reading r ON r.page_id = g.page_id AND r.sweep_id = %(sweep_id)s AND r.status = 'read'
WHERE
    g.sweep_id = %(base_id)s
    AND g.standing = any(%(standings)s)
    AND NOT was_untested(r.untested, g.check_id)
    AND NOT EXISTS (
        SELECT FROM finding f
        WHERE
            f.page_id = g.page_id
            AND f.place_key = g.place_key
            AND f.sweep_id = %(sweep_id)s
            AND f.check_id = g.check_id
    )
ORDER BY g.ordinal
LIMIT %(limit)s;
