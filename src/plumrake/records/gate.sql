-- name: add
-- A content that waits for its answer.
INSERT INTO clearance (
    site_id,
    release_id,
    path,
    given_as,
    address,
    lens,
    frame,
    slot,
    content,
    content_hash,
    asked_by,
    version,
    item,
    asked_for,
    asked_for_id,
    is_ahead
)
VALUES (
    %(site_id)s,
    %(release_id)s,
    %(path)s,
    %(given_as)s,
    %(address)s,
    %(lens)s,
    %(frame)s,
    %(slot)s,
    %(content)s,
    %(content_hash)s,
    %(asked_by)s,
    %(version)s,
    %(item)s,
    %(asked_for)s,
    %(asked_for_id)s,
    %(is_ahead)s
)
RETURNING id;

-- name: known
-- The newest clearance of a version of an item that is as good as a new one: still being read, or
-- answered so that one may publish on it.
SELECT id FROM clearance
WHERE
    site_id = %(site_id)s
    AND item = %(item)s
    AND version = %(version)s
    AND lens = %(lens)s
    AND used_at IS NULL
    AND (
        (state = 'waiting' AND asked_at > now() - interval '2 minutes')
        OR (valid_until > now() AND (decision <> 'held' OR overruled_at IS NOT NULL))
    )
ORDER BY id DESC LIMIT 1;

-- name: take_over
-- What was read ahead is asked for now.
UPDATE clearance SET
    is_ahead = FALSE,
    asked_by = %(asked_by)s,
    asked_for = %(asked_for)s,
    asked_for_id = %(asked_for_id)s,
    asked_at = now()
WHERE id = %(id)s AND is_ahead;

-- name: count_waiting
-- How many contents wait for their answer, or to be read ahead, of one asker and of all, of all
-- sites.
SELECT
    own,
    every
FROM questions_waiting(%(asked_by)s, %(asked_for)s, %(is_ahead)s);

-- name: by_id
-- One clearance.
SELECT * FROM clearance_row
WHERE id = %(id)s;

-- name: content
-- What is to be read for a clearance; nothing once it is answered.
SELECT content FROM clearance
WHERE id = %(id)s AND state = 'waiting';

-- name: answer
-- The answer; the content itself is forgotten with it.
UPDATE clearance SET
    state = 'answered',
    decision = %(decision)s,
    reason = %(reason)s,
    title = %(title)s,
    problem_code = %(problem_code)s,
    judged = %(judged)s,
    live_count = %(live_count)s,
    untested = %(untested)s,
    picture = %(picture)s,
    seconds = %(seconds)s,
    policy_version = %(policy_version)s,
    core_version = %(core_version)s,
    content_hash = coalesce(%(content_hash)s, content_hash),
    answered_at = now(), valid_until = now() + make_interval(mins => %(minutes)s), content = NULL
WHERE id = %(id)s AND state = 'waiting';

-- name: overrule
-- A held clearance is overruled by a person, with a reason.
UPDATE clearance SET overruled_by = %(person_id)s, overruled_at = now(), overruled_why = %(why)s
WHERE id = %(id)s AND state = 'answered' AND decision = 'held' AND overruled_at IS NULL;

-- name: use
-- A clearance is used, once.
UPDATE
    clearance
SET used_at = now()
WHERE
    id = %(id)s AND used_at IS NULL AND state = 'answered' AND valid_until > now()
    AND (decision <> 'held' OR overruled_at IS NOT NULL);

-- name: of_site
-- A site's clearances, the newest first.
SELECT * FROM clearance_row
WHERE
    site_id = %(site_id)s AND (%(before)s::bigint IS NULL OR id < %(before)s)
    AND (%(decision)s::text IS NULL OR decision = %(decision)s)
    AND (%(path)s::text IS NULL OR path = %(path)s)
    AND (%(release_id)s::bigint IS NULL OR release_id = %(release_id)s)
    AND NOT is_ahead
    AND (%(overruled)s::boolean IS NULL OR (overruled_at IS NOT NULL) = %(overruled)s)
ORDER BY id DESC LIMIT %(limit)s;

-- name: since
-- The answered clearances of a site since a time, for trying other rules on them.
SELECT *
FROM clearance_row
WHERE
    site_id = %(site_id)s
    AND state = 'answered'
    AND NOT is_ahead
    AND answered_at > now() - make_interval(days => %(days)s)
ORDER BY id;

-- name: add_release
-- Pages that are to be published together.
INSERT INTO release (site_id, name, asked_by) VALUES (%(site_id)s, %(name)s, %(asked_by)s) RETURNING
    id;

-- name: release
-- One release.
SELECT r.id, r.site_id, s.slug AS site, r.name, p.name AS asked_by, r.asked_at, r.answered_at
FROM release r
JOIN site s ON s.id = r.site_id
JOIN person p ON p.id = r.asked_by
WHERE r.id = %(id)s;

-- name: lock_release
-- A release, held against whoever answers another page of it at the same time: else each of the
-- last two sees the other one wait.
SELECT id FROM release
WHERE id = %(id)s FOR UPDATE;

-- name: end_release
-- A release is answered once no page of it waits any more.
UPDATE
    release r
SET answered_at = now()
WHERE
    r.id = %(id)s AND r.answered_at IS NULL
    AND NOT EXISTS (
        SELECT FROM clearance c
        WHERE c.release_id = r.id AND c.state = 'waiting'
    );

-- name: of_release
-- The clearances of a release by path.
SELECT * FROM clearance_row
WHERE release_id = %(id)s
ORDER BY path, id;

-- name: template_causes
-- What the templates of the live site print, as its newest whole sweep says.
SELECT c.key FROM cause c
WHERE
    c.by_template
    AND c.sweep_id = (
        SELECT w.id FROM sweep w
        WHERE
            w.site_id = %(site_id)s
            AND w.environment = 'live'
            AND w.state = 'done'
            AND w.scope <> 'given'
        ORDER BY w.id DESC LIMIT 1
    );

-- name: live_reading
-- The newest reading of a live page on the same ground, to be taken where the page is still what
-- was read.
SELECT r.id, r.content_hash, r.resources
FROM reading r
JOIN page p ON p.id = r.page_id
JOIN sweep w ON w.id = r.sweep_id
WHERE
    p.site_id = %(site_id)s
    AND p.path = %(path)s
    AND w.environment = 'live'
    AND w.ground = %(ground)s
    AND r.status = 'read'
    AND w.state IN ('done', 'stopped', 'running')
ORDER BY r.id DESC LIMIT 1;

-- name: live_findings
-- What was found in a reading, with what people answered.
SELECT f.check_id AS "check", f.place_key, f.says, f.excerpt, f.answer
FROM finding f
WHERE f.reading_id = %(reading_id)s
ORDER BY f.ordinal;

-- name: answers
-- What people answered at a page and what is in force, by place, whatever environment they saw it
-- in.
SELECT j.check_id AS "check", j.place_key, j.says, f.excerpt, j.answer
FROM judgement j
JOIN page p ON p.id = j.page_id
JOIN
    LATERAL (
        SELECT excerpt FROM finding f
        WHERE f.judgement_id = j.id
        ORDER BY f.id DESC LIMIT 1
    ) f
    ON TRUE
WHERE p.site_id = %(site_id)s AND p.path = %(path)s AND j.ended_at IS NULL;

-- name: waivers
-- The waivers of a site that are in force.
SELECT v.id, v.scope, v.check_id AS "check", v.ends_on, g.path, v.place_key, v.cause, v.pattern
FROM waiver v
LEFT JOIN page g ON g.id = v.page_id
WHERE v.site_id = %(site_id)s AND v.ended_at IS NULL;

-- name: secret
-- A key that the service made for itself; made where there is none. Of several who ask first, all
-- get the same.
INSERT INTO service_secret (name, secret) VALUES (%(name)s, %(fresh)s)
ON CONFLICT (name) DO UPDATE SET secret = service_secret.secret
RETURNING secret;
