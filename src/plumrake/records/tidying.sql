-- name: forget_emails
-- E-mails that went out, or never will.
DELETE FROM email
WHERE coalesce(sent_at, given_up_at) < now() - make_interval(days => %(days)s);

-- name: forget_deliveries
-- What webhooks were sent, or never will be.
DELETE FROM delivery
WHERE coalesce(delivered_at, given_up_at) < now() - make_interval(days => %(days)s);

-- name: forget_jobs
-- Jobs that ended, with what happened to them.
DELETE FROM procrastinate_jobs j
WHERE
    j.status NOT IN ('todo', 'doing')
    AND NOT EXISTS (
        SELECT FROM procrastinate_events e
        WHERE e.job_id = j.id AND e.at > now() - make_interval(days => %(days)s)
    );
