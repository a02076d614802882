DROP VIEW finding_row;
CREATE VIEW finding_row AS
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
    f.standing
FROM finding f
JOIN page p ON p.id = f.page_id
JOIN reading r ON r.id = f.reading_id;
ALTER TABLE finding DROP rank;
DROP FUNCTION weight_rank(text, text);
DELETE FROM standing_rule;
ALTER TABLE standing_rule
DROP CONSTRAINT standing_rule_pkey,
DROP mended,
ADD PRIMARY KEY (outcome, answer, waived, left_out);
UPDATE finding SET
    standing = CASE
        WHEN waiver_id IS NOT NULL THEN 'waived'
        WHEN answer = 'fine' THEN 'judged fine'
        WHEN outcome = 'failed' OR answer = 'fault' THEN 'counts'
        ELSE 'doubtful'
    END
WHERE standing = 'mended';
ALTER TABLE finding DROP mended;
