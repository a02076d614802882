-- name: lock_attempts
-- Sign-ins of one e-mail address, and those from one place, are counted one after the other.
SELECT
    pg_advisory_xact_lock(hashtextextended('email ' || lower(%(email)s), 0)),
    pg_advisory_xact_lock(hashtextextended('from ' || %(from_address)s, 0));

-- name: note_attempt
-- A sign-in was tried, in a browser in which that person signed in before or in another.
INSERT INTO sign_in_attempt (email, from_address, browser_hash)
SELECT
    lower(%(email)s),
    %(from_address)s,
    (
        SELECT k.token_hash
        FROM known_browser k JOIN person p ON p.id = k.person_id
        WHERE k.token_hash = %(browser_hash)s AND lower(p.email) = lower(%(email)s)
    );

-- name: attempts
-- How many sign-ins were tried: with the person's known browser that is used (null: with none
-- such), for an e-mail address from one place, from everywhere, and from one place for any. Old
-- ones go.
WITH old AS (
    DELETE FROM sign_in_attempt
    WHERE at < now() - interval '1 day'
),

known AS (
    SELECT k.token_hash
    FROM known_browser k JOIN person p ON p.id = k.person_id
    WHERE k.token_hash = %(browser_hash)s AND lower(p.email) = lower(%(email)s)
),

recent AS (
    SELECT
        email = lower(%(email)s) AS same_email,
        from_address = %(from_address)s AS same_place,
        browser_hash,
        at > now() - make_interval(secs => %(seconds)s) AS lately
    FROM sign_in_attempt
    WHERE
        (email = lower(%(email)s) OR from_address = %(from_address)s)
        AND at > now() - make_interval(secs => %(long_seconds)s)
)

SELECT
    (SELECT count(*) > 0 FROM known) AS is_known,
    count(*) FILTER (
        WHERE r.lately AND r.browser_hash = (SELECT k.token_hash FROM known k)
    )::int AS of_browser,
    count(*) FILTER (
        WHERE r.lately AND r.browser_hash IS NULL AND r.same_email AND r.same_place
    )::int AS of_email_here,
    count(*) FILTER (WHERE r.browser_hash IS NULL AND r.same_email)::int AS of_email,
    count(*) FILTER (
        WHERE r.lately AND r.browser_hash IS NULL AND r.same_place
    )::int AS from_here
FROM recent r;

-- name: forget_attempts
-- A sign-in worked: what was tried for it from there is forgotten.
DELETE FROM sign_in_attempt
WHERE
    email = lower(%(email)s)
    AND (from_address = %(from_address)s OR browser_hash = %(browser_hash)s);

-- name: know_browser
-- Somebody signed in with a browser; the twenty newest of each person are known.
WITH old AS (
    DELETE FROM known_browser
    WHERE
        person_id = %(person_id)s AND token_hash IN (
            SELECT k.token_hash FROM known_browser k
            WHERE k.person_id = %(person_id)s
            ORDER BY k.made_at DESC
            OFFSET 19
        )
)

INSERT INTO known_browser (token_hash, person_id) VALUES (%(browser_hash)s, %(person_id)s)
ON CONFLICT (token_hash) DO UPDATE SET person_id = excluded.person_id, made_at = now();

-- name: add_session
-- A signed-in browser; sessions that are over go.
WITH old AS (
    DELETE FROM session
    WHERE expires_at < now()
)

INSERT INTO session (
    token_hash, person_id, csrf_token, expires_at, second_factor, from_address, browser
)
VALUES (
    %(token_hash)s,
    %(person_id)s,
    %(csrf_token)s,
    now() + make_interval(hours => %(hours)s),
    %(second_factor)s,
    %(from_address)s,
    %(browser)s
);

-- name: by_session
-- Who a session cookie belongs to; notes the use at most once a minute, if it is one.
WITH used AS (
    UPDATE session SET last_used_at = now()
    WHERE
        token_hash = %(token_hash)s
        AND %(is_use)s
        AND last_used_at < now() - interval '1 minute'
        AND last_used_at > now() - make_interval(mins => %(idle_minutes)s)
)

SELECT
    p.id,
    p.email,
    p.name,
    coalesce(p.role, 'none') AS role,
    s.csrf_token,
    ARRAY['read', 'write'] AS scopes,
    NULL AS site_ids,
    s.id AS session_id,
    s.confirmed_at,
    s.second_factor,
    NOT s.second_factor
    AND wants_second_factor(p.id, %(second_factor_roles)s::text[]) AS lacks_second_factor
FROM session s JOIN person p ON p.id = s.person_id
WHERE
    s.token_hash = %(token_hash)s
    AND s.expires_at > now()
    AND s.last_used_at > now() - make_interval(mins => %(idle_minutes)s)
    AND p.active;

-- name: sessions_of
-- Where somebody is signed in.
SELECT id, created_at, last_used_at, expires_at, from_address, browser, second_factor
FROM session
WHERE
    person_id = %(person_id)s
    AND expires_at > now()
    AND last_used_at > now() - make_interval(mins => %(idle_minutes)s)
ORDER BY last_used_at DESC, id DESC;

-- name: end_session
-- Signed out.
DELETE FROM session
WHERE token_hash = %(token_hash)s;

-- name: end_session_of
-- A session is ended by the person whose it is.
DELETE FROM session
WHERE id = %(id)s AND person_id = %(person_id)s;

-- name: end_sessions
-- Signed out everywhere, but for one session.
DELETE FROM session
WHERE person_id = %(person_id)s AND token_hash IS DISTINCT FROM %(but)s;

-- name: confirm_session
-- Somebody has proven again who they are.
UPDATE session SET
    confirmed_at = now(),
    second_factor = second_factor OR %(second_factor)s
WHERE id = %(id)s;

-- name: add_token
-- A token for programs, until a day, for some sites or every one.
INSERT INTO token (
    person_id, name, token_hash, scopes, site_ids, expires_at, ends_with_password, second_factor
) VALUES (
    %(person_id)s,
    %(name)s,
    %(token_hash)s,
    %(scopes)s,
    %(site_ids)s,
    now() + make_interval(days => %(days)s),
    %(ends_with_password)s,
    %(second_factor)s
)
RETURNING id;

-- name: tokens_of
-- A person's tokens that still work, or one of them.
SELECT
    t.id,
    t.name,
    t.scopes,
    t.site_ids IS NOT NULL AS is_narrowed,
    array(
        SELECT s.slug FROM site s
        WHERE s.id = any(t.site_ids)
        ORDER BY s.slug
    ) AS named_sites,
    t.created_at,
    t.expires_at,
    t.last_used_at,
    t.ends_with_password
FROM token t
WHERE
    t.person_id = %(person_id)s
    AND (%(id)s::bigint IS NULL OR t.id = %(id)s)
    AND t.revoked_at IS NULL
    AND t.expires_at > now()
ORDER BY t.id;

-- name: by_token
-- Who a bearer token belongs to; notes the use at most once a minute.
WITH used AS (
    UPDATE token SET last_used_at = now()
    WHERE
        token_hash = %(token_hash)s
        AND (last_used_at IS NULL OR last_used_at < now() - interval '1 minute')
)

SELECT
    p.id,
    p.email,
    p.name,
    coalesce(p.role, 'none') AS role,
    NULL AS csrf_token,
    t.scopes,
    t.site_ids,
    NULL::bigint AS session_id,
    NULL::timestamptz AS confirmed_at,
    t.second_factor,
    NOT t.second_factor
    AND wants_second_factor(p.id, %(second_factor_roles)s::text[]) AS lacks_second_factor
FROM token t JOIN person p ON p.id = t.person_id
WHERE
    t.token_hash = %(token_hash)s
    AND t.revoked_at IS NULL
    AND t.expires_at > now()
    AND p.active;

-- name: revoke_token
-- The token works no more.
UPDATE token SET revoked_at = now()
WHERE id = %(id)s AND person_id = %(person_id)s AND revoked_at IS NULL;

-- name: revoke_tokens
-- None of somebody's tokens works any more; or none of those that end with the password.
UPDATE token SET revoked_at = now()
WHERE
    person_id = %(person_id)s
    AND revoked_at IS NULL
    AND (ends_with_password OR NOT %(only_with_password)s);

-- name: set_password
-- A new password; what was asked for because the old one was forgotten is void.
WITH void AS (
    DELETE FROM password_reset
    WHERE person_id = %(id)s
)

UPDATE person SET password_hash = %(password_hash)s
WHERE id = %(id)s;

-- name: want_reset
-- Somebody has forgotten their password; an earlier secret is void. Not more than once in five
-- minutes.
INSERT INTO password_reset (person_id) SELECT p.id FROM person p
WHERE lower(p.email) = lower(%(email)s) AND p.active
ON CONFLICT (
    person_id) DO UPDATE SET token_hash = NULL, wanted_at = now()
WHERE password_reset.wanted_at < now() - interval '5 minutes';

-- name: resets_to_send
-- Who waits for the e-mail on a new password.
SELECT p.id, p.email, p.name, p.role, p.password_hash, p.active, p.digest, p.immediately
FROM password_reset r JOIN person p ON p.id = r.person_id
WHERE r.token_hash IS NULL AND r.wanted_at > now() - make_interval(mins => %(minutes)s)
ORDER BY r.wanted_at
LIMIT 50
FOR UPDATE OF r SKIP LOCKED;

-- name: note_reset
-- The secret that goes out by e-mail; null where it could not.
UPDATE password_reset SET token_hash = %(token_hash)s
WHERE person_id = %(person_id)s;

-- name: by_reset
-- Whose secret for a new password it is, while it holds.
SELECT p.id, p.email, p.name, p.role, p.password_hash, p.active, p.digest, p.immediately
FROM password_reset r JOIN person p ON p.id = r.person_id
WHERE
    r.token_hash = %(token_hash)s
    AND r.wanted_at > now() - make_interval(mins => %(minutes)s)
    AND p.active
FOR UPDATE OF r;

-- name: authenticator
-- A person's app for codes.
SELECT secret, last_step, is_on FROM authenticator
WHERE person_id = %(person_id)s
FOR UPDATE;

-- name: put_authenticator
-- A new secret for a person's app; it is not on until a code was given.
INSERT INTO authenticator (person_id, secret) VALUES (%(person_id)s, %(secret)s)
ON CONFLICT (person_id) DO UPDATE
    SET secret = excluded.secret, last_step = 0, is_on = FALSE, made_at = now();

-- name: note_step
-- A code was used; it is good once (RFC 6238, 5.2).
UPDATE authenticator SET last_step = %(step)s, is_on = TRUE
WHERE person_id = %(person_id)s;

-- name: drop_authenticator
-- A person's app gives no codes any more.
DELETE FROM authenticator
WHERE person_id = %(person_id)s;

-- name: put_recovery_codes
-- New recovery codes in place of those before.
WITH old AS (
    DELETE FROM recovery_code
    WHERE person_id = %(person_id)s AND code_hash <> all(%(code_hashes)s)
)

INSERT INTO recovery_code (person_id, code_hash) SELECT
    %(person_id)s,
    given
FROM unnest(%(code_hashes)s::bytea[]) AS given
ON CONFLICT DO NOTHING;

-- name: use_recovery_code
-- A recovery code is good once.
DELETE FROM recovery_code
WHERE person_id = %(person_id)s AND code_hash = %(code_hash)s;

-- name: count_recovery_codes
-- How many recovery codes somebody has left.
SELECT count(*)::int AS count FROM recovery_code
WHERE person_id = %(person_id)s;

-- name: put_challenge
-- What a sign-in under way has to answer to; old ones go.
WITH old AS (
    DELETE FROM challenge
    WHERE made_at < now() - interval '1 hour'
)

INSERT INTO challenge (token_hash, kind, person_id, content) VALUES (
    %(token_hash)s, %(kind)s, %(person_id)s, %(content)s
);

-- name: take_challenge
-- A challenge is good once, for ten minutes.
DELETE FROM challenge
WHERE token_hash = %(token_hash)s AND kind = %(kind)s
RETURNING person_id, content, made_at > now() - interval '10 minutes' AS holds;

-- name: add_passkey
-- A passkey of a person; null where somebody has it.
INSERT INTO passkey (person_id, credential_id, public_key, sign_count, name) VALUES (
    %(person_id)s, %(credential_id)s, %(public_key)s, %(sign_count)s, %(name)s
)
ON CONFLICT (credential_id) DO NOTHING
RETURNING id, person_id, credential_id, public_key, sign_count, name, made_at, last_used_at;

-- name: passkeys_of
-- A person's passkeys.
SELECT id, person_id, credential_id, public_key, sign_count, name, made_at, last_used_at
FROM passkey
WHERE person_id = %(person_id)s
ORDER BY id;

-- name: passkey_by_credential
-- The passkey of a credential.
SELECT id, person_id, credential_id, public_key, sign_count, name, made_at, last_used_at
FROM passkey
WHERE credential_id = %(credential_id)s
FOR UPDATE;

-- name: use_passkey
-- A passkey was used.
UPDATE passkey SET sign_count = %(sign_count)s, last_used_at = now()
WHERE id = %(id)s;

-- name: drop_passkey
-- A passkey of one's own goes.
DELETE FROM passkey
WHERE id = %(id)s AND person_id = %(person_id)s;

-- name: by_subject
-- Who somebody is that the organisation's own sign-in names.
SELECT id, email, name, role, password_hash, active, digest, immediately
FROM person
WHERE subject = %(subject)s;

-- name: set_subject
-- A person is known by the organisation's own sign-in from now on.
UPDATE person SET subject = %(subject)s
WHERE id = %(id)s;

-- name: wants_second_factor
-- Whether the service or a site of theirs wants a second factor of somebody.
SELECT wants_second_factor(%(person_id)s, %(second_factor_roles)s::text[]) AS wanted;
