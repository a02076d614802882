-- depends: 0027.members
-- Signing in: sessions that are seen and ended, tokens with an end and for some sites, second
-- factors, passkeys, single sign-on, and a password that was forgotten.

ALTER TABLE session
ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
ADD COLUMN last_used_at timestamptz NOT NULL DEFAULT now(),
ADD COLUMN confirmed_at timestamptz NOT NULL DEFAULT now(),
ADD COLUMN second_factor boolean NOT NULL DEFAULT FALSE,
ADD COLUMN from_address text NOT NULL DEFAULT '',
ADD COLUMN browser text NOT NULL DEFAULT '';
COMMENT ON COLUMN session.confirmed_at IS 'When the person last proved who they are.';
CREATE INDEX session_person ON session (person_id);

ALTER TABLE token
ADD COLUMN expires_at timestamptz NOT NULL DEFAULT now() + interval '1 year',
ADD COLUMN site_ids bigint[],
ADD COLUMN ends_with_password boolean NOT NULL DEFAULT FALSE,
ADD COLUMN second_factor boolean NOT NULL DEFAULT FALSE;
COMMENT ON COLUMN token.site_ids IS
'The sites that it is for; null: every one of the person''s. A site that is gone stays in it, so '
'that a token is never for more.';
UPDATE token SET site_ids = ARRAY[site_id]
WHERE site_id IS NOT NULL;
ALTER TABLE token DROP COLUMN site_id;

ALTER TABLE sign_in_attempt
ADD COLUMN from_address text NOT NULL DEFAULT '',
ADD COLUMN browser_hash bytea;
CREATE INDEX sign_in_attempt_address ON sign_in_attempt (from_address, at);

CREATE TABLE known_browser (
    token_hash bytea PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    made_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE known_browser IS
'Browsers in which somebody has signed in: strangers'' guesses do not shut these out.';
CREATE INDEX known_browser_person ON known_browser (person_id);

CREATE TABLE authenticator (
    person_id bigint PRIMARY KEY REFERENCES person ON DELETE CASCADE,
    secret bytea NOT NULL,
    last_step bigint NOT NULL DEFAULT 0,
    is_on boolean NOT NULL DEFAULT FALSE,
    made_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE authenticator IS
'Codes by time (RFC 6238) of a person''s app; the secret is encrypted. It is on when a code was '
'given once.';

CREATE TABLE recovery_code (
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    code_hash bytea NOT NULL,
    PRIMARY KEY (person_id, code_hash)
);
COMMENT ON TABLE recovery_code IS 'Codes that are good once, in place of a second factor.';

CREATE TABLE passkey (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    credential_id bytea NOT NULL UNIQUE,
    public_key bytea NOT NULL,
    sign_count bigint NOT NULL,
    name text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    last_used_at timestamptz
);
COMMENT ON TABLE passkey IS 'Passkeys of people (WebAuthn).';
CREATE INDEX passkey_person ON passkey (person_id);

CREATE TABLE challenge (
    token_hash bytea PRIMARY KEY,
    kind text NOT NULL CHECK (kind IN ('passkey', 'new-passkey', 'single-sign-on')),
    person_id bigint REFERENCES person ON DELETE CASCADE,
    content jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE challenge IS
'What a sign-in under way has to answer to; good once, for some minutes.';

CREATE TABLE password_reset (
    person_id bigint PRIMARY KEY REFERENCES person ON DELETE CASCADE,
    token_hash bytea UNIQUE,
    wanted_at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE password_reset IS
'Who has forgotten a password; the secret is made when the e-mail is sent.';

ALTER TABLE person ADD COLUMN subject text UNIQUE;
COMMENT ON COLUMN person.subject IS
'Who they are at the organisation''s own sign-in (OpenID Connect: issuer and sub).';

ALTER TABLE site ADD COLUMN second_factor_roles text[] NOT NULL DEFAULT '{}';
COMMENT ON COLUMN site.second_factor_roles IS 'In which roles people need a second factor here.';

CREATE FUNCTION wants_second_factor(asked_person bigint, service_roles text[])
RETURNS boolean LANGUAGE sql STABLE AS $$
SELECT
    EXISTS (SELECT 1 FROM person p WHERE p.id = asked_person AND p.role = ANY(service_roles))
    OR EXISTS (
        SELECT 1 FROM site s
        WHERE role_in(asked_person, s.id) = ANY(s.second_factor_roles || service_roles)
    )
$$;
COMMENT ON FUNCTION wants_second_factor(bigint, text[]) IS
'Whether the service or a site that is there for a person wants a second factor of them.';
