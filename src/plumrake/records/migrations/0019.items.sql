-- depends: 0018.corrections
-- Items of content systems, where on them something was found, and who asks the gate for whom.

CREATE TABLE item (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    number text NOT NULL,
    kind text NOT NULL,
    status text NOT NULL CHECK (status IN ('draft', 'pending', 'future', 'publish')),
    path text NOT NULL,
    title text NOT NULL,
    author text NOT NULL,
    email text NOT NULL,
    edit text NOT NULL,
    changed_at timestamptz NOT NULL,
    due_at timestamptz,
    seen_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (site_id, environment, number)
);
CREATE INDEX item_at ON item (site_id, environment, path);
CREATE INDEX item_going_out ON item (site_id, environment, status) WHERE status <> 'publish';
COMMENT ON TABLE item IS
'What a content system makes pages of: who wrote it, where it is edited, whether it is public.';
COMMENT ON COLUMN item.number IS 'What the content system knows it by.';
COMMENT ON COLUMN item.path IS 'The path that it has, or will have once it is public.';

CREATE TABLE item_author (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    email text NOT NULL,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    PRIMARY KEY (site_id, email)
);
COMMENT ON TABLE item_author IS
'Who an author of a content system is here, where the e-mail addresses differ.';

CREATE VIEW item_row AS
SELECT
    i.id,
    i.site_id,
    i.environment,
    i.number,
    i.kind,
    i.status,
    i.path,
    i.title,
    i.author,
    i.email,
    i.edit,
    i.changed_at,
    i.due_at,
    p.id AS person_id,
    p.name AS person,
    a.person_id IS NOT NULL AS by_hand
FROM item i
LEFT JOIN item_author a ON a.site_id = i.site_id AND a.email = lower(i.email)
LEFT JOIN person p ON p.id = a.person_id OR (a.person_id IS NULL AND p.email = lower(i.email));

ALTER TABLE connection ADD synced_at timestamptz;
COMMENT ON COLUMN connection.synced_at IS 'When its items were listed last.';

ALTER TABLE finding ADD block text NOT NULL DEFAULT '';
COMMENT ON COLUMN finding.block IS
'What made the place, where the page says so: path and name of a block, or frame.';

ALTER TABLE clearance
ADD version text,
ADD item text,
ADD asked_for text,
ADD asked_for_id bigint REFERENCES person,
ADD is_ahead boolean NOT NULL DEFAULT FALSE;
CREATE INDEX clearance_of_item ON clearance (site_id, item, id DESC) WHERE item IS NOT NULL;
CREATE INDEX clearance_for ON clearance (asked_for_id) WHERE asked_for_id IS NOT NULL;
COMMENT ON COLUMN clearance.version IS 'What whoever asks knows the content by.';
COMMENT ON COLUMN clearance.asked_for IS 'Who the program that asks acts for.';
COMMENT ON COLUMN clearance.is_ahead IS 'Whether a draft is read before anybody publishes it.';

ALTER TABLE token ADD site_id bigint REFERENCES site ON DELETE CASCADE;
CREATE INDEX token_of_site ON token (site_id) WHERE site_id IS NOT NULL;
COMMENT ON COLUMN token.site_id IS 'The one site that a token for the gate is good for.';

CREATE OR REPLACE VIEW finding_row AS
SELECT
    f.id,
    f.ordinal,
    f.sweep_id,
    f.reading_id,
    f.page_id,
    p.path,
    r.address,
    r.title,
    f.check_id AS "check",
    f.outcome,
    f.weight,
    f.criteria,
    f.says,
    f.question,
    f.selector,
    f.line,
    f."column",
    f.box,
    f.visible,
    f.nearest_visible,
    f.nearest_box,
    f.excerpt,
    f.facts,
    f.mends,
    f.place_key,
    f.cause_key,
    f.zone,
    f.cause,
    f.waiver_id,
    f.answer,
    f.standing,
    f.rank,
    f.block
FROM finding f
JOIN page p ON p.id = f.page_id
JOIN reading r ON r.id = f.reading_id;

CREATE OR REPLACE VIEW clearance_row AS
SELECT
    c.id,
    c.site_id,
    s.slug AS site,
    s.name AS site_name,
    c.release_id,
    c.path,
    c.given_as,
    c.address,
    c.lens,
    c.frame,
    c.slot,
    c.content_hash,
    c.state,
    c.decision,
    c.reason,
    c.title,
    c.problem_code,
    c.judged,
    c.live_count,
    c.untested,
    c.picture,
    c.seconds,
    c.asked_by AS asked_by_id,
    p.name AS asked_by,
    c.asked_at,
    c.answered_at,
    c.valid_until,
    o.name AS overruled_by,
    c.overruled_at,
    c.overruled_why,
    c.used_at,
    c.version,
    c.item,
    c.asked_for,
    c.asked_for_id,
    c.is_ahead
FROM clearance c
JOIN site s ON s.id = c.site_id
JOIN person p ON p.id = c.asked_by
LEFT JOIN person o ON o.id = c.overruled_by;

CREATE OR REPLACE VIEW fix_row AS
SELECT
    f.id,
    s.slug AS site,
    f.environment,
    f.cause,
    f.page_id,
    f.place_key,
    f.check_id AS "check",
    f.weight,
    f.rank,
    f.says,
    f.zone,
    f.by_template,
    f.path,
    f.places,
    f.pages,
    f.state,
    f.reopened_after,
    f.owner_id,
    o.name AS owner,
    f.group_id,
    c.name AS group_name,
    f.due_on,
    f.proposal,
    f.links,
    f.finding_id,
    f.proof_sweep,
    f.times_reopened,
    m.name AS made_by,
    f.made_at,
    f.closed_at,
    f.version,
    f.changed_at,
    f.site_id,
    t.is_to_do AND f.due_on IS NOT NULL AND f.due_on < current_date AS late,
    (
        SELECT i.edit FROM item i
        WHERE
            i.site_id = f.site_id AND i.environment = f.environment AND i.path = f.path
        ORDER BY i.status = 'publish' DESC, i.id LIMIT 1
    ) AS edit,
    coalesce((
        SELECT x.block FROM finding x
        WHERE x.id = f.finding_id
    ), '') AS block
FROM fix f
JOIN site s ON s.id = f.site_id
JOIN fix_state t ON t.name = f.state
LEFT JOIN person o ON o.id = f.owner_id
LEFT JOIN people_group c ON c.id = f.group_id
LEFT JOIN person m ON m.id = f.made_by;
