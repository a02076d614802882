-- name: add
-- A sweep that waits to be planned.
INSERT INTO sweep (site_id, edition, lens, section, policy, asked_by)
VALUES (%(site_id)s, %(edition)s, %(lens)s, %(section)s, %(policy)s, %(asked_by)s)
RETURNING id

-- name: by_id
-- One sweep with its counts.
SELECT w.id, w.site_id, s.slug AS site, w.edition, w.lens, w.section, w.state, w.problem, w.policy, w.total, w.created_at, w.started_at, w.finished_at,
    c.read, c.unreadable, c.ready
FROM sweep w JOIN site s ON s.id = w.site_id CROSS JOIN LATERAL (
    SELECT count(*) FILTER (WHERE status = 'read')::int AS read, count(*) FILTER (WHERE status = 'unreadable')::int AS unreadable,
        count(*) FILTER (WHERE ready)::int AS ready
    FROM reading r WHERE r.sweep_id = w.id) c
WHERE w.id = %(id)s

-- name: of_site
-- A site's sweeps, the newest first, before a given one.
SELECT w.id, w.site_id, s.slug AS site, w.edition, w.lens, w.section, w.state, w.problem, w.policy, w.total, w.created_at, w.started_at, w.finished_at,
    c.read, c.unreadable, c.ready
FROM sweep w JOIN site s ON s.id = w.site_id CROSS JOIN LATERAL (
    SELECT count(*) FILTER (WHERE status = 'read')::int AS read, count(*) FILTER (WHERE status = 'unreadable')::int AS unreadable,
        count(*) FILTER (WHERE ready)::int AS ready
    FROM reading r WHERE r.sweep_id = w.id) c
WHERE w.site_id = %(site_id)s AND (%(before)s::bigint IS NULL OR w.id < %(before)s)
ORDER BY w.id DESC LIMIT %(limit)s

-- name: lock
-- The state of a sweep, held against others until the transaction ends.
SELECT state FROM sweep WHERE id = %(id)s FOR UPDATE

-- name: newest_done
-- The newest finished sweep of a whole site, of one edition or of any.
SELECT id FROM sweep
WHERE site_id = %(site_id)s AND state = 'done' AND section = '/' AND (%(edition)s::text IS NULL OR edition = %(edition)s)
ORDER BY id DESC LIMIT 1

-- name: add_pages
-- Pages of a site by path; those that are known stay as they are.
INSERT INTO page (site_id, path) SELECT %(site_id)s, unnest(%(paths)s::text[]) ON CONFLICT DO NOTHING

-- name: plan_pages
-- Which pages a sweep reads, in batches, in the order given.
INSERT INTO sweep_page (sweep_id, page_id, batch, position)
SELECT %(sweep_id)s, p.id, (given.position - 1) / %(batch_size)s, given.position
FROM unnest(%(paths)s::text[]) WITH ORDINALITY AS given (path, position)
JOIN page p ON p.site_id = %(site_id)s AND p.path = given.path
ON CONFLICT DO NOTHING

-- name: begin
-- The sweep is planned and runs.
UPDATE sweep SET state = 'running', total = %(total)s, started_at = now() WHERE id = %(id)s

-- name: fail
-- The sweep cannot go on.
UPDATE sweep SET state = 'failed', problem = %(problem)s, finished_at = now() WHERE id = %(id)s AND state IN ('queued', 'running')

-- name: finish
-- The sweep is done when every planned page has its reading.
UPDATE sweep SET state = 'done', finished_at = now()
WHERE id = %(id)s AND state = 'running' AND total = (SELECT count(*) FROM reading WHERE sweep_id = %(id)s)

-- name: unread_of_batch
-- The pages of a batch that have no reading yet.
SELECT p.id, p.path, sp.position FROM sweep_page sp JOIN page p ON p.id = sp.page_id
WHERE sp.sweep_id = %(sweep_id)s AND sp.batch = %(batch)s
    AND NOT EXISTS (SELECT FROM reading r WHERE r.sweep_id = sp.sweep_id AND r.page_id = sp.page_id)
ORDER BY sp.position

-- name: keep_evidence
-- A picture, once per content.
INSERT INTO evidence (hash, media_type, content) VALUES (%(hash)s, %(media_type)s, %(content)s) ON CONFLICT DO NOTHING

-- name: evidence
-- A piece of evidence.
SELECT hash, media_type, content FROM evidence WHERE hash = %(hash)s

-- name: add_reading
-- A page's reading in a sweep; none where there is one already.
INSERT INTO reading (sweep_id, page_id, address, lens, status, problem_code, problem_says, title, language, content_hash, elements, untested, ready, picture, seconds)
VALUES (%(sweep_id)s, %(page_id)s, %(address)s, %(lens)s, %(status)s, %(problem_code)s, %(problem_says)s, %(title)s, %(language)s,
    %(content_hash)s, %(elements)s, %(untested)s, %(ready)s, %(picture)s, %(seconds)s)
ON CONFLICT (sweep_id, page_id) DO NOTHING
RETURNING id

-- name: add_finding
-- A finding of a reading.
INSERT INTO finding (reading_id, sweep_id, page_id, ordinal, check_id, outcome, weight, criteria, says, question, selector, line, "column", box,
    visible, nearest_visible, nearest_box, excerpt, facts, mends, place_key, cause_key)
VALUES (%(reading_id)s, %(sweep_id)s, %(page_id)s, %(ordinal)s, %(check)s, %(outcome)s, %(weight)s, %(criteria)s, %(says)s, %(question)s,
    %(selector)s, %(line)s, %(column)s, %(box)s, %(visible)s, %(nearest_visible)s, %(nearest_box)s, %(excerpt)s, %(facts)s, %(mends)s, %(place_key)s, %(cause_key)s)

-- name: titles
-- The titles of the pages that were read in a sweep, in the order of the pages.
SELECT r.id AS reading_id, p.path, r.title FROM reading r JOIN page p ON p.id = r.page_id
JOIN sweep_page sp ON sp.sweep_id = r.sweep_id AND sp.page_id = r.page_id
WHERE r.sweep_id = %(sweep_id)s AND r.status = 'read' ORDER BY sp.position

-- name: add_site_finding
-- A finding of a site-wide check, after those of the page itself.
INSERT INTO finding (reading_id, sweep_id, page_id, ordinal, check_id, outcome, weight, criteria, says, question, selector, line, "column", box,
    visible, nearest_visible, nearest_box, excerpt, facts, mends, place_key, cause_key)
SELECT r.id, r.sweep_id, r.page_id,
    COALESCE((SELECT max(f.ordinal) + 1 FROM finding f WHERE f.reading_id = r.id), sp.position * %(most)s::bigint),
    %(check)s, %(outcome)s, %(weight)s, %(criteria)s, %(says)s, %(question)s, %(selector)s, %(line)s, %(column)s, %(box)s, %(visible)s,
    %(nearest_visible)s, %(nearest_box)s, %(excerpt)s, %(facts)s, %(mends)s, %(place_key)s, %(cause_key)s
FROM reading r JOIN sweep_page sp ON sp.sweep_id = r.sweep_id AND sp.page_id = r.page_id
WHERE r.id = %(reading_id)s

-- name: not_ready
-- Something holds the page.
UPDATE reading SET ready = false WHERE id = %(id)s

-- name: add_event
-- Something happened in a sweep.
INSERT INTO sweep_event (sweep_id, kind, data) VALUES (%(sweep_id)s, %(kind)s, %(data)s)

-- name: events_after
-- What happened in a sweep since an event.
SELECT id, kind, data FROM sweep_event WHERE sweep_id = %(sweep_id)s AND id > %(after)s ORDER BY id LIMIT 500

-- name: readings
-- The readings of a sweep in the order of their paths.
SELECT r.id, r.page_id, p.path, r.address, r.lens, r.status, r.problem_code, r.problem_says, r.title, r.language, r.content_hash, r.ready,
    r.picture, r.seconds, r.read_at, r.untested,
    (SELECT count(*) FROM finding f WHERE f.reading_id = r.id AND f.outcome = 'failed')::int AS failed
FROM reading r JOIN page p ON p.id = r.page_id
WHERE r.sweep_id = %(sweep_id)s AND p.path > %(after)s AND (%(status)s::text IS NULL OR r.status = %(status)s)
    AND (%(ready)s::boolean IS NULL OR r.ready = %(ready)s)
ORDER BY p.path LIMIT %(limit)s

-- name: findings
-- The findings of a sweep that the filters let through, in the order of the pages and of the places on them.
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says, f.question, f.selector,
    f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key, f.cause_key
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id
WHERE f.sweep_id = %(sweep_id)s AND f.ordinal > %(after)s
    AND (%(check)s::text IS NULL OR f.check_id = %(check)s OR f.check_id LIKE %(check)s || '/%%')
    AND (%(weight)s::text IS NULL OR f.weight = %(weight)s)
    AND (%(outcome)s::text IS NULL OR f.outcome = %(outcome)s)
    AND (%(path)s::text IS NULL OR starts_with(p.path, %(path)s))
    AND (%(cause_key)s::text IS NULL OR f.cause_key = %(cause_key)s)
ORDER BY f.ordinal LIMIT %(limit)s

-- name: count_findings
-- How many findings the filters let through.
SELECT count(*)::int AS count FROM finding f JOIN page p ON p.id = f.page_id
WHERE f.sweep_id = %(sweep_id)s
    AND (%(check)s::text IS NULL OR f.check_id = %(check)s OR f.check_id LIKE %(check)s || '/%%')
    AND (%(weight)s::text IS NULL OR f.weight = %(weight)s)
    AND (%(outcome)s::text IS NULL OR f.outcome = %(outcome)s)
    AND (%(path)s::text IS NULL OR starts_with(p.path, %(path)s))
    AND (%(cause_key)s::text IS NULL OR f.cause_key = %(cause_key)s)

-- name: finding
-- One finding with its site, picture and how far its cause reaches in the same sweep.
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says, f.question, f.selector,
    f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key, f.cause_key,
    s.slug AS site, s.name AS site_name, w.edition, r.picture, r.read_at,
    (SELECT count(*) FROM finding o WHERE o.sweep_id = f.sweep_id AND o.cause_key = f.cause_key)::int AS same_cause_places,
    (SELECT count(DISTINCT o.page_id) FROM finding o WHERE o.sweep_id = f.sweep_id AND o.cause_key = f.cause_key)::int AS same_cause_pages
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id
JOIN sweep w ON w.id = f.sweep_id JOIN site s ON s.id = w.site_id
WHERE f.id = %(id)s
