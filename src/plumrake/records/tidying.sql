-- name: old_partitions
-- The partitions of sweeps, the oldest first.
SELECT first_sweep FROM sweep_partition
ORDER BY first_sweep;

-- name: drop_partition
-- A partition goes at once, where none of its sweeps is to be kept.
SELECT drop_partition(%(first_sweep)s, %(days)s, %(kept_sweeps)s);

-- name: forgettable
-- The sweeps that are to be forgotten.
SELECT id FROM forgettable(%(days)s, %(kept_sweeps)s) AS id
ORDER BY id LIMIT %(limit)s;

-- name: forget_sweep
-- What a sweep read and found, but not what it counted; what hangs on that goes with it.
WITH readings AS (
    DELETE FROM reading
    WHERE sweep_id = %(sweep_id)s
),

findings AS (
    DELETE FROM finding
    WHERE sweep_id = %(sweep_id)s
),

pages AS (
    DELETE FROM sweep_page
    WHERE sweep_id = %(sweep_id)s
),

events AS (
    DELETE FROM sweep_event
    WHERE sweep_id = %(sweep_id)s
),

causes AS (
    DELETE FROM cause
    WHERE sweep_id = %(sweep_id)s
),

compared AS (
    UPDATE sweep SET base_id = NULL
    WHERE base_id = %(sweep_id)s
)

UPDATE sweep SET forgotten_at = now()
WHERE id = %(sweep_id)s;

-- name: last_partition_begun
-- The newest partition where it has sweeps, so that the next one is to be made; else none.
SELECT max(b.first_sweep) FROM sweep_partition b
HAVING max(b.first_sweep) <= (SELECT max(w.id) FROM sweep w);

-- name: make_partition
-- The next partition, before it is needed.
SELECT make_partition();

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
