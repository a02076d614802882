"""Signing in and out, tokens, and who a secret belongs to. Secrets are kept as hashes only."""

from __future__ import annotations

import asyncio
import hashlib
import secrets

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from plumrake.records import people
from plumrake.records.people import Caller, Person, Token
from plumrake.records.queries import Connection

_HASHER = PasswordHasher()
_NOBODY = _HASHER.hash("nobody has this password")
_BEGINS_WITH = "plr_"
_ATTEMPTS, _WITHIN_SECONDS = 10, 300
_SHORTEST_PASSWORD = 10


class BadCredentials(ValueError):
    """E-mail address or password is wrong; which of them is not said."""

    code = "bad-credentials"


class TooManyAttempts(ValueError):
    """Too many sign-ins were tried for this address."""

    code = "too-many-attempts"


class EmailTaken(ValueError):
    """Somebody has this e-mail address already."""

    code = "email-taken"


class WeakPassword(ValueError):
    """The password is too short."""

    code = "weak-password"


def secret_hash(secret: str) -> bytes:
    """Return what is kept of a session's or token's secret (they are random, so a plain hash is enough)."""
    return hashlib.sha256(secret.encode()).digest()


async def add_person(connection: Connection, email: str, name: str, role: str, password: str) -> Person:
    """Add a person who can sign in. Raises ``EmailTaken``, ``WeakPassword``."""
    if len(password) < _SHORTEST_PASSWORD:
        raise WeakPassword(f"the password has to have at least {_SHORTEST_PASSWORD} characters")
    password_hash = await asyncio.to_thread(_HASHER.hash, password)
    person = await people.add_person(connection, email, name, role, password_hash)
    if person is None:
        raise EmailTaken(f"somebody has the e-mail address {email} already; choose another")
    return person


async def sign_in(connection: Connection, email: str, password: str, hours: int) -> tuple[Caller, str]:
    """Return the person and the new session's secret. Raises ``BadCredentials``, ``TooManyAttempts``."""
    if await people.count_attempt(connection, email, _WITHIN_SECONDS) > _ATTEMPTS:
        raise TooManyAttempts("too many tries for this e-mail address; wait five minutes")
    person = await people.person_by_email(connection, email)
    if not await asyncio.to_thread(_verified, person.password_hash if person is not None else _NOBODY, password) or person is None:
        raise BadCredentials("e-mail address or password is wrong")
    await people.forget_attempts(connection, email)
    secret, csrf_token = secrets.token_urlsafe(32), secrets.token_urlsafe(24)
    await people.add_session(connection, secret_hash(secret), person.id, csrf_token, hours)
    return Caller(person.id, person.email, person.name, person.role, csrf_token, ["read", "write"]), secret


def _verified(password_hash: str, password: str) -> bool:
    try:
        return _HASHER.verify(password_hash, password)
    except (VerificationError, InvalidHashError):
        return False


async def make_token(connection: Connection, person_id: int, name: str, scopes: list[str]) -> tuple[Token, str]:
    """Return a new token and its secret, which is shown this once."""
    secret = _BEGINS_WITH + secrets.token_urlsafe(32)
    return await people.add_token(connection, person_id, name, secret_hash(secret), scopes), secret
