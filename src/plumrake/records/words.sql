-- name: add
-- Words of a site; those that it has already stay as they are.
INSERT INTO site_word (site_id, word, added_by)
SELECT %(site_id)s, unnest(%(words)s::text[]), %(added_by)s
ON CONFLICT (site_id, lower(word)) DO NOTHING;

-- name: drop
-- A word that is no longer the site's, whatever its capitals.
DELETE FROM site_word
WHERE site_id = %(site_id)s AND lower(word) = lower(%(word)s);

-- name: count_drop
-- Pages that were read with the word in the list are to be read again.
UPDATE site SET words_dropped = words_dropped + 1
WHERE id = %(site_id)s;

-- name: of_site
-- A part of a site's words in the order of the alphabet.
SELECT w.id, w.word, p.name AS added_by, w.added_at
FROM site_word w
JOIN person p ON p.id = w.added_by
WHERE w.site_id = %(site_id)s AND lower(w.word) > %(after)s
ORDER BY lower(w.word) LIMIT %(limit)s;

-- name: count
-- How many words a site has.
SELECT count(*) FROM site_word
WHERE site_id = %(site_id)s;

-- name: all
-- All words of a site.
SELECT word FROM site_word
WHERE site_id = %(site_id)s
ORDER BY id;

-- name: apply
-- Doubtful words of a sweep that are the site's own are fine, and those that no longer are, are
-- doubtful again; what people judged stands.
UPDATE finding f SET answer = n.answer FROM (
    SELECT
        f.id, CASE WHEN EXISTS (
            SELECT
            FROM site_word w
            WHERE
                w.site_id = %(site_id)s
                AND lower(w.word) IN (
                    lower(f.facts ->> 'word'),
                    regexp_replace(lower(f.facts ->> 'word'), '''s?$', '')
                )
        ) THEN 'fine' END AS answer
    FROM finding f
    WHERE f.sweep_id = %(sweep_id)s AND is_word(f.check_id) AND f.judgement_id IS NULL
) n
WHERE n.id = f.id AND f.sweep_id = %(sweep_id)s AND f.answer IS DISTINCT FROM n.answer;

-- name: doubtful
-- The doubtful words of a sweep that nobody has answered yet: those on most pages first.
SELECT
    min(f.facts ->> 'word') AS word,
    split_part(f.facts ->> 'language', '-', 1) AS language,
    sum((f.facts ->> 'count')::int)::int AS places,
    count(DISTINCT f.page_id)::int AS pages,
    min(f.id) AS finding,
    (array_agg(p.path ORDER BY f.id))[1] AS path,
    (array_agg(f.excerpt ORDER BY f.id))[1] AS excerpt,
    min(f.cause) AS cause
FROM finding f JOIN page p ON p.id = f.page_id
WHERE
    f.sweep_id = %(sweep_id)s AND is_word(f.check_id) AND f.is_doubtful
    AND (%(path)s::text IS NULL OR p.path = %(path)s)
GROUP BY lower(f.facts ->> 'word'), 2
ORDER BY pages DESC, places DESC, lower(min(f.facts ->> 'word'))
LIMIT %(limit)s;
