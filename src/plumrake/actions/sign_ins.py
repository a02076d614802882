"""Signing in and out: by password, with a second factor where somebody has one; how many tries are
let through; and tokens for programs. Secrets are kept as hashes only."""

from __future__ import annotations

import asyncio
import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from plumrake.actions import passwords, second_factors
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import secret_hash
from plumrake.records import people, sign_ins
from plumrake.records.people import PersonRow
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import AttemptsRow, CallerRow, ComesFrom, TokenRow

_BEGINS_WITH = "plr_"
_ATTEMPTS, _WITHIN_SECONDS = 10, 300
_OF_EMAIL, _LONG_SECONDS = 100, 3600
_FROM_HERE = 100
_CONFIRMED_MINUTES = 10
_CODE_SIGNS = 20


class BadCredentials(ValueError):
    """E-mail address or password is wrong; which of them is not said."""

    code = "bad-credentials"


class TooManyAttempts(ValueError):
    """Too many sign-ins were tried."""

    code = "too-many-attempts"


class SecondFactorWanted(ValueError):
    """The password is right; a second factor is wanted too."""

    code = "second-factor-wanted"


class NotConfirmed(ValueError):
    """What is asked wants that one has proven who one is within some minutes."""

    code = "confirm-first"


@dataclass(frozen=True, slots=True)
class Rules:
    """What the service says of signing in: after how many hours and how many idle minutes a session
    ends, the key that secrets are kept with, and the roles in which everybody needs a second
    factor."""

    hours: int
    idle_minutes: int
    key: str
    second_factor_roles: Sequence[str]


@dataclass(frozen=True, slots=True)
class Opened:
    """A session that has begun: its secret, that of the token for writes, and what the browser is
    known by from now on."""

    secret: str
    browser: str


async def sign_in(
    connect: Connect, email: str, password: str, code: str | None, came: ComesFrom, rules: Rules
) -> Opened:
    """Begin a session by password, and by a code where the person has a second factor. Raises
    ``BadCredentials``, ``SecondFactorWanted``, ``BadCode``, ``TooManyAttempts``.

    The try is counted and kept before the password is looked at, so that many at once are many;
    no connection is held while the hash is computed.
    """
    person = await who_tries(connect, email, came)
    known = person is not None and person.active
    nobodys = await asyncio.to_thread(passwords.nobodys)
    kept = person.password_hash if person is not None else nobodys
    is_right = await passwords.is_right(kept, password)
    if person is None or not (is_right and known):
        raise BadCredentials("e-mail address or password is wrong")
    second = await _second_factor(connect, person.id, code, rules.key)
    async with connect() as connection:
        return await open_session(connection, person, came, rules, second_factor=second)


async def _second_factor(connect: Connect, person_id: int, code: str | None, key: str) -> bool:
    """Tell whether a second factor was given; where there is none, none is wanted to come in."""
    async with connect() as connection:
        factors = await second_factors.factors_of(connection, person_id)
        if not factors.is_any:
            return False
        if code is None:
            ways = ["the code of your app"] * factors.app + ["your passkey"] * factors.passkeys
            raise SecondFactorWanted(f"give {' or '.join(ways)}, or a recovery code")
        await second_factors.check_code(connection, key, person_id, code[:_CODE_SIGNS])
    return True


async def open_session(
    connection: Connection,
    person: PersonRow,
    came: ComesFrom,
    rules: Rules,
    *,
    second_factor: bool,
) -> Opened:
    """Begin a new session of somebody who has proven who they are."""
    secret, browser = secrets.token_urlsafe(32), secrets.token_urlsafe(24)
    await sign_ins.forget_attempts(connection, person.email, came)
    await sign_ins.know_browser(connection, person.id, secret_hash(browser))
    await sign_ins.add_session(
        connection,
        secret_hash(secret),
        person.id,
        secrets.token_urlsafe(24),
        rules.hours,
        came,
        second_factor=second_factor,
    )
    return Opened(secret, browser)


async def who_tries(connect: Connect, email: str, came: ComesFrom) -> PersonRow | None:
    """Count a try and return the person, if there is one. Raises ``TooManyAttempts``.

    A browser in which the person signed in before has tries of its own, so that whoever guesses
    elsewhere does not shut them out (OWASP, device cookies).
    """
    async with connect() as connection:
        tried = await sign_ins.count_attempt(
            connection, email, came, _WITHIN_SECONDS, _LONG_SECONDS
        )
        person = await people.person_by_email(connection, email)
    if says := _too_many(tried):
        raise TooManyAttempts(says)
    return person


def _too_many(tried: AttemptsRow) -> str:
    if tried.is_known:
        here = tried.of_browser
    else:
        here = tried.of_email_here
        if tried.of_email > _OF_EMAIL:
            return (
                "too many tries for this e-mail address from many places; sign in where you did "
                "before, or in an hour"
            )
        if tried.from_here > _FROM_HERE:
            return "too many tries from this address; wait five minutes"
    return "too many tries for this e-mail address; wait five minutes" if here > _ATTEMPTS else ""


async def confirm(
    connect: Connect, who: CallerRow, password: str, code: str | None, came: ComesFrom, key: str
) -> None:
    """Let somebody who is signed in prove again who they are. Raises as ``sign_in``."""
    assert who.session_id is not None, "a token proves nobody"
    person = await who_tries(connect, who.email, came)
    assert person is not None, "somebody who is signed in is a person"
    if not await passwords.is_right(person.password_hash, password):
        raise BadCredentials("the password is wrong")
    second = await _second_factor(connect, person.id, code, key)
    async with connect() as connection:
        await sign_ins.forget_attempts(connection, person.email, came)
        await sign_ins.confirm_session(connection, who.session_id, second_factor=second)


def check_confirmed(who: CallerRow) -> None:
    """Raises ``NotConfirmed`` where somebody has not lately proven who they are; a token never
    has."""
    at = who.confirmed_at
    if at is None:
        raise NotConfirmed("this is for people, not for tokens: sign in")
    if datetime.now(UTC) - at > timedelta(minutes=_CONFIRMED_MINUTES):
        raise NotConfirmed("give your password again first: this is asked after ten minutes")


async def change_password(
    connect: Connect,
    who: CallerRow,
    current: str,
    new: str,
    came: ComesFrom,
    keep: bytes | None,
) -> None:
    """Change one's password and sign out everywhere but in the session ``keep``. Raises
    ``BadCredentials``, ``WeakPassword``, ``TooManyAttempts``."""
    person = await who_tries(connect, who.email, came)
    assert person is not None, "somebody who is signed in is a person"
    if not await passwords.is_right(person.password_hash, current):
        raise BadCredentials("the current password is wrong")
    password_hash = await passwords.hashed(new, (person.name, person.email))
    async with connect() as connection, connection.transaction():
        await sign_ins.forget_attempts(connection, person.email, came)
        await sign_ins.set_password(connection, person.id, password_hash)
        await sign_ins.end_sessions(connection, person.id, keep)
        await sign_ins.revoke_tokens(connection, person.id, only_with_password=True)


async def forget_password(connect: Connect, email: str, came: ComesFrom) -> None:
    """Note that somebody has forgotten their password; whether there is such a person is not
    said. Raises ``TooManyAttempts``."""
    await who_tries(connect, email, came)
    async with connect() as connection:
        await sign_ins.want_reset(connection, email)


async def make_token(
    connection: Connection,
    person_id: int,
    name: str,
    scopes: Sequence[str],
    *,
    days: int,
    site_ids: Sequence[int] | None = None,
    ends_with_password: bool = False,
    second_factor: bool = False,
) -> tuple[TokenRow, str]:
    """Return a new token for some days, and its secret, which is shown this once."""
    secret = _BEGINS_WITH + secrets.token_urlsafe(32)
    made = await sign_ins.add_token(
        connection,
        person_id,
        name,
        secret_hash(secret),
        scopes,
        days=days,
        site_ids=site_ids,
        ends_with_password=ends_with_password,
        second_factor=second_factor,
    )
    return made, secret
