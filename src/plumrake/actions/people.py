"""Signing in and out, tokens, and who a secret belongs to. Secrets are kept as hashes only."""

from __future__ import annotations

import asyncio
import hashlib
import hmac
import secrets

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from plumrake.actions.ports import Connect
from plumrake.records import members, people
from plumrake.records.people import CallerRow, InvitationRow, PersonRow, TokenRow
from plumrake.records.queries import Connection

_HASHER = PasswordHasher()
_NOBODY = _HASHER.hash("nobody has this password")
_BEGINS_WITH = "plr_"
_ATTEMPTS, _WITHIN_SECONDS = 10, 300
_hashing = asyncio.Semaphore(4)
"""A hash takes 64 MB and a core for a sixth of a second."""
_SHORTEST_PASSWORD = 10
_INVITED_DAYS = 14
NO_ROLE = "none"
"""Of every site: somebody is only where they are a member."""


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


class LastManager(ValueError):
    """Without this person nobody could manage."""

    code = "last-manager"


class BadInvitation(LookupError):
    """The invitation is unknown, over, or taken up."""

    code = "no-such-invitation"


class GroupTaken(ValueError):
    """A group has this name already."""

    code = "group-taken"


def same_secret(given: str, secret: str) -> bool:
    """Tell whether somebody gave the right secret, in a time that tells nothing about it; what is
    given may be any text."""
    return hmac.compare_digest(given.encode("utf-8", "surrogatepass"), secret.encode())


def secret_hash(secret: str) -> bytes:
    """Return what is kept of a session's or token's secret (they are random, so a plain hash is
    enough)."""
    return hashlib.sha256(secret.encode()).digest()


async def add_person(
    connection: Connection, email: str, name: str, role: str | None, password: str
) -> PersonRow:
    """Add a person who can sign in. Raises ``EmailTaken``, ``WeakPassword``."""
    return await add_hashed(connection, email, name, role, await hashed(password))


async def add_hashed(
    connection: Connection, email: str, name: str, role: str | None, password_hash: str
) -> PersonRow:
    """Add a person whose password was hashed before. Raises ``EmailTaken``."""
    person = await people.add_person(connection, email, name, role, password_hash)
    if person is None:
        raise EmailTaken(f"somebody has the e-mail address {email} already; choose another")
    return person


async def sign_in(connect: Connect, email: str, password: str, hours: int) -> tuple[CallerRow, str]:
    """Return the person and the new session's secret. Raises ``BadCredentials``,
    ``TooManyAttempts``.

    The try is counted and kept before the password is looked at, so that many at once are many;
    no connection is held while the hash is computed.
    """
    person = await _person_who_tries(connect, email)
    known = person is not None and person.active
    is_right = await _verified(person.password_hash if person is not None else _NOBODY, password)
    if person is None or not (is_right and known):
        raise BadCredentials("e-mail address or password is wrong")
    secret, csrf_token = secrets.token_urlsafe(32), secrets.token_urlsafe(24)
    async with connect() as connection:
        await people.forget_attempts(connection, email)
        await people.add_session(connection, secret_hash(secret), person.id, csrf_token, hours)
    return CallerRow(
        person.id,
        person.email,
        person.name,
        person.role or NO_ROLE,
        csrf_token,
        ["read", "write"],
        None,
    ), secret


async def _person_who_tries(connect: Connect, email: str) -> PersonRow | None:
    """Count a try and return the person, if there is one. Raises ``TooManyAttempts``."""
    async with connect() as connection:
        tried = await people.count_attempt(connection, email, _WITHIN_SECONDS)
        person = await people.person_by_email(connection, email)
    if tried > _ATTEMPTS:
        raise TooManyAttempts("too many tries for this e-mail address; wait five minutes")
    return person


async def _verified(password_hash: str, password: str) -> bool:
    async with _hashing:
        try:
            return await asyncio.to_thread(_HASHER.verify, password_hash, password)
        except (VerificationError, InvalidHashError):
            return False


async def make_token(
    connection: Connection,
    person_id: int,
    name: str,
    scopes: list[str],
    site_id: int | None = None,
) -> tuple[TokenRow, str]:
    """Return a new token and its secret, which is shown this once. One that may only ask the gate
    is for one site."""
    secret = _BEGINS_WITH + secrets.token_urlsafe(32)
    made = await people.add_token(connection, person_id, name, secret_hash(secret), scopes, site_id)
    return made, secret


async def change_password(
    connect: Connect, email: str, current: str, new: str, keep: bytes | None
) -> None:
    """Change one's password and sign out everywhere but in the session ``keep``. Raises
    ``BadCredentials``, ``WeakPassword``, ``TooManyAttempts``."""
    person = await _person_who_tries(connect, email)
    assert person is not None, "somebody who is signed in is a person"
    if not await _verified(person.password_hash, current):
        raise BadCredentials("the current password is wrong")
    password_hash = await hashed(new)
    async with connect() as connection:
        await people.forget_attempts(connection, email)
        await people.set_password(connection, person.id, password_hash)
        await people.end_sessions(connection, person.id, keep)


async def hashed(password: str) -> str:
    """Return what is kept of a password. Raises ``WeakPassword``."""
    if len(password) < _SHORTEST_PASSWORD:
        raise WeakPassword(f"the password has to have at least {_SHORTEST_PASSWORD} characters")
    async with _hashing:
        return await asyncio.to_thread(_HASHER.hash, password)


async def invite(
    connection: Connection, email: str, name: str, role: str, by: int, site_id: int | None = None
) -> tuple[InvitationRow, str]:
    """Return a new invitation, to one site or to every one, which holds for two weeks, and its
    secret. Raises ``EmailTaken``."""
    if await people.person_by_email(connection, email) is not None:
        raise EmailTaken(f"somebody has the e-mail address {email} already; choose another")
    secret = secrets.token_urlsafe(32)
    return await people.invite(
        connection, email, name, role, secret_hash(secret), by, _INVITED_DAYS, site_id
    ), secret


async def accept(connect: Connect, secret: str, password: str) -> PersonRow:
    """Make a person of an invitation. Raises ``BadInvitation``, ``WeakPassword``,
    ``EmailTaken``."""
    async with connect() as connection:
        await _invitation(connection, secret)
    password_hash = await hashed(password)
    async with connect() as connection, connection.transaction():
        invitation = await _invitation(connection, secret)
        everywhere = invitation.role if invitation.site_id is None else None
        person = await add_hashed(
            connection, invitation.email, invitation.name, everywhere, password_hash
        )
        if invitation.site_id is not None:
            await members.put(connection, person.id, invitation.site_id, invitation.role, None)
        await people.accept_invitation(connection, invitation.id)
    return person


async def _invitation(connection: Connection, secret: str) -> InvitationRow:
    invitation = await people.invitation_by_secret(connection, secret_hash(secret))
    if invitation is None:
        raise BadInvitation("this invitation is not valid any more; ask for another")
    return invitation


async def change_person(
    connection: Connection,
    person: PersonRow,
    *,
    name: str | None,
    role: str | None,
    active: bool | None,
) -> PersonRow:
    """Change a person; one who may not sign in any more is signed out and loses their tokens. The
    role ``none`` leaves them the sites that they are members of. Raises ``LastManager``."""
    after_role = None if role == NO_ROLE else role or person.role
    after_active = person.active if active is None else active
    if (
        person.role == "manager"
        and person.active
        and (after_role != "manager" or not after_active)
        and await people.count_managers(connection) == 1
    ):
        raise LastManager(f"{person.name} is the only manager; make somebody else one first")
    async with connection.transaction():
        await people.change_person(
            connection,
            person.id,
            name=name or person.name,
            role=after_role,
            active=after_active,
            digest=person.digest,
            immediately=person.immediately,
        )
        if not after_active:
            await people.end_sessions(connection, person.id)
            await people.revoke_tokens(connection, person.id)
    changed = await people.person_by_id(connection, person.id)
    assert changed is not None
    return changed


class NoSuchPerson(ValueError):
    """Somebody who is named is not there."""

    code = "not-valid"


async def set_members(connection: Connection, group_id: int, members: list[int]) -> None:
    """Say who is in a group. Raises ``NoSuchPerson``, and nothing is changed then."""
    known = {person.id for person in await people.all_people(connection)}
    unknown = next((member for member in members if member not in known), None)
    if unknown is not None:
        raise NoSuchPerson(f"members: there is no person {unknown}")
    await people.set_members(connection, group_id, members)


async def add_group(connection: Connection, name: str, members: list[int]) -> int:
    """Add a group with its people. Raises ``GroupTaken``."""
    async with connection.transaction():
        group_id = await people.add_group(connection, name)
        if group_id is None:
            raise GroupTaken(f"a group is called '{name}' already; choose another name")
        await set_members(connection, group_id, members)
    return group_id


async def make_feed(connection: Connection, person_id: int) -> str:
    """Return the secret of a new address for somebody's feed; an older one works no more."""
    secret = secrets.token_urlsafe(24)
    await people.set_feed(connection, person_id, secret_hash(secret))
    return secret


async def add_member(
    connection: Connection, site_id: int, email: str, role: str, by: int
) -> PersonRow:
    """Give somebody who can sign in a role in a site. Raises ``NoSuchPerson``: accounts are made
    by who runs the service, who knows whose an e-mail address is."""
    person = await people.person_by_email(connection, email)
    if person is None or not person.active:
        raise NoSuchPerson(
            f"email: nobody signs in with {email}; who runs the service can invite them"
        )
    await members.put(connection, person.id, site_id, role, by)
    return person
