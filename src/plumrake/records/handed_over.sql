-- name: add
-- A page that is handed over to a sweep.
INSERT INTO handed_over (sweep_id, path, source, answer)
VALUES (%(sweep_id)s, %(path)s, %(source)s, %(answer)s);

-- name: of_sweep
-- Of some paths those that were handed over to a sweep.
SELECT h.path, h.source, h.answer
FROM handed_over h
WHERE h.sweep_id = %(sweep_id)s AND h.path = any(%(paths)s::text[]);

-- name: forget
-- A sweep is finished: what was handed over to it is not wanted any more.
DELETE FROM handed_over
WHERE sweep_id = %(sweep_id)s;
