-- depends: 0013.words_apart
-- A finding that a later reading of its page no longer shows counts no more, at once; findings are
-- listed by weight.

ALTER TABLE finding ADD mended boolean NOT NULL DEFAULT FALSE;
COMMENT ON COLUMN finding.mended IS 'A later reading of the page no longer shows it.';

DELETE FROM standing_rule;
ALTER TABLE standing_rule
ADD mended boolean NOT NULL,
DROP CONSTRAINT standing_rule_pkey,
ADD PRIMARY KEY (outcome, answer, waived, left_out, mended);

CREATE FUNCTION weight_rank(weight text, outcome text) RETURNS smallint LANGUAGE sql IMMUTABLE
RETURN 2 * array_position(ARRAY['barrier', 'obstacle', 'friction'], weight)
+ (outcome <> 'failed')::int;
COMMENT ON FUNCTION weight_rank IS 'What stands first: the heaviest, and of these the sure.';

ALTER TABLE finding
ADD rank smallint GENERATED ALWAYS AS (weight_rank(weight, outcome)) STORED;
CREATE INDEX finding_by_weight ON finding (sweep_id, rank, ordinal);

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
    f.rank
FROM finding f
JOIN page p ON p.id = f.page_id
JOIN reading r ON r.id = f.reading_id;
