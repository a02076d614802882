-- depends: 0015.every_table_says
-- Pages that a policy leaves out are read, but counted neither among the ready nor the others.

ALTER TABLE reading ADD left_out_page boolean NOT NULL DEFAULT FALSE;
COMMENT ON COLUMN reading.left_out_page IS 'The policy leaves the page out of what is counted.';

CREATE OR REPLACE VIEW sweep_row AS
SELECT
    w.id,
    w.site_id,
    s.slug AS site,
    w.environment,
    w.lens,
    w.section,
    w.state,
    w.problem,
    w.policy,
    w.asked_by,
    w.total,
    w.created_at,
    w.started_at,
    w.finished_at,
    w.scope,
    w.given_paths,
    w.fresh,
    w.ground,
    w.batches,
    w.next_batch,
    w.base_id,
    w.read,
    w.unreadable,
    w.ready,
    w.unchanged,
    w.found,
    w.redirects,
    w.unlisted,
    is_whole(w.section, w.scope) AS is_whole,
    coalesce((w.counted ->> 'left_out')::int, 0) AS left_out
FROM sweep w
JOIN site s ON s.id = w.site_id;
