-- name: health
-- How the database and what works on it are: its version, its clock, how many queues are worked on,
-- how long the oldest job waits that could be done, the oldest question to the gate, and the oldest
-- sweep under way, how many e-mails did not go out, how long the oldest picture waits to be carried
-- into the store where others were, and how many bytes it takes.
SELECT
    current_setting('server_version') AS version,
    extract(EPOCH FROM clock_timestamp())::float AS clock,
    (
        SELECT count(*)::int FROM procrastinate_workers w
        WHERE w.last_heartbeat > now() - interval '30 seconds'
    ) AS worked_on,
    (
        SELECT coalesce(extract(EPOCH FROM now() - min(e.at)), 0)::float
        FROM procrastinate_jobs j JOIN procrastinate_events e ON e.job_id = j.id
        WHERE
            j.status = 'todo'
            AND e.type = 'deferred'
            AND (j.scheduled_at IS NULL OR j.scheduled_at <= now())
    ) AS oldest_job_seconds,
    (SELECT question_seconds FROM longest_waiting()) AS oldest_question_seconds,
    (SELECT sweep_seconds FROM longest_waiting()) AS oldest_sweep_seconds,
    row_security_active('finding') AS is_walled,
    (
        SELECT count(*)::int FROM email m
        WHERE m.sent_at IS NULL AND (m.attempts > 0 OR m.given_up_at > now() - interval '1 day')
    ) AS emails_failing,
    (
        SELECT coalesce(extract(EPOCH FROM now() - min(e.created_at)), 0)::float FROM evidence e
        WHERE
            e.content IS NOT NULL
            AND EXISTS (
                SELECT FROM evidence c
                WHERE c.content IS NULL
            )
    ) AS oldest_picture_seconds,
    pg_database_size(current_database())::bigint AS bytes;
