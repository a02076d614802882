UPDATE sweep SET counted = (counted - 'words') || jsonb_build_object('doubtful', (counted ->> 'doubtful')::int + COALESCE((counted ->> 'words')::int, 0))
WHERE counted ? 'doubtful';
DROP FUNCTION is_word(text);
