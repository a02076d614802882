"""How people come in: tried sign-ins, sessions, tokens, second factors, passkeys, and passwords
that were forgotten. Secrets come in as hashes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.people import PersonRow
from plumrake.records.queries import Connection, load, number, one, row_or_none, rows, run

_QUERIES = load("sign_ins")


@dataclass(frozen=True, slots=True)
class CallerRow:
    """Who asks, and what the session or token lets them do. ``role`` is theirs in the site that is
    asked about, or in every site where none is; ``none``: they have none there. ``site_ids`` are
    the sites that a token is for, None for every one; ``lacks_second_factor``: the service or a
    site of theirs wants one, and they came in without."""

    id: int
    email: str
    name: str
    role: str
    csrf_token: str | None
    scopes: list[str]
    site_ids: list[int] | None
    session_id: int | None
    confirmed_at: datetime | None
    second_factor: bool
    lacks_second_factor: bool


@dataclass(frozen=True, slots=True)
class AttemptsRow:
    """How many sign-ins were tried lately, the one under way included: with the known browser that
    is used, for the e-mail address from this place, for it from everywhere within the long time,
    and from this place."""

    is_known: bool
    of_browser: int
    of_email_here: int
    of_email: int
    from_here: int


@dataclass(frozen=True, slots=True)
class SessionRow:
    """Where somebody is signed in."""

    id: int
    created_at: datetime
    last_used_at: datetime
    expires_at: datetime
    from_address: str
    browser: str
    second_factor: bool


@dataclass(frozen=True, slots=True)
class TokenRow:
    """A token for programs, without its secret; one that is narrowed is for its sites alone."""

    id: int
    name: str
    scopes: list[str]
    is_narrowed: bool
    named_sites: list[str]
    created_at: datetime
    expires_at: datetime
    last_used_at: datetime | None
    ends_with_password: bool

    @property
    def sites(self) -> list[str] | None:
        """The sites that it is for, None for every one of the person's."""
        return self.named_sites if self.is_narrowed else None


@dataclass(frozen=True, slots=True)
class AuthenticatorRow:
    """An app for codes: its encrypted secret, and the last step of time whose code was used."""

    secret: bytes
    last_step: int
    is_on: bool


@dataclass(frozen=True, slots=True)
class ChallengeRow:
    """What a sign-in under way has to answer to."""

    person_id: int | None
    content: dict[str, str]
    holds: bool


@dataclass(frozen=True, slots=True)
class PasskeyRow:
    """A passkey of a person."""

    id: int
    person_id: int
    credential_id: bytes
    public_key: bytes
    sign_count: int
    name: str
    made_at: datetime
    last_used_at: datetime | None


@dataclass(frozen=True, slots=True)
class _Wanted:
    wanted: bool


@dataclass(frozen=True, slots=True)
class ComesFrom:
    """Where a sign-in comes from: the network address, what the browser calls itself, and the hash
    of what a browser that is known sends along."""

    address: str = ""
    browser: str = ""
    browser_hash: bytes | None = None


async def count_attempt(
    connection: Connection, email: str, came: ComesFrom, seconds: int, long_seconds: int
) -> AttemptsRow:
    """Note a sign-in that is tried; return how many were lately, this one included."""
    values: dict[str, Any] = {
        "email": email,
        "from_address": came.address,
        "browser_hash": came.browser_hash,
    }
    await run(connection, _QUERIES["lock_attempts"], **values)
    await run(connection, _QUERIES["note_attempt"], **values)
    return await one(
        connection,
        _QUERIES["attempts"],
        AttemptsRow,
        **values,
        seconds=seconds,
        long_seconds=long_seconds,
    )


async def forget_attempts(connection: Connection, email: str, came: ComesFrom) -> None:
    """Forget the tried sign-ins of an e-mail address from a place after one that worked."""
    await run(
        connection,
        _QUERIES["forget_attempts"],
        email=email,
        from_address=came.address,
        browser_hash=came.browser_hash,
    )


async def know_browser(connection: Connection, person_id: int, browser_hash: bytes) -> None:
    """Keep that somebody signs in with a browser."""
    await run(connection, _QUERIES["know_browser"], person_id=person_id, browser_hash=browser_hash)


async def add_session(
    connection: Connection,
    token_hash: bytes,
    person_id: int,
    csrf_token: str,
    hours: int,
    came: ComesFrom,
    *,
    second_factor: bool,
) -> None:
    """Keep a session that ends after ``hours``."""
    await run(
        connection,
        _QUERIES["add_session"],
        token_hash=token_hash,
        person_id=person_id,
        csrf_token=csrf_token,
        hours=hours,
        from_address=came.address,
        browser=came.browser,
        second_factor=second_factor,
    )


async def caller_by_session(
    connection: Connection,
    token_hash: bytes,
    idle_minutes: int,
    second_factor_roles: Sequence[str],
    *,
    is_use: bool = True,
) -> CallerRow | None:
    """Return who a session cookie belongs to, or None; without ``is_use`` it does not put off the
    session's end."""
    return await row_or_none(
        connection,
        _QUERIES["by_session"],
        CallerRow,
        token_hash=token_hash,
        idle_minutes=idle_minutes,
        second_factor_roles=[*second_factor_roles],
        is_use=is_use,
    )


async def caller_by_token(
    connection: Connection, token_hash: bytes, second_factor_roles: Sequence[str]
) -> CallerRow | None:
    """Return who a bearer token belongs to, or None."""
    return await row_or_none(
        connection,
        _QUERIES["by_token"],
        CallerRow,
        token_hash=token_hash,
        second_factor_roles=[*second_factor_roles],
    )


async def sessions_of(
    connection: Connection, person_id: int, idle_minutes: int
) -> list[SessionRow]:
    """Return where somebody is signed in, the one used last first."""
    return await rows(
        connection,
        _QUERIES["sessions_of"],
        SessionRow,
        person_id=person_id,
        idle_minutes=idle_minutes,
    )


async def end_session(connection: Connection, token_hash: bytes) -> None:
    """End a session."""
    await run(connection, _QUERIES["end_session"], token_hash=token_hash)


async def end_session_of(connection: Connection, session_id: int, person_id: int) -> bool:
    """End a person's session; False where there is none such."""
    values = {"id": session_id, "person_id": person_id}
    return await run(connection, _QUERIES["end_session_of"], **values) == 1


async def end_sessions(connection: Connection, person_id: int, but: bytes | None = None) -> None:
    """Sign somebody out everywhere, but for one session."""
    await run(connection, _QUERIES["end_sessions"], person_id=person_id, but=but)


async def confirm_session(
    connection: Connection, session_id: int, *, second_factor: bool = False
) -> None:
    """Keep that somebody has proven again who they are, maybe by a second factor."""
    await run(connection, _QUERIES["confirm_session"], id=session_id, second_factor=second_factor)


async def add_token(
    connection: Connection,
    person_id: int,
    name: str,
    token_hash: bytes,
    scopes: Sequence[str],
    *,
    days: int,
    site_ids: Sequence[int] | None = None,
    ends_with_password: bool = False,
    second_factor: bool = False,
) -> TokenRow:
    """Keep a token's hash for some days."""
    made = await number(
        connection,
        _QUERIES["add_token"],
        person_id=person_id,
        name=name,
        token_hash=token_hash,
        scopes=[*scopes],
        days=days,
        site_ids=None if site_ids is None else [*site_ids],
        ends_with_password=ends_with_password,
        second_factor=second_factor,
    )
    return (await tokens_of(connection, person_id, made))[0]


async def tokens_of(
    connection: Connection, person_id: int, token_id: int | None = None
) -> list[TokenRow]:
    """Return a person's tokens that still work, or one of them."""
    return await rows(connection, _QUERIES["tokens_of"], TokenRow, person_id=person_id, id=token_id)


async def revoke_token(connection: Connection, token_id: int, person_id: int) -> bool:
    """Make a person's token invalid; False where there is none such."""
    return await run(connection, _QUERIES["revoke_token"], id=token_id, person_id=person_id) == 1


async def revoke_tokens(
    connection: Connection, person_id: int, *, only_with_password: bool = False
) -> None:
    """Make all of somebody's tokens invalid, or those that end with the password."""
    await run(
        connection,
        _QUERIES["revoke_tokens"],
        person_id=person_id,
        only_with_password=only_with_password,
    )


async def set_password(connection: Connection, person_id: int, password_hash: str) -> None:
    """Keep a new password."""
    await run(connection, _QUERIES["set_password"], id=person_id, password_hash=password_hash)


async def want_reset(connection: Connection, email: str) -> None:
    """Keep that whoever signs in with an e-mail address has forgotten the password, if somebody
    does."""
    await run(connection, _QUERIES["want_reset"], email=email)


async def resets_to_send(connection: Connection, minutes: int) -> list[PersonRow]:
    """Return who waits for the e-mail on a new password, held until the transaction ends."""
    return await rows(connection, _QUERIES["resets_to_send"], PersonRow, minutes=minutes)


async def note_reset(connection: Connection, person_id: int, token_hash: bytes | None) -> None:
    """Keep the hash of the secret that goes out; None where it could not."""
    await run(connection, _QUERIES["note_reset"], person_id=person_id, token_hash=token_hash)


async def person_by_reset(
    connection: Connection, token_hash: bytes, minutes: int
) -> PersonRow | None:
    """Return whose secret for a new password it is while it holds, or None."""
    return await row_or_none(
        connection, _QUERIES["by_reset"], PersonRow, token_hash=token_hash, minutes=minutes
    )


async def authenticator_of(connection: Connection, person_id: int) -> AuthenticatorRow | None:
    """Return a person's app for codes, held until the transaction ends."""
    return await row_or_none(
        connection, _QUERIES["authenticator"], AuthenticatorRow, person_id=person_id
    )


async def put_authenticator(connection: Connection, person_id: int, secret: bytes) -> None:
    """Keep a new encrypted secret for a person's app, which is not on yet."""
    await run(connection, _QUERIES["put_authenticator"], person_id=person_id, secret=secret)


async def note_step(connection: Connection, person_id: int, step: int) -> None:
    """Keep that the code of a step of time was used; the app is on from then."""
    await run(connection, _QUERIES["note_step"], person_id=person_id, step=step)


async def drop_authenticator(connection: Connection, person_id: int) -> None:
    """Forget a person's app for codes."""
    await run(connection, _QUERIES["drop_authenticator"], person_id=person_id)


async def put_recovery_codes(
    connection: Connection, person_id: int, hashes: Sequence[bytes]
) -> None:
    """Keep the hashes of new recovery codes in place of those before."""
    await run(
        connection, _QUERIES["put_recovery_codes"], person_id=person_id, code_hashes=[*hashes]
    )


async def use_recovery_code(connection: Connection, person_id: int, code_hash: bytes) -> bool:
    """Use a recovery code up; False where there is none such."""
    values = {"person_id": person_id, "code_hash": code_hash}
    return await run(connection, _QUERIES["use_recovery_code"], **values) == 1


async def count_recovery_codes(connection: Connection, person_id: int) -> int:
    """Return how many recovery codes somebody has left."""
    return await number(connection, _QUERIES["count_recovery_codes"], person_id=person_id)


async def put_challenge(
    connection: Connection,
    token_hash: bytes,
    kind: str,
    content: dict[str, str],
    person_id: int | None = None,
) -> None:
    """Keep what a sign-in under way has to answer to."""
    await run(
        connection,
        _QUERIES["put_challenge"],
        token_hash=token_hash,
        kind=kind,
        person_id=person_id,
        content=Jsonb(content),
    )


async def take_challenge(
    connection: Connection, token_hash: bytes, kind: str
) -> ChallengeRow | None:
    """Return a challenge and use it up; None where there is none, or it is over."""
    found = await row_or_none(
        connection, _QUERIES["take_challenge"], ChallengeRow, token_hash=token_hash, kind=kind
    )
    return found if found is not None and found.holds else None


async def add_passkey(
    connection: Connection,
    person_id: int,
    credential_id: bytes,
    public_key: bytes,
    sign_count: int,
    name: str,
) -> PasskeyRow | None:
    """Keep a passkey; None where it is known already."""
    return await row_or_none(
        connection,
        _QUERIES["add_passkey"],
        PasskeyRow,
        person_id=person_id,
        credential_id=credential_id,
        public_key=public_key,
        sign_count=sign_count,
        name=name,
    )


async def passkeys_of(connection: Connection, person_id: int) -> list[PasskeyRow]:
    """Return a person's passkeys."""
    return await rows(connection, _QUERIES["passkeys_of"], PasskeyRow, person_id=person_id)


async def passkey_by_credential(connection: Connection, credential_id: bytes) -> PasskeyRow | None:
    """Return the passkey of a credential, held until the transaction ends."""
    return await row_or_none(
        connection, _QUERIES["passkey_by_credential"], PasskeyRow, credential_id=credential_id
    )


async def note_passkey_used(connection: Connection, passkey_id: int, sign_count: int) -> None:
    """Keep that a passkey was used, and its count."""
    await run(connection, _QUERIES["use_passkey"], id=passkey_id, sign_count=sign_count)


async def drop_passkey(connection: Connection, passkey_id: int, person_id: int) -> bool:
    """Forget a passkey of a person; False where there is none such."""
    values = {"id": passkey_id, "person_id": person_id}
    return await run(connection, _QUERIES["drop_passkey"], **values) == 1


async def person_by_subject(connection: Connection, subject: str) -> PersonRow | None:
    """Return who somebody is that the organisation's own sign-in names."""
    return await row_or_none(connection, _QUERIES["by_subject"], PersonRow, subject=subject)


async def set_subject(connection: Connection, person_id: int, subject: str) -> None:
    """Keep how the organisation's own sign-in names a person."""
    await run(connection, _QUERIES["set_subject"], id=person_id, subject=subject)


async def wants_second_factor(
    connection: Connection, person_id: int, second_factor_roles: Sequence[str]
) -> bool:
    """Tell whether the service, in these roles, or a site of theirs wants a second factor of
    somebody."""
    found = await one(
        connection,
        _QUERIES["wants_second_factor"],
        _Wanted,
        person_id=person_id,
        second_factor_roles=[*second_factor_roles],
    )
    return found.wanted
