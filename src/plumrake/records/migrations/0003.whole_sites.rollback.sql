DROP VIEW sweep_row, finding_row;
DROP TABLE cause_picture, cause;
DROP INDEX finding_of_cause, finding_of_place, reading_of_page, reading_of_picture;
ALTER TABLE finding DROP region, DROP structure, DROP shape_key, DROP cause, DROP returned;
CREATE INDEX finding_of_cause ON finding (sweep_id, cause_key);
ALTER TABLE reading DROP kept_from, DROP etag, DROP last_modified, DROP resources, DROP ready_alone, DROP left_out, DROP checked_at, DROP inventory;
DROP TABLE inventory;
ALTER TABLE sweep_page DROP found_by, DROP linked_from, DROP changed_on;
DELETE FROM sweep WHERE state = 'stopped';
ALTER TABLE sweep DROP scope, DROP given_paths, DROP fresh, DROP ground, DROP batches, DROP next_batch, DROP base_id, DROP read, DROP unreadable,
    DROP ready, DROP kept, DROP found, DROP CONSTRAINT sweep_state_check, ADD CHECK (state IN ('queued', 'running', 'done', 'failed'));
DROP TABLE archive;
DELETE FROM site WHERE found_by NOT IN ('sitemap', 'list');
ALTER TABLE site DROP archive, DROP most_pages, DROP crawl_depth, DROP at_once, DROP pause_ms, DROP schedule, DROP schedule_edition,
    DROP scheduled_at, DROP changed_at, DROP CONSTRAINT site_found_by_check, ADD CHECK (found_by IN ('sitemap', 'list'));
