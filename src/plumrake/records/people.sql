-- name: add_person
-- A person; the e-mail address is unique whatever its case.
INSERT INTO person (email, name, role, password_hash) VALUES (
    %(email)s, %(name)s, %(role)s, %(password_hash)s
)
ON CONFLICT (lower(email)) DO NOTHING
RETURNING id, email, name, role, password_hash, active, digest, immediately;

-- name: by_email
-- The person with an e-mail address.
SELECT id, email, name, role, password_hash, active, digest, immediately
FROM person
WHERE lower(email) = lower(%(email)s);

-- name: all
-- Everybody.
SELECT id, email, name, role, password_hash, active, digest, immediately
FROM person
ORDER BY name, id;

-- name: assign_responsibility
-- A path pattern of a site and who answers for it: a person or a group.
INSERT INTO responsibility (site_id, path_pattern, owner_id, group_id) VALUES (
    %(site_id)s, %(path_pattern)s, %(owner_id)s, %(group_id)s
)
ON CONFLICT (site_id, path_pattern) DO UPDATE
    SET owner_id = excluded.owner_id, group_id = excluded.group_id;

-- name: responsibilities
-- The areas of responsibility of a site.
SELECT a.path_pattern AS pattern, a.owner_id, a.group_id, coalesce(p.name, c.name) AS owner
FROM responsibility a
LEFT JOIN person p ON p.id = a.owner_id
LEFT JOIN people_group c ON c.id = a.group_id
WHERE a.site_id = %(site_id)s
ORDER BY a.path_pattern;

-- name: drop_part
-- Nobody answers for a pattern any more.
DELETE FROM responsibility
WHERE site_id = %(site_id)s AND path_pattern = %(path_pattern)s;

-- name: by_id
-- One person.
SELECT id, email, name, role, password_hash, active, digest, immediately
FROM person
WHERE id = %(id)s;

-- name: change_person
-- Name, role, whether they may sign in, and what e-mails they want.
UPDATE person SET
    name = %(name)s,
    role = %(role)s,
    active = %(active)s,
    digest = %(digest)s,
    immediately = %(immediately)s
WHERE id = %(id)s;

-- name: unname
-- A person goes: nothing says any more who they were. What they did stays, by a number.
WITH known AS (
    SELECT id, email FROM person
    WHERE id = %(id)s
),

sessions AS (
    DELETE FROM session
    WHERE person_id = %(id)s
),

browsers AS (
    DELETE FROM known_browser
    WHERE person_id = %(id)s
),

tokens AS (
    UPDATE token SET revoked_at = now(), name = 'of somebody who is gone'
    WHERE person_id = %(id)s AND revoked_at IS NULL
),

apps AS (
    DELETE FROM authenticator
    WHERE person_id = %(id)s
),

codes AS (
    DELETE FROM recovery_code
    WHERE person_id = %(id)s
),

keys AS (
    DELETE FROM passkey
    WHERE person_id = %(id)s
),

resets AS (
    DELETE FROM password_reset
    WHERE person_id = %(id)s
),

roles AS (
    DELETE FROM membership
    WHERE person_id = %(id)s
),

people_groups AS (
    DELETE FROM people_group_member
    WHERE person_id = %(id)s
),

areas AS (
    DELETE FROM responsibility
    WHERE owner_id = %(id)s
),

authors AS (
    DELETE FROM item_author
    WHERE person_id = %(id)s
),

emails AS (
    DELETE FROM email
    WHERE person_id = %(id)s
),

told AS (
    DELETE FROM notification
    WHERE person_id = %(id)s
),

filters AS (
    DELETE FROM saved_filter
    WHERE person_id = %(id)s
),

invitations AS (
    DELETE FROM invitation
    WHERE lower(email) = (SELECT lower(k.email) FROM known k)
),

attempts AS (
    DELETE FROM sign_in_attempt
    WHERE email = (SELECT lower(k.email) FROM known k)
),

asked AS (
    UPDATE clearance SET asked_for = 'somebody who is gone'
    WHERE asked_for_id = %(id)s
)

UPDATE person SET
    name = 'Somebody who is gone',
    email = 'gone-' || id || '@invalid',
    role = NULL,
    active = FALSE,
    password_hash = '',
    subject = NULL,
    feed_hash = NULL,
    digest = FALSE,
    immediately = FALSE
WHERE id = %(id)s;

-- name: count_managers
-- How many managers can sign in.
SELECT count(*)::int AS count FROM person
WHERE role = 'manager' AND active;

-- name: invite
-- An invitation, in place of an earlier one to the same address.
WITH earlier AS (
    DELETE FROM invitation
    WHERE lower(email) = lower(%(email)s) AND accepted_at IS NULL RETURNING id
)

INSERT INTO invitation (
    email, name, role, site_id, areas, areas_like, token_hash, invited_by, expires_at
)
SELECT
    %(email)s,
    %(name)s,
    %(role)s,
    %(site_id)s,
    %(areas)s::text[],
    %(areas_like)s::text[],
    %(token_hash)s,
    %(invited_by)s,
    now() + make_interval(days => %(days)s)
WHERE (SELECT count(*) FROM earlier) >= 0
RETURNING
    id,
    email,
    name,
    role,
    created_at,
    expires_at,
    site_id,
    areas,
    (
        SELECT slug FROM site
        WHERE id = %(site_id)s::bigint
    ) AS site;

-- name: invitation_shown
-- An invitation with its site; set into the queries below.
SELECT
    i.id,
    i.email,
    i.name,
    i.role,
    i.created_at,
    i.expires_at,
    i.site_id,
    i.areas,
    s.slug AS site
FROM invitation i LEFT JOIN site s ON s.id = i.site_id;

-- name: invitations
-- Invitations that nobody has taken up.
{invitation_shown}
WHERE i.accepted_at IS NULL
ORDER BY i.id;

-- name: invitation
-- The invitation that a secret belongs to, while it holds.
{invitation_shown}
WHERE i.token_hash = %(token_hash)s AND i.accepted_at IS NULL AND i.expires_at > now()
FOR UPDATE OF i;

-- name: accept
-- An invitation was taken up.
UPDATE invitation SET accepted_at = now()
WHERE id = %(id)s;

-- name: drop_invitation
-- An invitation is taken back.
DELETE FROM invitation
WHERE id = %(id)s AND accepted_at IS NULL;

-- name: add_group
-- A group; its name is unique whatever its case.
INSERT INTO people_group (name) VALUES (%(name)s) ON CONFLICT DO NOTHING RETURNING id;

-- name: groups
-- Every group with its members.
SELECT
    c.id, c.name, array(
        SELECT m.person_id FROM people_group_member m
        WHERE m.group_id = c.id
        ORDER BY m.person_id
    ) AS members
FROM people_group c
ORDER BY c.name, c.id;

-- name: set_members
-- Who is in a group.
WITH gone AS (
    DELETE FROM people_group_member
    WHERE group_id = %(group_id)s AND person_id <> all(%(members)s)
)

INSERT INTO people_group_member (group_id, person_id)
SELECT %(group_id)s, id
FROM person
WHERE id = any(%(members)s) ON CONFLICT DO NOTHING;

-- name: drop_group
-- A group is no more; its fixes belong to nobody.
DELETE FROM people_group
WHERE id = %(id)s;

-- name: set_feed
-- The secret of somebody's feed.
UPDATE person SET feed_hash = %(feed_hash)s
WHERE id = %(id)s;

-- name: by_feed
-- Whose feed a secret belongs to.
SELECT id, email, name, role, password_hash, active, digest, immediately
FROM person
WHERE feed_hash = %(feed_hash)s AND active;

-- name: kept_answer
-- The answer given to the same request before.
SELECT request_hash, answer FROM idempotency
WHERE person_id = %(person_id)s AND key = %(key)s;

-- name: keep_answer
-- Keep an answer so that the same request gives it again.
WITH old AS (
    DELETE FROM idempotency
    WHERE created_at < now() - interval '1 day'
)

INSERT INTO idempotency (person_id, key, request_hash, answer) VALUES (
    %(person_id)s, %(key)s, %(request_hash)s, %(answer)s
);

-- name: keep_start_key
-- The key that the first person of an empty service comes in with; an older one is invalid.
INSERT INTO start_key (token_hash) VALUES (%(token_hash)s) ON CONFLICT (only_one) DO UPDATE
    SET token_hash = excluded.token_hash, made_at = now();

-- name: take_start_key
-- The key of an empty service, used up when the transaction succeeds.
DELETE FROM start_key RETURNING token_hash;

-- name: saved_filters
-- What somebody has saved of a site's views.
SELECT id, view, name, query, created_at
FROM saved_filter
WHERE person_id = %(person_id)s AND site_id = %(site_id)s
ORDER BY view, lower(name);

-- name: save_filter
-- A filter under a name; the same name again takes its place.
INSERT INTO saved_filter (person_id, site_id, view, name, query) VALUES (
    %(person_id)s, %(site_id)s, %(view)s, %(name)s, %(given)s
)
ON CONFLICT (person_id, site_id, view, lower(name)) DO UPDATE
    SET query = excluded.query, name = excluded.name
RETURNING id, view, name, query, created_at;

-- name: count_filters
-- How many filters somebody has saved of a site.
SELECT count(*)::int AS count
FROM saved_filter
WHERE person_id = %(person_id)s AND site_id = %(site_id)s;

-- name: drop_filter
-- A saved filter goes.
DELETE FROM saved_filter
WHERE id = %(id)s AND person_id = %(person_id)s AND site_id = %(site_id)s;
