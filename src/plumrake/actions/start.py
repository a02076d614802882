"""An empty service: the key that its first person comes in with, and taking it up. The key is kept
as a hash, and gone once it was used."""

from __future__ import annotations

import hmac
import secrets

from plumrake.actions.passwords import hashed
from plumrake.actions.people import add_hashed
from plumrake.actions.ports import Connect
from plumrake.actions.secret_hashes import secret_hash
from plumrake.records import people
from plumrake.records.people import PersonRow
from plumrake.records.queries import Connection


class NotEmpty(ValueError):
    """There is somebody already; others are invited by a manager."""

    code = "not-empty"


class BadStartKey(ValueError):
    """The key is not the one that the service printed when it started."""

    code = "bad-start-key"


async def start_key(connection: Connection) -> str | None:
    """Make and return a new key for the first person; None where there is somebody already. An
    older key is invalid from then on."""
    if await people.all_people(connection):
        return None
    key = secrets.token_urlsafe(24)
    await people.keep_start_key(connection, secret_hash(key))
    return key


async def is_empty(connection: Connection) -> bool:
    """Tell whether nobody can sign in yet."""
    return not await people.all_people(connection)


async def make_first_person(
    connect: Connect, key: str, email: str, name: str, password: str
) -> PersonRow:
    """Make the first person, a manager. Raises ``NotEmpty``, ``BadStartKey``, ``WeakPassword``."""
    password_hash = await hashed(password, (name, email))
    async with connect() as connection, connection.transaction():
        kept = await people.take_start_key(connection)
        if await people.all_people(connection):
            raise NotEmpty("there is somebody already; ask a manager for an invitation")
        if kept is None or not hmac.compare_digest(kept, secret_hash(key)):
            raise BadStartKey(
                "this is not the key that the service printed when it started; its log has "
                "the whole address"
            )
        return await add_hashed(connection, email, name, "manager", password_hash)
