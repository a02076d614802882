-- name: add_notifications
-- A notification of a move to each of some people who are in the fix's site, other than the one who
-- made it.
INSERT INTO notification (person_id, kind, fix_id, event_id, urgent)
SELECT DISTINCT p.id, %(kind)s, x.id, %(event_id)s, %(urgent)s
FROM fix x JOIN person p ON p.id = any(%(people)s)
WHERE
    x.id = %(fix_id)s
    AND p.active
    AND p.id IS DISTINCT FROM %(by_id)s
    AND role_in(p.id, x.site_id) IS NOT NULL;

-- name: of_person
-- What somebody was told, the newest first.
{notification}
WHERE
    n.person_id = %(person_id)s
    AND x.site_id IN (SELECT sites_of(%(person_id)s))
    AND (%(before)s::bigint IS NULL OR n.id < %(before)s)
    AND (%(unread)s::boolean IS NOT TRUE OR n.read_at IS NULL)
ORDER BY n.id DESC LIMIT %(limit)s;

-- name: mark_read
-- Somebody has seen what they were told.
UPDATE notification SET read_at = now()
WHERE person_id = %(person_id)s AND read_at IS NULL AND id <= %(up_to)s;

-- name: count_unread
-- How many notifications somebody has not seen.
SELECT count(*)::int AS count FROM notification n JOIN fix x ON x.id = n.fix_id
WHERE
    n.person_id = %(person_id)s
    AND n.read_at IS NULL
    AND x.site_id IN (SELECT sites_of(%(person_id)s));

-- name: to_mail_immediately
-- Pressing notifications that no e-mail told of yet, of people who want them at once, held until
-- the transaction ends.
SELECT n.id, n.person_id
FROM notification n JOIN person p ON p.id = n.person_id JOIN fix x ON x.id = n.fix_id
WHERE
    n.mailed_at IS NULL
    AND n.urgent
    AND p.immediately
    AND p.active
    AND role_in(p.id, x.site_id) IS NOT NULL
ORDER BY n.id
LIMIT 500
FOR UPDATE OF n SKIP LOCKED;

-- name: due_digests
-- People whose daily e-mail is due, held until the transaction ends.
SELECT id
FROM person
WHERE digest AND active AND digested_at < %(since)s
ORDER BY id FOR UPDATE SKIP LOCKED;

-- name: digested
-- Somebody's daily e-mail was written.
UPDATE person SET digested_at = now()
WHERE id = %(id)s;

-- name: unmailed
-- Notifications of somebody that no e-mail told of yet.
SELECT n.id, n.person_id
FROM notification n JOIN fix x ON x.id = n.fix_id
WHERE
    n.person_id = %(person_id)s
    AND n.mailed_at IS NULL
    AND x.site_id IN (SELECT sites_of(%(person_id)s))
ORDER BY n.id;

-- name: mailed
-- Notifications that an e-mail told of.
UPDATE notification SET mailed_at = now()
WHERE id = any(%(ids)s);

-- name: by_ids
-- Some notifications with what they are about, the most pressing fix first.
{notification}
WHERE n.id = any(%(ids)s)
ORDER BY x.rank, x.pages DESC, n.id;

-- name: add_webhook
-- An address that wants to hear of a site's events.
INSERT INTO webhook (site_id, address, secret, kinds, made_by) VALUES (
    %(site_id)s, %(address)s, %(secret)s, %(kinds)s, %(made_by)s
)
RETURNING id, site_id, address, secret, kinds, made_at;

-- name: webhooks
-- The webhooks of a site.
SELECT id, site_id, address, secret, kinds, made_at
FROM webhook
WHERE site_id = %(site_id)s AND ended_at IS NULL
ORDER BY id;

-- name: end_webhook
-- A webhook that is not wanted any more.
UPDATE webhook SET ended_at = now()
WHERE id = %(id)s AND site_id = %(site_id)s AND ended_at IS NULL;

-- name: add_deliveries
-- An event for every webhook of the site that wants its kind.
INSERT INTO delivery (webhook_id, message_id, kind, payload)
SELECT id, 'msg_' || md5(random()::text || clock_timestamp()::text || id), %(kind)s, %(payload)s
FROM webhook
WHERE site_id = %(site_id)s AND ended_at IS NULL AND (kinds = '{}' OR %(kind)s = any(kinds));

-- name: claim_deliveries
-- Deliveries whose time has come; for a while nobody else takes them, so that the network is asked
-- outside of a transaction.
WITH due AS (
    SELECT d.id FROM delivery d JOIN webhook h ON h.id = d.webhook_id
    WHERE
        d.delivered_at IS NULL
        AND d.given_up_at IS NULL
        AND d.next_at <= now()
        AND h.ended_at IS NULL
    ORDER BY d.next_at, d.id LIMIT 50 FOR UPDATE OF d SKIP LOCKED
)

UPDATE delivery d SET next_at = now() + make_interval(secs => %(lease)s) FROM due, webhook h
WHERE d.id = due.id AND h.id = d.webhook_id
RETURNING d.id, d.message_id, d.kind, d.payload, d.attempts, h.address, h.secret, h.site_id;

-- name: delivered
-- How a try to deliver went.
UPDATE delivery SET
    attempts = attempts + 1,
    status = %(status)s,
    problem = %(problem)s,
    next_at = now() + make_interval(secs => %(wait)s),
    delivered_at = CASE WHEN %(problem)s::text IS NULL THEN now() END,
    given_up_at = CASE WHEN %(given_up)s THEN now() END
WHERE id = %(id)s;

-- name: deliveries
-- The log of a site's deliveries, the newest first.
SELECT
    d.id,
    d.webhook_id,
    h.address,
    d.message_id,
    d.kind,
    d.made_at,
    d.attempts,
    d.next_at,
    d.delivered_at,
    d.given_up_at,
    d.status,
    d.problem
FROM delivery d JOIN webhook h ON h.id = d.webhook_id
WHERE h.site_id = %(site_id)s AND (%(before)s::bigint IS NULL OR d.id < %(before)s)
ORDER BY d.id DESC
LIMIT %(limit)s;

-- name: send_again
-- A delivery is to be tried again at once.
UPDATE delivery d SET given_up_at = NULL, delivered_at = NULL, next_at = now() FROM webhook h
WHERE d.id = %(id)s AND h.id = d.webhook_id AND h.site_id = %(site_id)s;

-- name: add_email
-- An e-mail that is to go out.
INSERT INTO email (person_id, subject, text) VALUES (%(person_id)s, %(subject)s, %(text)s);

-- name: claim_email
-- The e-mail whose time came first; for a while nobody else takes it, so that the mail server is
-- asked outside of a transaction.
WITH due AS (
    SELECT m.id FROM email m JOIN person p ON p.id = m.person_id
    WHERE m.sent_at IS NULL AND m.given_up_at IS NULL AND m.next_at <= now() AND p.active
    ORDER BY m.next_at, m.id LIMIT 1 FOR UPDATE OF m SKIP LOCKED
)

UPDATE email m SET next_at = now() + make_interval(secs => %(lease)s) FROM due, person p
WHERE m.id = due.id AND p.id = m.person_id
RETURNING m.id, m.attempts, m.subject, m.text, p.name, p.email AS address;

-- name: email_tried
-- How a try to send an e-mail went.
UPDATE email SET
    attempts = attempts + 1,
    problem = %(problem)s,
    next_at = now() + make_interval(secs => %(wait)s),
    sent_at = CASE WHEN %(problem)s::text IS NULL THEN now() END,
    given_up_at = CASE WHEN %(given_up)s THEN now() END
WHERE id = %(id)s;

-- name: notification
-- What is shown of a notification; set into the queries above.
SELECT
    n.id,
    n.person_id,
    n.kind,
    n.fix_id,
    n.urgent,
    n.at,
    n.mailed_at,
    n.read_at,
    x.says,
    x.path,
    x.pages,
    x.state,
    x.reopened_after,
    x.due_on,
    x.check_id AS "check",
    x.weight,
    s.slug AS site, s.name AS site_name, b.name AS by, e.why,
    f.mends -> 0 ->> 'says' AS mend,
    coalesce(f.block, '') AS block,
    (
        SELECT i.edit FROM item i
        WHERE
            i.site_id = x.site_id AND i.environment = x.environment AND i.path = x.path
        ORDER BY i.status = 'publish' DESC, i.id LIMIT 1
    ) AS edit
FROM notification n
JOIN fix x ON x.id = n.fix_id
JOIN site s ON s.id = x.site_id
LEFT JOIN finding f ON f.id = x.finding_id
LEFT JOIN fix_event e ON e.id = n.event_id
LEFT JOIN person b ON b.id = e.by_id;
