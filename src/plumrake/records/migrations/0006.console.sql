-- depends: 0005.fixes

CREATE TABLE ways (
    hash text PRIMARY KEY,
    content bytea NOT NULL
);
COMMENT ON TABLE ways IS 'The ways to look at a page (outline, as heard, reading order, names) as compressed JSON, once per content.';
ALTER TABLE reading ADD ways text REFERENCES ways;
CREATE INDEX reading_of_ways ON reading (ways) WHERE ways IS NOT NULL;

CREATE TABLE saved_filter (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    view text NOT NULL,
    name text NOT NULL,
    query jsonb NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX saved_filter_name ON saved_filter (person_id, site_id, view, lower(name));

CREATE TABLE start_key (
    only_one boolean PRIMARY KEY DEFAULT true CHECK (only_one),
    token_hash bytea NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE start_key IS 'What the first person of an empty service needs to come in; gone once there is somebody.';

ALTER TABLE sweep ADD counted jsonb;
COMMENT ON COLUMN sweep.counted IS 'What of the sweep counts by weight, what is doubtful and what is waived; kept whenever pages are counted ready.';
UPDATE sweep w SET counted = c.counted FROM (
    SELECT f.sweep_id, jsonb_build_object('barriers', count(*) FILTER (WHERE f.counts AND f.weight = 'barrier'),
        'obstacles', count(*) FILTER (WHERE f.counts AND f.weight = 'obstacle'), 'frictions', count(*) FILTER (WHERE f.counts AND f.weight = 'friction'),
        'doubtful', count(*) FILTER (WHERE f.outcome = 'cantTell' AND f.answer IS NULL AND f.waiver_id IS NULL),
        'waived', count(*) FILTER (WHERE f.waiver_id IS NOT NULL)) AS counted
    FROM (SELECT *, waiver_id IS NULL AND (outcome = 'failed' OR answer = 'fault') AS counts FROM finding) f GROUP BY f.sweep_id) c
WHERE c.sweep_id = w.id AND w.state = 'done';
