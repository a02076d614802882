DROP VIEW sweep_row;
CREATE VIEW sweep_row AS
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
    is_whole(w.section, w.scope) AS is_whole
FROM sweep w
JOIN site s ON s.id = w.site_id;
ALTER TABLE reading DROP left_out_page;
