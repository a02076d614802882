-- depends: 0012.one_owner
-- Words in no dictionary are counted and listed by themselves.

CREATE FUNCTION is_word(check_id text) RETURNS boolean LANGUAGE sql IMMUTABLE
RETURN check_id = 'text/spelling';
COMMENT ON FUNCTION is_word IS 'Whether a check doubts single words; its findings are gathered under Words and are not among those to look at.';

UPDATE sweep w SET counted = w.counted || (
    SELECT jsonb_build_object('doubtful', count(*) FILTER (WHERE f.is_doubtful AND NOT is_word(f.check_id)),
        'words', count(*) FILTER (WHERE f.is_doubtful AND is_word(f.check_id)))
    FROM finding f WHERE f.sweep_id = w.id)
WHERE w.counted IS NOT NULL;
