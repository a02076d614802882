-- depends: 0029.log
-- What an answer of the gate was read and judged by; it is part of the seal.

ALTER TABLE clearance
ADD COLUMN policy_version text NOT NULL DEFAULT '',
ADD COLUMN core_version text NOT NULL DEFAULT '';
COMMENT ON COLUMN clearance.policy_version IS 'The beginning of the SHA-256 of the policy.';

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
    c.is_ahead,
    c.policy_version,
    c.core_version
FROM clearance c
JOIN site s ON s.id = c.site_id
JOIN person p ON p.id = c.asked_by
LEFT JOIN person o ON o.id = c.overruled_by;
