-- name: add
-- A sweep that waits to be planned.
INSERT INTO sweep (
    site_id, environment, lens, section, policy, asked_by, scope, given_paths, fresh, ground
)
VALUES (
    %(site_id)s,
    %(environment)s,
    %(lens)s,
    %(section)s,
    %(policy)s,
    %(asked_by)s,
    %(scope)s,
    %(given_paths)s,
    %(fresh)s,
    %(ground)s
)
RETURNING id;

-- name: by_id
-- One sweep with its counts.
{sweep_shown}
WHERE r.id = %(id)s;

-- name: of_site
-- A site's sweeps, the newest first, before a given one.
{sweep_shown}
WHERE
    r.site_id = %(site_id)s
    AND (%(before)s::bigint IS NULL OR r.id < %(before)s)
    AND (%(given)s OR r.scope <> 'given')
ORDER BY r.id DESC LIMIT %(limit)s;

-- name: sweep_shown
-- What is shown of a sweep; set into the queries above. The view stays as it is while the version
-- before is still at work: it reads all its columns.
SELECT r.*, w.forgotten_at FROM sweep_row r JOIN sweep w ON w.id = r.id;

-- name: lock
-- The state of a sweep, held against others until the transaction ends.
SELECT state FROM sweep
WHERE id = %(id)s FOR UPDATE;

-- name: newest_done
-- The newest finished sweep of a whole site, of one environment or of any, before a given one.
SELECT id FROM sweep
WHERE
    site_id = %(site_id)s
    AND state = 'done'
    AND is_whole(section, scope)
    AND (%(environment)s::text IS NULL OR environment = %(environment)s)
    AND (%(before)s::bigint IS NULL OR id < %(before)s)
ORDER BY id DESC LIMIT 1;

-- name: counted_over_time
-- What the last sweeps of all pages of an environment counted, the newest first.
SELECT
    w.finished_at,
    w.lens,
    w.total - coalesce((w.counted ->> 'left_out')::int, 0) AS pages,
    w.ready,
    coalesce((w.counted ->> 'barriers')::int, 0) AS barriers,
    coalesce((w.counted ->> 'obstacles')::int, 0) AS obstacles,
    coalesce((w.counted ->> 'frictions')::int, 0) AS frictions
FROM sweep w
WHERE
    w.site_id = %(site_id)s
    AND w.environment = %(environment)s
    AND w.state = 'done'
    AND is_whole(w.section, w.scope)
ORDER BY w.id DESC LIMIT %(limit)s;

-- name: pages_by_criterion
-- On how many pages of a sweep something counts against each criterion, and what it is.
SELECT
    c.number,
    count(DISTINCT f.page_id)::int AS pages,
    (array_agg(DISTINCT f.check_id)) AS checks,
    (array_agg(DISTINCT f.cause)) AS causes
FROM finding f CROSS JOIN LATERAL unnest(f.criteria) AS c (number)
WHERE f.sweep_id = %(sweep_id)s AND f.counts
GROUP BY c.number;

-- name: pages_with_barriers
-- On how many pages of a sweep something keeps people out.
SELECT count(DISTINCT f.page_id) FROM finding f
WHERE f.sweep_id = %(sweep_id)s AND f.counts AND f.weight = 'barrier';

-- name: add_pages
-- Pages of a site by path; those that are known stay as they are.
INSERT INTO page (site_id, path)
SELECT %(site_id)s, unnest(%(paths)s::text[]) ON CONFLICT DO NOTHING;

-- name: plan_pages
-- Which pages a sweep reads, in batches, in the order given, with how each was found.
INSERT INTO sweep_page (sweep_id, page_id, batch, position, found_by, linked_from, changed_on)
SELECT
    %(sweep_id)s,
    p.id,
    (given.position - 1) / %(batch_size)s,
    given.position,
    given.found_by,
    given.linked_from,
    given.changed_on
FROM
    unnest(
        %(paths)s::text[],
        %(found_by)s::text[],
        %(linked_from)s::text[],
        %(changed_on)s::timestamptz[]
    )
    WITH ORDINALITY AS given (path, found_by, linked_from, changed_on, position)
JOIN page p ON p.site_id = %(site_id)s AND p.path = given.path
ON CONFLICT DO NOTHING;

-- name: redirect
-- An address that leads to another page of the site is none of the sweep's pages; that page is one,
-- in a batch of its own where it is new.
WITH left_out AS (
    DELETE FROM sweep_page
    WHERE sweep_id = %(sweep_id)s AND page_id = %(page_id)s RETURNING position
),

noted AS (
    UPDATE page SET redirects_to = %(path)s
    WHERE id = %(page_id)s RETURNING site_id, path
),

target AS (
    INSERT INTO page (site_id, path)
    SELECT site_id, %(path)s
    FROM noted
    ON CONFLICT (site_id, path) DO UPDATE SET redirects_to = NULL RETURNING id
),

added AS (
    INSERT INTO sweep_page (sweep_id, page_id, batch, position, found_by, linked_from)
    SELECT %(sweep_id)s, target.id, w.batches, left_out.position, 'redirect', noted.path
    FROM target, left_out, noted, sweep w
    WHERE w.id = %(sweep_id)s
    ON CONFLICT DO NOTHING RETURNING page_id
)

UPDATE sweep SET
    redirects = redirects + 1,
    total = total - 1 + (SELECT count(*) FROM added)::int,
    batches = batches + (SELECT count(*) FROM added)::int
WHERE id = %(sweep_id)s AND EXISTS (SELECT FROM left_out);

-- name: begin
-- The sweep is planned and runs; it says how many pages links lead to that the sitemap does not
-- list.
UPDATE sweep SET
    state = 'running',
    total = %(total)s,
    batches = %(batches)s,
    next_batch = %(next_batch)s,
    base_id = %(base_id)s,
    unlisted = %(unlisted)s, started_at = coalesce(started_at, now())
WHERE id = %(id)s;

-- name: fail
-- The sweep cannot go on.
UPDATE sweep SET state = 'failed', problem = %(problem)s, finished_at = now()
WHERE id = %(id)s AND state IN ('queued', 'running');

-- name: stop
-- The sweep is to read no further page.
UPDATE sweep SET state = 'stopped'
WHERE id = %(id)s AND state IN ('queued', 'running');

-- name: resume
-- The sweep goes on where it was stopped: planned again, or with its batches from the first that
-- has a page without reading.
UPDATE sweep SET state = CASE WHEN batches = 0 THEN 'queued' ELSE 'running' END, next_batch = 0
WHERE id = %(id)s AND state = 'stopped'
RETURNING state;

-- name: take_batch
-- The next batch of a running sweep that still has a page to read, with so many in all; none where
-- there is no further one.
WITH next AS (
    SELECT sp.batch
    FROM sweep w
    JOIN sweep_page sp ON sp.sweep_id = %(id)s AND sp.batch >= w.next_batch
    WHERE
        w.id = %(id)s AND w.state = 'running'
        AND NOT EXISTS (
            SELECT FROM reading r
            WHERE r.sweep_id = %(id)s AND r.page_id = sp.page_id
            OFFSET 0 -- looked up page by page, also where PostgreSQL knows nothing of the sweep yet
        )
    ORDER BY sp.batch LIMIT 1
)

UPDATE sweep SET next_batch = next.batch + %(count)s
FROM next
WHERE sweep.id = %(id)s
RETURNING next.batch;

-- name: know
-- PostgreSQL counts what a sweep has.
SELECT know_sweep(%(sweep_id)s);

-- name: rewind
-- Batches are taken from the first again.
UPDATE sweep SET next_batch = 0
WHERE id = %(id)s;

-- name: unfinished
-- Running sweeps for which nothing is queued or under way any more.
SELECT w.id FROM sweep w
WHERE w.state = 'running' AND NOT EXISTS (
    SELECT
    FROM procrastinate_jobs j
    WHERE j.status IN ('todo', 'doing') AND (j.args ->> 'sweep_id')::bigint = w.id
);

-- name: count_batch
-- What a batch adds to the counts of its sweep.
UPDATE sweep SET
    read = read + %(read)s,
    unreadable = unreadable + %(unreadable)s,
    ready = ready + %(ready)s,
    unchanged = unchanged + %(unchanged)s,
    found = %(found)s
WHERE id = %(id)s;

-- name: finish
-- The sweep is done when every planned page has its reading.
UPDATE sweep SET state = 'done', finished_at = now()
WHERE id = %(id)s AND state = 'running' AND total = read + unreadable;

-- name: count_ready
-- How many pages are ready and what counts by weight, once what shows only over all pages is known,
-- and after each decision.
UPDATE sweep SET
    ready = (
        SELECT count(*) FROM reading
        WHERE sweep_id = %(id)s AND ready AND NOT left_out_page
    ),
    counted = (
        SELECT
            jsonb_build_object(
                'barriers', count(*) FILTER (WHERE f.counts AND f.weight = 'barrier'),
                'obstacles', count(*) FILTER (WHERE f.counts AND f.weight = 'obstacle'),
                'frictions', count(*) FILTER (WHERE f.counts AND f.weight = 'friction'),
                'doubtful', count(*) FILTER (WHERE f.is_doubtful AND NOT is_word(f.check_id)),
                'words', count(*) FILTER (WHERE f.is_doubtful AND is_word(f.check_id)),
                'waived', count(*) FILTER (WHERE f.is_waived)
            )
        FROM finding f
        WHERE f.sweep_id = %(id)s
    ) || (
        SELECT
            jsonb_build_object(
                'left_out', count(*),
                'unreadable_left_out', count(*) FILTER (WHERE status = 'unreadable')
            )
        FROM reading
        WHERE sweep_id = %(id)s AND left_out_page
    )
WHERE id = %(id)s;

-- name: unread_of_batches
-- The pages of some batches that have no reading yet, each with its newest reading on the same
-- ground in an earlier sweep of the environment, looked for from one sweep on.
SELECT
    p.id,
    p.path,
    sp.position,
    sp.changed_on,
    k.id AS known_id,
    k.sweep_id AS known_sweep,
    k.etag,
    k.last_modified,
    k.content_hash,
    k.resources,
    k.links,
    k.checked_at
FROM sweep_page sp JOIN page p ON p.id = sp.page_id LEFT JOIN LATERAL (
    SELECT r.* FROM reading r JOIN sweep o ON o.id = r.sweep_id
    WHERE
        r.page_id = p.id
        AND r.sweep_id >= %(since)s
        AND r.sweep_id < %(sweep_id)s
        AND o.environment = %(environment)s
        AND o.ground = %(ground)s
        AND r.status = 'read'
        AND o.state IN ('done', 'stopped')
    ORDER BY r.sweep_id DESC LIMIT 1
) k ON NOT %(fresh)s
WHERE
    sp.sweep_id = %(sweep_id)s
    AND sp.batch >= %(first)s AND sp.batch < %(first)s + %(count)s
    AND NOT EXISTS (
        SELECT FROM reading r
        WHERE r.sweep_id = %(sweep_id)s AND r.page_id = sp.page_id
    )
ORDER BY sp.position;

-- name: keep_inventory
-- What a page holds, once per content.
INSERT INTO inventory (hash, census, pictures, links, colours) VALUES (
    %(hash)s, %(census)s, %(pictures)s, %(links)s, %(colours)s
) ON CONFLICT DO NOTHING;

-- name: add_reading
-- A page's reading in a sweep; none where there is one already.
INSERT INTO reading (
    sweep_id,
    page_id,
    address,
    lens,
    status,
    problem_code,
    problem_says,
    title,
    language,
    kind,
    content_hash,
    elements,
    untested,
    ready,
    ready_alone,
    picture,
    seconds,
    etag,
    last_modified,
    resources,
    left_out,
    inventory,
    page_views,
    shown,
    links,
    http_status
)
VALUES (
    %(sweep_id)s,
    %(page_id)s,
    %(address)s,
    %(lens)s,
    %(status)s,
    %(problem_code)s,
    %(problem_says)s,
    %(title)s,
    %(language)s,
    %(kind)s,
    %(content_hash)s,
    %(elements)s,
    %(untested)s,
    %(ready)s,
    %(ready)s,
    %(picture)s,
    %(seconds)s,
    %(etag)s,
    %(last_modified)s,
    %(resources)s,
    %(left_out)s, %(inventory)s, %(page_views)s, %(shown)s, %(links)s, %(http_status)s
)
ON CONFLICT (sweep_id, page_id) DO NOTHING
RETURNING id;

-- name: keep_readings
-- Readings of one earlier sweep carried over for unchanged pages, with their findings; those of
-- site-wide checks are left for this sweep's own. That sweep is named, so that no partition but its
-- own is looked into.
WITH given AS (
    SELECT *
    FROM
        unnest(
            %(page_ids)s::bigint[],
            %(known_ids)s::bigint[],
            %(positions)s::int[]
        )
            AS g (page_id, known_id, position)
),

added AS (
    INSERT INTO reading (
        sweep_id,
        page_id,
        address,
        lens,
        status,
        title,
        language,
        kind,
        content_hash,
        elements,
        untested,
        ready,
        ready_alone,
        picture,
        seconds,
        etag,
        last_modified,
        resources,
        left_out,
        inventory,
        page_views,
        shown,
        links,
        unchanged_from,
        read_at
    )
    SELECT
        %(sweep_id)s,
        r.page_id,
        r.address,
        r.lens,
        r.status,
        r.title,
        r.language,
        r.kind,
        r.content_hash,
        r.elements,
        r.untested,
        r.ready_alone,
        r.ready_alone,
        r.picture,
        0,
        r.etag,
        r.last_modified,
        r.resources,
        r.left_out,
        r.inventory,
        r.page_views,
        r.shown,
        r.links,
        coalesce(r.unchanged_from, r.id),
        r.read_at
    FROM given JOIN reading r ON r.id = given.known_id AND r.sweep_id = %(known_sweep)s
    ON CONFLICT (sweep_id, page_id) DO NOTHING
    RETURNING id, page_id, ready
),

copied AS (
    INSERT INTO finding (
        reading_id,
        sweep_id,
        page_id,
        ordinal,
        check_id,
        outcome,
        weight,
        criteria,
        says,
        question,
        selector,
        line,
        "column",
        box,
        visible,
        nearest_visible,
        nearest_box,
        excerpt,
        facts,
        mends,
        place_key,
        cause_key,
        zone,
        structure,
        shape_key,
        block,
        cause,
        standing
    )
    SELECT
        added.id,
        %(sweep_id)s,
        f.page_id,
        given.position * %(most)s::bigint + mod(f.ordinal, %(most)s::bigint),
        f.check_id,
        f.outcome,
        f.weight,
        f.criteria,
        f.says,
        f.question,
        f.selector,
        f.line,
        f."column",
        f.box,
        f.visible,
        f.nearest_visible,
        f.nearest_box,
        f.excerpt,
        f.facts,
        f.mends,
        f.place_key,
        f.cause_key, f.zone, f.structure, f.shape_key, f.block, f.cause_key, s.standing
    FROM added
    JOIN given ON given.page_id = added.page_id
    JOIN finding f ON f.reading_id = given.known_id AND f.sweep_id = %(known_sweep)s
    JOIN
        standing_rule s
        ON
            s.outcome = f.outcome AND s.answer = ''
            AND NOT s.waived AND NOT s.left_out AND NOT s.mended
    WHERE f.check_id <> all(%(site_wide)s::text[])
    RETURNING counts, weight
)

SELECT
    (SELECT count(*) FROM added)::int AS unchanged,
    (
        SELECT count(*) FROM added
        WHERE ready
    )::int AS ready,
    coalesce(
        (
            SELECT jsonb_object_agg(
                weight, n) FROM (
                SELECT weight, count(*) AS n FROM copied
                WHERE counts
                GROUP BY weight
            ) c
        ), '{}'
    ) AS found;

-- name: add_finding
-- A finding of a reading; one that is given no place in the order comes after those that are there.
INSERT INTO finding (
    reading_id,
    sweep_id,
    page_id,
    ordinal,
    check_id,
    outcome,
    weight,
    criteria,
    says,
    question,
    selector,
    line,
    "column",
    box,
    visible,
    nearest_visible,
    nearest_box,
    excerpt,
    facts,
    mends,
    place_key,
    cause_key,
    zone,
    structure,
    shape_key,
    block,
    cause,
    standing
)
SELECT
    r.id, r.sweep_id, r.page_id,
    coalesce(
        %(ordinal)s::bigint,
        (
            SELECT max(f.ordinal) + 1 FROM finding f
            WHERE f.reading_id = r.id AND f.sweep_id = r.sweep_id
        ), sp.position * %(most)s::bigint
    ),
    %(check)s,
    %(outcome)s,
    %(weight)s,
    %(criteria)s,
    %(says)s,
    %(question)s,
    %(selector)s,
    %(line)s,
    %(column)s,
    %(box)s,
    %(visible)s,
    %(nearest_visible)s,
    %(nearest_box)s,
    %(excerpt)s,
    %(facts)s,
    %(mends)s,
    %(place_key)s,
    %(cause_key)s,
    %(zone)s,
    %(structure)s,
    %(shape_key)s,
    %(block)s,
    %(cause_key)s, %(standing)s
FROM reading r JOIN sweep_page sp ON sp.sweep_id = r.sweep_id AND sp.page_id = r.page_id
WHERE r.id = %(reading_id)s AND r.sweep_id = %(sweep_id)s;

-- name: waiting_with
-- A sweep of given pages that has not begun yet and will read all of these.
SELECT id FROM sweep
WHERE
    site_id = %(site_id)s
    AND environment = %(environment)s
    AND lens = %(lens)s
    AND scope = 'given'
    AND state = 'queued'
    AND given_paths @> %(paths)s
ORDER BY id LIMIT 1;

-- name: titles
-- The titles of the pages that were read in a sweep, in the order of the pages.
SELECT r.id AS reading_id, p.path, r.title FROM reading r JOIN page p ON p.id = r.page_id
JOIN sweep_page sp ON sp.sweep_id = r.sweep_id AND sp.page_id = r.page_id
WHERE r.sweep_id = %(sweep_id)s AND r.status = 'read'
ORDER BY sp.position;

-- name: not_ready
-- Something holds the page.
UPDATE reading SET ready = FALSE
WHERE id = %(id)s;

-- name: add_event
-- Something happened in a sweep.
INSERT INTO sweep_event (sweep_id, kind, data) VALUES (%(sweep_id)s, %(kind)s, %(data)s);

-- name: events_after
-- What happened in a sweep since an event.
SELECT id, kind, data
FROM sweep_event
WHERE sweep_id = %(sweep_id)s AND id > %(after)s
ORDER BY id
LIMIT 500;

-- name: readings
-- The readings of a sweep in the order of their paths, or those that could not be read first, then
-- those with the heaviest faults.
SELECT
    r.id,
    r.page_id,
    p.path,
    r.address,
    r.lens,
    r.status,
    r.problem_code,
    r.problem_says,
    r.title,
    r.language,
    r.content_hash,
    r.ready,
    r.picture,
    r.seconds,
    r.read_at,
    r.untested,
    r.unchanged_from IS NOT NULL AS unchanged,
    r.left_out,
    r.left_out_page,
    sp.found_by,
    sp.linked_from,
    c.failed,
    c.barriers,
    c.obstacles,
    c.frictions,
    k.rank
FROM reading r
JOIN page p ON p.id = r.page_id
JOIN sweep_page sp ON sp.sweep_id = r.sweep_id AND sp.page_id = r.page_id
CROSS JOIN
    LATERAL (
        SELECT
            count(*)::int AS failed,
            count(*) FILTER (WHERE f.weight = 'barrier')::int AS barriers,
            count(*) FILTER (WHERE f.weight = 'obstacle')::int AS obstacles,
            count(*) FILTER (WHERE f.weight = 'friction')::int AS frictions
        FROM finding f
        WHERE f.reading_id = r.id AND f.sweep_id = r.sweep_id AND f.counts
    ) c
CROSS JOIN
    LATERAL (
        SELECT CASE
            WHEN %(by_weight)s
                THEN ARRAY[(r.status = 'read')::int, -c.barriers, -c.obstacles, -c.frictions]
            ELSE '{}'::int[]
        END AS rank
    ) k
WHERE
    r.sweep_id = %(sweep_id)s
    AND (k.rank, p.path) > (%(after_rank)s::int[], %(after)s)
    AND (%(status)s::text IS NULL OR r.status = %(status)s)
    AND (%(ready)s::boolean IS NULL OR r.ready = %(ready)s AND NOT r.left_out_page)
    AND (%(path)s::text IS NULL OR starts_with(p.path, %(path)s))
ORDER BY k.rank, p.path LIMIT %(limit)s;

-- name: findings
-- The findings of a sweep that the filters let through, in the order of the pages and of the places
-- on them.
SELECT r.* FROM (
    SELECT f.id
    FROM finding f
    WHERE f.sweep_id = %(sweep_id)s AND f.ordinal > %(after)s {filters}
    ORDER BY f.ordinal
    LIMIT %(limit)s
) k
JOIN finding_row r ON r.id = k.id AND r.sweep_id = %(sweep_id)s
ORDER BY r.ordinal;

-- name: findings_by_weight
-- The same, the heaviest first, of these the sure.
SELECT r.* FROM (
    SELECT f.id
    FROM finding f
    WHERE
        f.sweep_id = %(sweep_id)s
        AND (f.rank, f.ordinal) > (%(after_rank)s, %(after)s)
        {filters}
    ORDER BY f.rank, f.ordinal
    LIMIT %(limit)s
) k
JOIN finding_row r ON r.id = k.id AND r.sweep_id = %(sweep_id)s
ORDER BY r.rank, r.ordinal;

-- name: count_findings
-- How many findings the filters let through, counted up to a bound.
SELECT count(*)::int AS count
FROM (
    SELECT FROM finding f
    WHERE f.sweep_id = %(sweep_id)s {filters} LIMIT %(most)s
) found;

-- name: if_check
-- Of one check.
SELECT f.id FROM finding f
WHERE f.check_id = %(check)s;

-- name: if_area
-- Of the checks of an area.
SELECT f.id FROM finding f
WHERE f.check_id LIKE %(area)s || '/%%';

-- name: if_words
-- Words in no dictionary alone, or all but these.
SELECT f.id FROM finding f
WHERE is_word(f.check_id) = %(words)s;

-- name: if_weight
-- Of a weight.
SELECT f.id FROM finding f
WHERE f.weight = %(weight)s;

-- name: if_outcome
-- Sure, or to be looked at.
SELECT f.id FROM finding f
WHERE f.outcome = %(outcome)s;

-- name: if_standing
-- Of a standing.
SELECT f.id FROM finding f
WHERE f.standing = %(standing)s;

-- name: if_path
-- On pages whose path begins so.
SELECT f.id
FROM finding f
WHERE f.page_id IN (
    SELECT p.id FROM page p JOIN sweep w ON w.site_id = p.site_id
    WHERE w.id = %(sweep_id)s AND starts_with(p.path, %(path)s)
);

-- name: if_cause
-- Of a cause.
SELECT f.id FROM finding f
WHERE f.cause = %(cause)s;

-- name: if_at
-- On one page.
SELECT f.id
FROM finding f
WHERE f.page_id = (
    SELECT p.id FROM page p JOIN sweep w ON w.site_id = p.site_id
    WHERE w.id = %(sweep_id)s AND p.path = %(at)s
);

-- name: if_zone
-- In a zone of the page.
SELECT f.id FROM finding f
WHERE f.zone = %(zone)s;

-- name: finding
-- One finding with its site, picture and how far its cause reaches in the same sweep.
SELECT
    f.*, s.slug AS site, s.name AS site_name, w.environment, r.picture, r.read_at,
    (
        SELECT count(*) FROM finding o
        WHERE o.sweep_id = f.sweep_id AND o.cause = f.cause)::int
        AS same_cause_places,
    (
        SELECT count(DISTINCT o.page_id) FROM finding o
        WHERE o.sweep_id = f.sweep_id AND o.cause = f.cause
    )::int AS same_cause_pages,
    x.id AS fix_id,
    x.state AS fix_state,
    x.reopened_after AS fix_reopened_after,
    x.owner AS fix_owner
FROM finding_row f
JOIN reading r ON r.id = f.reading_id AND r.sweep_id = f.sweep_id
JOIN sweep w ON w.id = f.sweep_id
JOIN site s ON s.id = w.site_id
LEFT JOIN LATERAL (
    SELECT x.id, x.state, x.reopened_after, coalesce(o.name, c.name) AS owner
    FROM fix x
    LEFT JOIN person o ON o.id = x.owner_id
    LEFT JOIN people_group c ON c.id = x.group_id
    WHERE
        x.site_id = w.site_id
        AND x.environment = w.environment
        AND (
            x.place_key IS NULL AND x.cause = f.cause
            OR x.page_id = f.page_id AND x.place_key = f.place_key AND x.check_id = f."check"
        )
    ORDER BY x.place_key NULLS LAST LIMIT 1
) x ON TRUE
WHERE f.id = %(id)s;
