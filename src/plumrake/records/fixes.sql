-- name: add_of_cause
-- A fix of a cause of a sweep; none where the cause has one in the environment already.
INSERT INTO fix (
    site_id,
    environment,
    cause,
    check_id,
    weight,
    rank,
    says,
    zone,
    by_template,
    path,
    places,
    pages,
    owner_id,
    group_id,
    due_on,
    finding_id,
    made_by
)
SELECT
    w.site_id,
    w.environment,
    c.key,
    c.check_id,
    c.weight,
    weight_rank(c.weight, 'failed'),
    f.says,
    c.zone,
    c.by_template,
    p.path,
    c.places,
    c.pages,
    %(owner_id)s,
    %(group_id)s,
    %(due_on)s,
    c.best,
    %(made_by)s
FROM cause c
JOIN sweep w ON w.id = c.sweep_id
JOIN finding f ON f.id = c.best AND f.sweep_id = c.sweep_id
JOIN page p ON p.id = f.page_id
WHERE c.sweep_id = %(sweep_id)s AND c.key = %(cause)s
ON CONFLICT DO NOTHING
RETURNING id;

-- name: add_of_finding
-- A fix of one place; none where it has one in the environment already.
INSERT INTO fix (
    site_id,
    environment,
    cause,
    page_id,
    place_key,
    check_id,
    weight,
    rank,
    says,
    zone,
    by_template,
    path,
    places,
    pages,
    owner_id,
    group_id,
    due_on, finding_id, made_by
)
SELECT
    w.site_id,
    w.environment,
    f.cause,
    f.page_id,
    f.place_key,
    f.check_id,
    f.weight,
    weight_rank(f.weight, 'failed'),
    f.says, f.zone, FALSE, p.path, 1, 1, %(owner_id)s, %(group_id)s, %(due_on)s, f.id, %(made_by)s
FROM finding f JOIN sweep w ON w.id = f.sweep_id JOIN page p ON p.id = f.page_id
WHERE f.id = %(finding_id)s
ON CONFLICT DO NOTHING
RETURNING id;

-- name: add_places
-- The places of a fix as a sweep shows them.
INSERT INTO fix_place (fix_id, page_id, place_key)
SELECT x.id, f.page_id, f.place_key FROM fix x JOIN finding f
    ON
        f.sweep_id = %(sweep_id)s AND f.check_id = x.check_id
        AND CASE
            WHEN x.place_key IS NULL THEN f.cause = x.cause ELSE
                f.page_id = x.page_id AND f.place_key = x.place_key
        END
WHERE x.id = any(%(ids)s)
ON CONFLICT DO NOTHING;

-- name: known_of_causes
-- The fixes that causes of an environment have.
SELECT *
FROM fix_row
WHERE
    site_id = %(site_id)s
    AND environment = %(environment)s
    AND cause = any(%(causes)s)
    AND place_key IS NULL;

-- name: known_of_finding
-- The fix that a place has in its environment: of the place itself, or of its cause.
SELECT x.* FROM finding f JOIN sweep w ON w.id = f.sweep_id JOIN fix_row x
    ON
        x.site_id = w.site_id AND x.environment = w.environment AND x."check" = f.check_id
        AND (
            x.place_key IS NULL AND x.cause = f.cause
            OR x.page_id = f.page_id AND x.place_key = f.place_key
        )
WHERE f.id = %(finding_id)s
ORDER BY x.place_key NULLS LAST LIMIT 1;

-- name: new_at_place
-- What a sweep found at the places of a fix that was not found there when the fix was made.
SELECT n.id, n.says
FROM fix x
JOIN finding b ON b.id = x.finding_id
JOIN finding o
    ON
        o.sweep_id = b.sweep_id
        AND o.check_id = x.check_id
        AND (
            (x.place_key IS NULL AND o.cause = x.cause)
            OR (o.page_id = x.page_id AND o.place_key = x.place_key)
        )
JOIN finding n
    ON n.sweep_id = %(sweep)s AND n.page_id = o.page_id AND n.selector = o.selector
WHERE
    x.id = %(fix)s
    AND n.check_id <> x.check_id
    AND n.standing <> 'waived'
    AND NOT EXISTS (
        SELECT FROM finding e
        WHERE
            e.sweep_id = o.sweep_id
            AND e.page_id = n.page_id
            AND e.selector = n.selector
            AND e.check_id = n.check_id
    )
ORDER BY n.ordinal LIMIT 1;

-- name: cause_pages
-- The pages that causes of a sweep show on, the page of the best place first.
SELECT
    c.key, c.by_template, c.weight, array(
        SELECT p.path
        FROM finding f
        JOIN page p ON p.id = f.page_id
        WHERE f.sweep_id = c.sweep_id AND f.cause = c.key
        ORDER BY f.id <> c.best, f.ordinal limit 500
    ) AS paths
FROM cause c
WHERE c.sweep_id = %(sweep_id)s AND c.key = any(%(causes)s)
ORDER BY c.position;

-- name: new_causes
-- The causes of a sweep that hold for policy and have no fix in the environment yet: sure faults,
-- not waived, of these weights.
SELECT c.key FROM cause c JOIN sweep w ON w.id = c.sweep_id
WHERE
    c.sweep_id = %(sweep_id)s AND c.weight = any(%(weights)s)
    AND EXISTS (
        SELECT FROM finding f
        WHERE f.sweep_id = c.sweep_id AND f.cause = c.key AND f.counts
    )
    AND NOT EXISTS (
        SELECT FROM fix x
        WHERE
            x.site_id = w.site_id
            AND x.environment = w.environment
            AND x.cause = c.key
            AND x.place_key IS NULL
    )
ORDER BY c.position;

-- name: by_id
-- One fix.
SELECT * FROM fix_row
WHERE id = %(id)s;

-- name: by_ids
-- Some fixes.
SELECT * FROM fix_row
WHERE id = any(%(ids)s)
ORDER BY id;

-- name: lock
-- One fix is held until the transaction ends; what stands in it is read after that.
SELECT id FROM fix
WHERE id = %(id)s FOR UPDATE;

-- name: change
-- What a move makes of a fix, which the caller holds.
UPDATE fix SET
    state = %(state)s,
    reopened_after
    = CASE
        WHEN
            %(state)s = %(reopened)s
            THEN CASE WHEN state = %(state)s THEN reopened_after ELSE state END
    END,
    owner_id = %(owner_id)s,
    group_id = %(group_id)s,
    due_on = %(due_on)s,
    proposal = %(proposal)s,
    links = %(links)s,
    times_reopened = times_reopened + (%(state)s = %(reopened)s AND state <> %(reopened)s)::int,
    version = version + 1,
    changed_at = clock_timestamp(),
    closed_at
    = CASE
        WHEN NOT (
            SELECT is_live FROM fix_state
            WHERE name = %(state)s
        ) THEN coalesce(closed_at, now())
    END
WHERE id = %(id)s;

-- name: set_proof
-- The sweep that is to prove a fix, the one that read a sample before it, and whether it is a
-- sample itself.
UPDATE fix SET proof_sweep = %(sweep_id)s, proof_sample = %(sample)s, proof_rest = %(rest)s
WHERE id = %(id)s;

-- name: add_event
-- A move, with who made it and why.
INSERT INTO fix_event (fix_id, move, before, after, by_id, actor, why, data)
VALUES (%(fix_id)s, %(move)s, %(before)s, %(after)s, %(by_id)s, %(actor)s, %(why)s, %(data)s)
RETURNING id;

-- name: events
-- What happened to a fix, the oldest first.
SELECT
    e.id, e.fix_id, e.move, e.before, e.after, e.by_id, p.name AS by, e.actor, e.why, e.data, e.at
FROM fix_event e LEFT JOIN person p ON p.id = e.by_id
WHERE e.fix_id = %(fix_id)s
ORDER BY e.id;

-- name: site_events
-- What happened to the fixes of a site, a page, a cause or by a person, the newest first.
SELECT
    e.id,
    e.fix_id,
    e.move,
    e.before,
    e.after,
    e.by_id,
    p.name AS by,
    e.actor,
    e.why,
    e.data,
    e.at,
    x.says,
    x.path
FROM fix_event e JOIN fix x ON x.id = e.fix_id LEFT JOIN person p ON p.id = e.by_id
WHERE
    x.site_id = %(site_id)s AND (%(before)s::bigint IS NULL OR e.id < %(before)s)
    AND (%(cause)s::text IS NULL OR x.cause = %(cause)s)
    AND (%(by_id)s::bigint IS NULL OR e.by_id = %(by_id)s)
    AND (%(path)s::text IS NULL OR EXISTS (
        SELECT
        FROM fix_place l
        JOIN page g ON g.id = l.page_id
        WHERE l.fix_id = x.id AND g.path = %(path)s
    ))
ORDER BY e.id DESC LIMIT %(limit)s;

-- name: places
-- The places of a fix, with the newest finding at each in the fix's environment.
SELECT l.page_id, g.path, l.place_key, l.there, f.id AS finding_id, f.selector, f.says
FROM fix_place l JOIN page g ON g.id = l.page_id JOIN fix x ON x.id = l.fix_id
LEFT JOIN LATERAL (
    SELECT f.id, f.selector, f.says FROM finding f JOIN sweep w ON w.id = f.sweep_id
    WHERE
        f.page_id = l.page_id
        AND f.place_key = l.place_key
        AND f.check_id = x.check_id
        AND w.environment = x.environment
    ORDER BY f.sweep_id DESC LIMIT 1
) f ON TRUE
WHERE l.fix_id = %(fix_id)s AND (g.path, l.place_key) > (%(after_path)s, %(after_key)s)
ORDER BY g.path, l.place_key LIMIT %(limit)s;

-- name: pages_of
-- The paths of the pages that a fix has places on: those that an earlier proof has not read since,
-- in their order.
SELECT g.path FROM fix_place l JOIN page g ON g.id = l.page_id
WHERE
    l.fix_id = %(fix_id)s AND NOT EXISTS (
        SELECT FROM reading r
        WHERE r.page_id = l.page_id AND r.sweep_id = %(done)s
    )
GROUP BY g.path
ORDER BY g.path;

-- name: seen
-- What a sweep saw of the places of the environment's fixes that have a page in it; a page read
-- without what the fix's check needs counts as not read.
WITH touched AS (
    SELECT DISTINCT l.fix_id
    FROM sweep_page sp
    JOIN fix_place l ON l.page_id = sp.page_id
    JOIN fix x ON x.id = l.fix_id
    WHERE
        sp.sweep_id = %(sweep_id)s
        AND x.environment = %(environment)s
        AND x.site_id = %(site_id)s
        AND (%(fix_id)s::bigint IS NULL OR x.id = %(fix_id)s)
),

there AS (
    SELECT t.fix_id, count(f.id) AS places, (array_agg(f.id ORDER BY f.ordinal))[1] AS finding_id
    FROM touched t JOIN fix x ON x.id = t.fix_id JOIN finding f
        ON
            f.sweep_id = %(sweep_id)s AND f.check_id = x.check_id AND (f.counts OR f.is_doubtful)
            AND (x.place_key IS NULL AND f.cause = x.cause OR EXISTS (
                SELECT
                FROM fix_place l
                WHERE l.fix_id = x.id AND l.page_id = f.page_id AND l.place_key = f.place_key
            ))
    GROUP BY t.fix_id
),

pages AS (
    SELECT
        t.fix_id, count(*) FILTER (WHERE r.tested) AS read,
        count(*) FILTER (WHERE r.gone) AS gone,
        count(*) AS pages
    FROM touched t
    JOIN fix x ON x.id = t.fix_id
    JOIN (SELECT DISTINCT fix_id, page_id FROM fix_place) l ON l.fix_id = t.fix_id
    LEFT JOIN LATERAL (
        SELECT
            q.status = 'read' AND NOT was_untested(q.untested, x.check_id) AS tested,
            q.problem_code = 'file-missing' OR q.http_status = any(%(gone_statuses)s) AS gone
        FROM reading q
        WHERE q.page_id = l.page_id AND q.sweep_id = any(ARRAY[%(sweep_id)s, %(earlier)s]::bigint[])
        ORDER BY q.sweep_id DESC
        LIMIT 1
    ) r ON TRUE
    GROUP BY t.fix_id
)

SELECT
    g.fix_id,
    x.check_id AS "check",
    x.state,
    x.proof_sweep,
    x.proof_sample,
    x.proof_rest,
    coalesce(h.places, 0)::int AS there,
    h.finding_id,
    g.read::int,
    g.gone::int,
    (g.pages - g.read - g.gone)::int AS unread,
    (
        SELECT w.lens FROM finding f JOIN sweep w ON w.id = f.sweep_id
        WHERE f.id = x.finding_id
    ) AS lens
FROM pages g
JOIN fix x ON x.id = g.fix_id
LEFT JOIN there h ON h.fix_id = g.fix_id
ORDER BY g.fix_id;

-- name: mark_places
-- Which places of the environment's fixes a sweep still shows; places that joined a cause are
-- added. What was not tested stays as it was.
WITH joined AS (
    INSERT INTO fix_place (fix_id, page_id, place_key)
    SELECT DISTINCT x.id, f.page_id, f.place_key
    FROM fix x
    JOIN finding f ON f.sweep_id = %(sweep_id)s AND f.cause = x.cause AND f.check_id = x.check_id
    WHERE x.site_id = %(site_id)s AND x.environment = %(environment)s AND x.place_key IS NULL
    ON CONFLICT DO NOTHING
)

UPDATE fix_place l SET there = NOT l.there FROM fix x, reading r
WHERE
    x.id = l.fix_id
    AND x.site_id = %(site_id)s
    AND x.environment = %(environment)s
    AND r.sweep_id = %(sweep_id)s
    AND r.page_id = l.page_id
    AND NOT was_untested(r.untested, x.check_id) AND x.check_id = any(%(tested)s)
    AND l.there <> EXISTS (
        SELECT
        FROM finding f
        WHERE
            f.sweep_id = %(sweep_id)s
            AND f.page_id = l.page_id
            AND f.place_key = l.place_key
            AND f.check_id = x.check_id
    );

-- name: refresh
-- Reach, words and newest finding of the environment's fixes of causes, as a sweep of the whole
-- environment shows them.
UPDATE fix x SET
    places = c.places, pages = c.pages, finding_id = c.best, says = f.says, path = p.path
FROM cause c
JOIN finding f ON f.id = c.best AND f.sweep_id = c.sweep_id
JOIN page p ON p.id = f.page_id
WHERE
    c.sweep_id = %(sweep_id)s
    AND x.cause = c.key
    AND x.site_id = %(site_id)s
    AND x.environment = %(environment)s
    AND x.place_key IS NULL
    AND (x.places, x.pages, x.says, x.path, x.finding_id) IS DISTINCT FROM (
        c.places, c.pages, f.says, p.path, c.best
    );

-- name: matching
-- The fixes of a site that the filters let through; set into the listings below.
SELECT x.id FROM fix x
WHERE
    x.site_id = %(site_id)s
    AND (%(states)s::text[] IS NULL OR x.state = any(%(states)s))
    AND (%(environment)s::text IS NULL OR x.environment = %(environment)s)
    AND (%(owner_id)s::bigint IS NULL OR x.owner_id = %(owner_id)s)
    AND (%(group_id)s::bigint IS NULL OR x.group_id = %(group_id)s)
    AND (%(unowned)s::boolean IS NOT TRUE OR x.owner_id IS NULL AND x.group_id IS NULL)
    AND (%(check)s::text IS NULL OR x.check_id = %(check)s OR x.check_id LIKE %(check)s || '/%%')
    AND (%(weight)s::text IS NULL OR x.weight = %(weight)s)
    AND (%(cause)s::text IS NULL OR x.cause = %(cause)s)
    AND (%(path)s::text IS NULL OR starts_with(x.path, %(path)s))
    AND (
        %(late)s::boolean IS NOT TRUE OR x.due_on < current_date AND x.state IN (
            SELECT name FROM fix_state
            WHERE is_to_do
        )
    )
    AND (%(due_from)s::date IS NULL OR x.due_on >= %(due_from)s)
    AND (%(due_until)s::date IS NULL OR x.due_on <= %(due_until)s);

-- name: by_reach
-- Fixes by weight and reach, those after one.
SELECT r.* FROM (
    SELECT x.id FROM fix x
    WHERE
        {matching}
        AND (
            %(after)s::text[] IS NULL
            OR (x.rank, -x.pages, x.id)
            > (
                (%(after)s::text[])[1]::smallint,
                (%(after)s::text[])[2]::int,
                (%(after)s::text[])[3]::bigint
            )
        )
    ORDER BY x.rank, -x.pages, x.id LIMIT %(limit)s
) k JOIN fix_row r ON r.id = k.id
ORDER BY r.rank, -r.pages, r.id;

-- name: by_due
-- Fixes by the day that they are due, those without one last.
SELECT r.* FROM (
    SELECT x.id FROM fix x
    WHERE
        {matching}
        AND (
            %(after)s::text[] IS NULL
            OR (coalesce(x.due_on, 'infinity'::date), x.id)
            > ((%(after)s::text[])[1]::date, (%(after)s::text[])[2]::bigint)
        )
    ORDER BY coalesce(x.due_on, 'infinity'::date), x.id LIMIT %(limit)s
) k JOIN fix_row r ON r.id = k.id
ORDER BY r.due_on NULLS LAST, r.id;

-- name: by_change
-- Fixes by their last change, the newest first.
SELECT r.* FROM (
    SELECT x.id FROM fix x
    WHERE
        {matching}
        AND (
            %(after)s::text[] IS NULL
            OR (x.changed_at, x.id)
            < ((%(after)s::text[])[1]::timestamptz, (%(after)s::text[])[2]::bigint)
        )
    ORDER BY x.changed_at DESC, x.id DESC LIMIT %(limit)s
) k JOIN fix_row r ON r.id = k.id
ORDER BY r.changed_at DESC, r.id DESC;

-- name: count
-- How many fixes the filters let through, counted up to a bound.
SELECT count(*)::int AS count FROM (
    SELECT FROM fix x
    WHERE {matching}
    LIMIT %(most)s
) found;

-- name: of_person
-- What somebody has in front of them: their own and their groups' live fixes, the pressing ones
-- first.
SELECT x.* FROM fix_row x
WHERE
    x.state IN (
        SELECT name FROM fix_state
        WHERE is_live
    )
    AND (
        x.owner_id = %(person_id)s OR x.group_id IN (
            SELECT group_id FROM people_group_member
            WHERE person_id = %(person_id)s
        )
    )
    AND x.site_id IN (SELECT sites_of(%(person_id)s))
    AND (%(site_id)s::bigint IS NULL OR x.site_id = %(site_id)s)
ORDER BY x.due_on NULLS LAST, x.rank, x.pages DESC, x.id LIMIT %(limit)s;

-- name: groups_of
-- The groups that somebody is in.
SELECT group_id AS id FROM people_group_member
WHERE person_id = %(person_id)s;

-- name: load
-- What each owner of a site has: by state, late, and the median days from making to proof.
SELECT
    x.owner_id, x.group_id, coalesce(p.name, c.name, '') AS owner,
    count(*) FILTER (WHERE x.state = 'open')::int AS open,
    count(*) FILTER (WHERE x.state = 'in_hand')::int AS in_hand,
    count(*) FILTER (WHERE x.state = 'handed_in')::int AS handed_in,
    count(*) FILTER (WHERE x.state = 'reopened')::int AS reopened,
    count(*) FILTER (WHERE x.state = 'proven')::int AS proven,
    count(*) FILTER (WHERE x.state = 'waived')::int AS waived,
    count(*) FILTER (
        WHERE x.state IN (
            SELECT name FROM fix_state
            WHERE is_to_do
        ) AND x.due_on < current_date
    )::int AS late,
    percentile_cont(0.5) WITHIN GROUP (ORDER BY extract(EPOCH FROM x.closed_at - x.made_at) / 86400)
    FILTER (WHERE x.state = 'proven') AS median_days
FROM fix x LEFT JOIN person p ON p.id = x.owner_id LEFT JOIN people_group c ON c.id = x.group_id
WHERE x.site_id = %(site_id)s
GROUP BY x.owner_id, x.group_id, p.name, c.name
ORDER BY owner;

-- name: sums
-- The fixes of a site by state.
SELECT state, count(*)::int AS count FROM fix
WHERE site_id = %(site_id)s
GROUP BY state;
