-- name: add_person
-- A person; the e-mail address is unique whatever its case.
INSERT INTO person (email, name, role, password_hash) VALUES (%(email)s, %(name)s, %(role)s, %(password_hash)s)
ON CONFLICT (lower(email)) DO NOTHING
RETURNING id, email, name, role, password_hash

-- name: by_email
-- The person with an e-mail address.
SELECT id, email, name, role, password_hash FROM person WHERE lower(email) = lower(%(email)s)

-- name: all
-- Everybody.
SELECT id, email, name, role, password_hash FROM person ORDER BY name, id

-- name: note_attempt
-- A sign-in was tried.
INSERT INTO sign_in_attempt (email) VALUES (lower(%(email)s))

-- name: recent_attempts
-- How many sign-ins were tried for an address within some seconds; older ones go.
WITH old AS (DELETE FROM sign_in_attempt WHERE at < now() - interval '1 day')
SELECT count(*)::int AS count FROM sign_in_attempt
WHERE email = lower(%(email)s) AND at > now() - make_interval(secs => %(seconds)s)

-- name: forget_attempts
-- A sign-in worked.
DELETE FROM sign_in_attempt WHERE email = lower(%(email)s)

-- name: add_session
-- A signed-in browser.
INSERT INTO session (token_hash, person_id, csrf_token, expires_at)
VALUES (%(token_hash)s, %(person_id)s, %(csrf_token)s, now() + make_interval(hours => %(hours)s))

-- name: by_session
-- Who a session cookie belongs to.
SELECT p.id, p.email, p.name, p.role, s.csrf_token, ARRAY['read', 'write'] AS scopes
FROM session s JOIN person p ON p.id = s.person_id
WHERE s.token_hash = %(token_hash)s AND s.expires_at > now()

-- name: end_session
-- Signed out.
DELETE FROM session WHERE token_hash = %(token_hash)s OR expires_at < now()

-- name: add_token
-- A token for programs.
INSERT INTO token (person_id, name, token_hash, scopes) VALUES (%(person_id)s, %(name)s, %(token_hash)s, %(scopes)s)
RETURNING id, name, scopes, created_at, last_used_at

-- name: tokens_of
-- A person's tokens that still work.
SELECT id, name, scopes, created_at, last_used_at FROM token WHERE person_id = %(person_id)s AND revoked_at IS NULL ORDER BY id

-- name: by_token
-- Who a bearer token belongs to; notes the use at most once a minute.
WITH used AS (
    UPDATE token SET last_used_at = now()
    WHERE token_hash = %(token_hash)s AND (last_used_at IS NULL OR last_used_at < now() - interval '1 minute')
)
SELECT p.id, p.email, p.name, p.role, NULL AS csrf_token, t.scopes
FROM token t JOIN person p ON p.id = t.person_id
WHERE t.token_hash = %(token_hash)s AND t.revoked_at IS NULL

-- name: revoke_token
-- The token works no more.
UPDATE token SET revoked_at = now() WHERE id = %(id)s AND person_id = %(person_id)s AND revoked_at IS NULL

-- name: assign_part
-- A path pattern of a site and who answers for it.
INSERT INTO part (site_id, path_pattern, owner_id) VALUES (%(site_id)s, %(path_pattern)s, %(owner_id)s)
ON CONFLICT (site_id, path_pattern) DO UPDATE SET owner_id = excluded.owner_id

-- name: kept_answer
-- The answer given to the same request before.
SELECT request_hash, answer FROM idempotency WHERE person_id = %(person_id)s AND key = %(key)s

-- name: keep_answer
-- Keep an answer so that the same request gives it again.
WITH old AS (DELETE FROM idempotency WHERE created_at < now() - interval '1 day')
INSERT INTO idempotency (person_id, key, request_hash, answer) VALUES (%(person_id)s, %(key)s, %(request_hash)s, %(answer)s)
