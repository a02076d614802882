-- depends: 0002.start

ALTER TABLE site DROP CONSTRAINT site_found_by_check;
ALTER TABLE site
    ADD CHECK (found_by IN ('sitemap', 'crawl', 'both', 'list', 'archive')),
    ADD archive text,
    ADD most_pages integer NOT NULL DEFAULT 20000 CHECK (most_pages BETWEEN 1 AND 200000),
    ADD crawl_depth integer NOT NULL DEFAULT 20 CHECK (crawl_depth BETWEEN 0 AND 100),
    ADD at_once integer NOT NULL DEFAULT 4 CHECK (at_once BETWEEN 1 AND 32),
    ADD pause_ms integer NOT NULL DEFAULT 0 CHECK (pause_ms BETWEEN 0 AND 60000),
    ADD schedule text,
    ADD schedule_edition text NOT NULL DEFAULT 'live' CHECK (schedule_edition IN ('live', 'staging')),
    ADD scheduled_at timestamptz NOT NULL DEFAULT now(),
    ADD changed_at timestamptz NOT NULL DEFAULT now();

CREATE TABLE archive (
    hash text PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    name text NOT NULL,
    content bytea NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);

ALTER TABLE sweep DROP CONSTRAINT sweep_state_check;
ALTER TABLE sweep
    ADD CHECK (state IN ('queued', 'running', 'stopped', 'done', 'failed')),
    ADD scope text NOT NULL DEFAULT 'all' CHECK (scope IN ('all', 'changed', 'given')),
    ADD given_paths text[] NOT NULL DEFAULT '{}',
    ADD fresh boolean NOT NULL DEFAULT false,
    ADD ground text NOT NULL DEFAULT '',
    ADD batches integer NOT NULL DEFAULT 0,
    ADD next_batch integer NOT NULL DEFAULT 0,
    ADD base_id bigint REFERENCES sweep ON DELETE SET NULL,
    ADD read integer NOT NULL DEFAULT 0,
    ADD unreadable integer NOT NULL DEFAULT 0,
    ADD ready integer NOT NULL DEFAULT 0,
    ADD kept integer NOT NULL DEFAULT 0,
    ADD found jsonb NOT NULL DEFAULT '{}';
UPDATE sweep w SET read = c.read, unreadable = c.unreadable, ready = c.ready FROM (
    SELECT sweep_id, count(*) FILTER (WHERE status = 'read') AS read, count(*) FILTER (WHERE status = 'unreadable') AS unreadable,
        count(*) FILTER (WHERE ready) AS ready
    FROM reading GROUP BY sweep_id) c WHERE c.sweep_id = w.id;

ALTER TABLE sweep_page
    ADD found_by text NOT NULL DEFAULT 'sitemap',
    ADD linked_from text,
    ADD changed_on timestamptz;

ALTER TABLE reading
    ADD kept_from bigint,
    ADD etag text,
    ADD last_modified text,
    ADD resources jsonb,
    ADD ready_alone boolean NOT NULL DEFAULT false,
    ADD left_out integer NOT NULL DEFAULT 0,
    ADD checked_at timestamptz NOT NULL DEFAULT now();
UPDATE reading SET ready_alone = ready;
CREATE INDEX reading_of_page ON reading (page_id, sweep_id DESC);

CREATE TABLE inventory (
    hash text PRIMARY KEY,
    census jsonb NOT NULL,
    pictures jsonb NOT NULL,
    links jsonb NOT NULL,
    colours jsonb NOT NULL
);
ALTER TABLE reading ADD inventory text REFERENCES inventory;

ALTER TABLE finding
    ADD region text NOT NULL DEFAULT 'page',
    ADD structure text NOT NULL DEFAULT '',
    ADD shape_key text NOT NULL DEFAULT '',
    ADD cause text,
    ADD returned boolean NOT NULL DEFAULT false;
UPDATE finding SET cause = cause_key;
DROP INDEX finding_of_cause;
CREATE INDEX finding_of_cause ON finding (sweep_id, cause, ordinal);
CREATE INDEX finding_of_place ON finding (page_id, place_key, sweep_id);

CREATE TABLE cause (
    sweep_id bigint NOT NULL REFERENCES sweep ON DELETE CASCADE,
    key text NOT NULL,
    position integer NOT NULL,
    check_id text NOT NULL,
    outcome text NOT NULL,
    weight text NOT NULL,
    region text NOT NULL,
    by_template boolean NOT NULL,
    places integer NOT NULL,
    pages integer NOT NULL,
    best bigint NOT NULL REFERENCES finding ON DELETE CASCADE,
    first_sweep bigint NOT NULL,
    first_seen_at timestamptz NOT NULL,
    PRIMARY KEY (sweep_id, key)
);
CREATE UNIQUE INDEX cause_position ON cause (sweep_id, position);
CREATE INDEX cause_of_key ON cause (key, sweep_id);

CREATE TABLE cause_picture (
    sweep_id bigint NOT NULL,
    key text NOT NULL,
    finding_id bigint NOT NULL REFERENCES finding ON DELETE CASCADE,
    picture text NOT NULL REFERENCES evidence,
    PRIMARY KEY (sweep_id, key, finding_id),
    FOREIGN KEY (sweep_id, key) REFERENCES cause ON DELETE CASCADE
);

CREATE VIEW sweep_row AS
SELECT w.id, w.site_id, s.slug AS site, w.edition, w.lens, w.section, w.state, w.problem, w.policy, w.asked_by, w.total, w.created_at, w.started_at,
    w.finished_at, w.scope, w.given_paths, w.fresh, w.ground, w.batches, w.next_batch, w.base_id, w.read, w.unreadable, w.ready, w.kept, w.found
FROM sweep w JOIN site s ON s.id = w.site_id;

CREATE VIEW finding_row AS
SELECT f.id, f.ordinal, f.sweep_id, f.reading_id, f.page_id, p.path, r.address, r.title, f.check_id AS check, f.outcome, f.weight, f.criteria, f.says,
    f.question, f.selector, f.line, f."column", f.box, f.visible, f.nearest_visible, f.nearest_box, f.excerpt, f.facts, f.mends, f.place_key,
    f.cause_key, f.region, f.cause
FROM finding f JOIN page p ON p.id = f.page_id JOIN reading r ON r.id = f.reading_id;
CREATE INDEX reading_of_picture ON reading (picture) WHERE picture IS NOT NULL;
CREATE INDEX reading_of_inventory ON reading (inventory) WHERE inventory IS NOT NULL;
CREATE INDEX cause_picture_of_evidence ON cause_picture (picture);
