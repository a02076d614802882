-- name: act_as
-- Who acts in this transaction, and from where: what the log says of the changes in it; and whether
-- what it names was looked at before, so that it may work on the whole site.
SELECT
    set_config('plumrake.areas', %(areas)s, TRUE),
    set_config('plumrake.person', %(person)s, TRUE),
    set_config('plumrake.from', %(from_address)s, TRUE);

-- name: note
-- Something that was done, or tried, and is no change of a row.
INSERT INTO log_entry (kind, about, about_id, site_id, by_id, from_address, after) VALUES (
    %(kind)s, %(about)s, %(about_id)s, %(site_id)s, %(by_id)s, %(from_address)s, %(after)s
);

-- name: entries
-- What was done, the newest first: of one site, or of everything.
SELECT
    e.id,
    e.place,
    e.at,
    e.kind,
    CASE
        WHEN
            e.kind ~ '^(person|member|sign-in|authenticator|passkey|group-member)[.]'
            AND e.about_id IS NOT NULL
            THEN coalesce(a.name, 'somebody who is gone')
        ELSE e.about
    END AS about,
    e.about_id,
    s.slug AS site,
    e.by_id,
    CASE WHEN e.by_id IS NOT NULL THEN coalesce(p.name, 'somebody who is gone') END AS by,
    e.from_address,
    e.before,
    e.after
FROM log_entry e
LEFT JOIN person p ON p.id = e.by_id
LEFT JOIN person a ON a.id = e.about_id
LEFT JOIN site s ON s.id = e.site_id
WHERE
    (%(site_id)s::bigint IS NULL OR e.site_id = %(site_id)s)
    AND (%(kind)s::text IS NULL OR e.kind LIKE %(kind)s || '%%')
    AND (%(after)s::bigint IS NULL OR e.id < %(after)s)
    AND (%(since)s::bigint IS NULL OR e.id > %(since)s)
ORDER BY e.id DESC
LIMIT %(limit)s;

-- name: seal
-- Entries that are not sealed yet get their seals.
SELECT seal_log()::int AS count;

-- name: check
-- How many entries are sealed, and the first whose seal does not hold, or before which one is
-- missing.
WITH chain AS (
    SELECT
        e.place,
        e.place <> coalesce(lag(e.place) OVER w, b.place) + 1
        OR e.seal <> log_seal(coalesce(lag(e.seal) OVER w, b.seal), e) AS is_broken
    FROM log_entry e CROSS JOIN log_start b
    WHERE e.place IS NOT NULL
    WINDOW w AS (ORDER BY e.place)
)

SELECT
    count(*)::int AS sealed,
    (
        SELECT count(*)::int FROM log_entry u
        WHERE u.place IS NULL
    ) AS unsealed,
    min(c.place) FILTER (WHERE c.is_broken) AS broken_at
FROM chain c;

-- name: forget
-- Entries that are old go.
SELECT forget_log(%(days)s)::int AS count;
