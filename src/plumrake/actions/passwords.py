"""Passwords: which may be chosen (OWASP ASVS 4.0.3, V2.1), how they are kept and looked at, and new
ones for those that were forgotten."""

from __future__ import annotations

import asyncio
import secrets
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from plumrake.actions.emails import reset_email
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import secret_hash
from plumrake.outbound.mail import EmailRefused, MailServer, MailServerAway, mail_session
from plumrake.records import sign_ins
from plumrake.records.people import PersonRow

_HASHER = PasswordHasher()
_hashing = asyncio.Semaphore(4)
"""A hash takes 64 MB and a core for a sixth of a second."""
SHORTEST, LONGEST = 12, 128
_JUDGED = 72
_GUESSABLE_BELOW = 3
"""zxcvbn's score: 3 stands for 10 ** 8 guesses and more."""
HARDEST = 4
RESET_MINUTES = 60


@cache
def nobodys() -> str:
    """Return what is looked at where there is no such person, so that it takes as long. It is
    computed once, at the first try of anybody."""
    return _HASHER.hash("nobody has this password")


class WeakPassword(ValueError):
    """The password is too short, or guessed before long."""

    code = "weak-password"


class BadReset(LookupError):
    """The secret for a new password is unknown, over, or used up."""

    code = "no-such-reset"


async def hashed(password: str, about: Sequence[str] = ()) -> str:
    """Return what is kept of a password that somebody chose, of whom ``about`` has the name and the
    e-mail address. Raises ``WeakPassword``."""
    await asyncio.to_thread(_check, password, about)
    async with _hashing:
        return await asyncio.to_thread(_HASHER.hash, password)


@dataclass(frozen=True, slots=True)
class Strength:
    """How hard a password is to guess, from 0 to ``HARDEST``, and why it may not be chosen, None
    where it may."""

    score: int
    refused_for: str | None


async def strength_of(password: str, about: Sequence[str] = ()) -> Strength:
    """Judge a password that somebody is choosing, of whom ``about`` has the name and the e-mail
    address."""
    return await asyncio.to_thread(_judged, password, about)


def _judged(password: str, about: Sequence[str]) -> Strength:
    from zxcvbn import zxcvbn  # a third of a second, at each start else

    words = ["plumrake", *(word for one in about for word in (one, *one.replace("@", " ").split()))]
    score = int(zxcvbn(password[:_JUDGED], user_inputs=words)["score"]) if password else 0
    if not SHORTEST <= len(password) <= LONGEST:
        return Strength(
            min(score, _GUESSABLE_BELOW - 1),
            f"the password has to have {SHORTEST} to {LONGEST} characters; this one has "
            f"{len(password)}",
        )
    if score < _GUESSABLE_BELOW:
        return Strength(
            score,
            "the password is guessed before long: it is a common one, one's own name, or a "
            "pattern; take several words that have nothing to do with each other",
        )
    return Strength(score, None)


def _check(password: str, about: Sequence[str]) -> None:
    if (refused_for := _judged(password, about).refused_for) is not None:
        raise WeakPassword(refused_for)


async def is_right(password_hash: str, password: str) -> bool:
    """Tell whether a password is the one that is kept."""
    async with _hashing:
        try:
            return await asyncio.to_thread(_HASHER.verify, password_hash, password)
        except (VerificationError, InvalidHashError):
            return False


async def choose_anew(connect: Connect, secret: str, password: str) -> PersonRow:
    """Give whoever has the secret of an e-mail a new password; they are signed out everywhere.
    Raises ``BadReset``, ``WeakPassword``."""
    async with connect() as connection:
        person = await sign_ins.person_by_reset(connection, secret_hash(secret), RESET_MINUTES)
    if person is None:
        raise BadReset("this address is not valid any more; ask for another")
    password_hash = await hashed(password, (person.name, person.email))
    async with connect() as connection, connection.transaction():
        again = await sign_ins.person_by_reset(connection, secret_hash(secret), RESET_MINUTES)
        if again is None:
            raise BadReset("this address is not valid any more; ask for another")
        await sign_ins.set_password(connection, person.id, password_hash)
        await sign_ins.end_sessions(connection, person.id)
        await sign_ins.revoke_tokens(connection, person.id, only_with_password=True)
    return person


async def send_resets(connect: Connect, server: MailServer, address: str) -> None:
    """Send the e-mails with the address at which a new password is chosen. The secret is made here,
    so that it is nowhere but in the e-mail; one that could not be sent is made anew later."""
    made: list[tuple[PersonRow, str]] = []
    async with connect() as connection, connection.transaction():
        for person in await sign_ins.resets_to_send(connection, RESET_MINUTES):
            secret = secrets.token_urlsafe(32)
            await sign_ins.note_reset(connection, person.id, secret_hash(secret))
            made.append((person, secret))
    unsent = [person.id for person, _ in made]
    try:
        if made:
            async with mail_session(server) as session:
                for person, secret in made:
                    with suppress(EmailRefused):
                        await session.send(reset_email(person, secret, address, RESET_MINUTES))
                    unsent.remove(person.id)
    except MailServerAway:
        async with connect() as connection:
            for person_id in unsent:
                await sign_ins.note_reset(connection, person_id, None)
