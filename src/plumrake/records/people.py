"""People, their sessions and tokens. Secrets come in as hashes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.members import areas_as_kept
from plumrake.records.queries import (
    Connection,
    load,
    number,
    number_or_none,
    one,
    row_or_none,
    rows,
    run,
    with_fragment,
)

_QUERIES = with_fragment(load("people"), "invitation_shown")


@dataclass(frozen=True, slots=True)
class PersonRow:
    """A person as kept; ``role`` is theirs in every site where they have no other, if any."""

    id: int
    email: str
    name: str
    role: str | None
    password_hash: str
    active: bool
    digest: bool
    immediately: bool


@dataclass(frozen=True, slots=True)
class ResponsibilityRow:
    """An area of responsibility: a path pattern, or ``template``, and who answers for it."""

    pattern: str
    owner_id: int | None
    group_id: int | None
    owner: str


@dataclass(frozen=True, slots=True)
class InvitationRow:
    """An invitation that nobody has taken up, without its secret: to one site, to areas of it, or
    to every one."""

    id: int
    email: str
    name: str
    role: str
    created_at: datetime
    expires_at: datetime
    site_id: int | None
    areas: list[str] | None
    site: str | None


@dataclass(frozen=True, slots=True)
class PeopleGroupRow:
    """A group of people, by their numbers."""

    id: int
    name: str
    members: list[int]


@dataclass(frozen=True, slots=True)
class StoredAnswerRow:
    """The answer to an earlier request with the same idempotency key."""

    request_hash: str
    answer: Any


async def add_person(
    connection: Connection, email: str, name: str, role: str | None, password_hash: str
) -> PersonRow | None:
    """Add a person, with a role in every site or none; None where the e-mail address is taken."""
    values = {"email": email, "name": name, "role": role, "password_hash": password_hash}
    return await row_or_none(connection, _QUERIES["add_person"], PersonRow, **values)


async def person_by_email(connection: Connection, email: str) -> PersonRow | None:
    """Return the person with this e-mail address, whatever its case."""
    return await row_or_none(connection, _QUERIES["by_email"], PersonRow, email=email)


async def all_people(connection: Connection) -> list[PersonRow]:
    """Return everybody by name."""
    return await rows(connection, _QUERIES["all"], PersonRow)


async def assign_responsibility(
    connection: Connection,
    site_id: int,
    path_pattern: str,
    owner_id: int | None,
    group_id: int | None = None,
) -> None:
    """Say who answers for the pages of a path pattern: a person or a group."""
    await run(
        connection,
        _QUERIES["assign_responsibility"],
        site_id=site_id,
        path_pattern=path_pattern,
        owner_id=owner_id,
        group_id=group_id,
    )


async def responsibilities_of(connection: Connection, site_id: int) -> list[ResponsibilityRow]:
    """Return the areas of a site by pattern."""
    return await rows(connection, _QUERIES["responsibilities"], ResponsibilityRow, site_id=site_id)


async def drop_part(connection: Connection, site_id: int, path_pattern: str) -> bool:
    """Let nobody answer for a pattern; False where nobody did."""
    return (
        await run(connection, _QUERIES["drop_part"], site_id=site_id, path_pattern=path_pattern)
        == 1
    )


async def person_by_id(connection: Connection, person_id: int) -> PersonRow | None:
    """Return a person, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], PersonRow, id=person_id)


async def change_person(
    connection: Connection,
    person_id: int,
    *,
    name: str,
    role: str | None,
    active: bool,
    digest: bool,
    immediately: bool,
) -> None:
    """Change a person's name, role, whether they may sign in, and what e-mails they want."""
    await run(
        connection,
        _QUERIES["change_person"],
        id=person_id,
        name=name,
        role=role,
        active=active,
        digest=digest,
        immediately=immediately,
    )


async def unname(connection: Connection, person_id: int) -> None:
    """Forget who a person was, with all that lets them in; what they did stays, by their number."""
    await run(connection, _QUERIES["unname"], id=person_id)


async def count_managers(connection: Connection) -> int:
    """Return how many managers can sign in."""
    return await number(connection, _QUERIES["count_managers"])


async def invite(
    connection: Connection,
    email: str,
    name: str,
    role: str,
    token_hash: bytes,
    invited_by: int,
    days: int,
    site_id: int | None = None,
    areas: Sequence[str] | None = None,
) -> InvitationRow:
    """Keep an invitation to one site, to areas of it, or to every one, for some days, in place of
    an earlier one to the same address."""
    values = {
        "email": email,
        "name": name,
        "role": role,
        "site_id": site_id,
        "token_hash": token_hash,
        "invited_by": invited_by,
        "days": days,
    }
    kept = areas_as_kept(areas)
    return await one(connection, _QUERIES["invite"], InvitationRow, **values, **kept)


async def invitations(connection: Connection) -> list[InvitationRow]:
    """Return the invitations that nobody has taken up."""
    return await rows(connection, _QUERIES["invitations"], InvitationRow)


async def invitation_by_secret(connection: Connection, token_hash: bytes) -> InvitationRow | None:
    """Return the invitation that a secret belongs to while it holds, held until the transaction
    ends."""
    return await row_or_none(
        connection, _QUERIES["invitation"], InvitationRow, token_hash=token_hash
    )


async def accept_invitation(connection: Connection, invitation_id: int) -> None:
    """Keep that an invitation was taken up."""
    await run(connection, _QUERIES["accept"], id=invitation_id)


async def drop_invitation(connection: Connection, invitation_id: int) -> bool:
    """Take an invitation back; False where there is none such."""
    return await run(connection, _QUERIES["drop_invitation"], id=invitation_id) == 1


async def add_group(connection: Connection, name: str) -> int | None:
    """Add a group; None where the name is taken."""
    return await number_or_none(connection, _QUERIES["add_group"], name=name)


async def groups(connection: Connection) -> list[PeopleGroupRow]:
    """Return every group by name."""
    return await rows(connection, _QUERIES["groups"], PeopleGroupRow)


async def set_members(connection: Connection, group_id: int, members: list[int]) -> None:
    """Say who is in a group."""
    await run(connection, _QUERIES["set_members"], group_id=group_id, members=members)


async def drop_group(connection: Connection, group_id: int) -> bool:
    """Forget a group; False where there is none such."""
    return await run(connection, _QUERIES["drop_group"], id=group_id) == 1


async def set_feed(connection: Connection, person_id: int, feed_hash: bytes | None) -> None:
    """Keep the hash of the secret of somebody's feed, or let the feed end."""
    await run(connection, _QUERIES["set_feed"], id=person_id, feed_hash=feed_hash)


async def person_by_feed(connection: Connection, feed_hash: bytes) -> PersonRow | None:
    """Return whose feed a secret belongs to, or None."""
    return await row_or_none(connection, _QUERIES["by_feed"], PersonRow, feed_hash=feed_hash)


async def kept_answer(connection: Connection, person_id: int, key: str) -> StoredAnswerRow | None:
    """Return the answer kept under an idempotency key, or None."""
    return await row_or_none(
        connection, _QUERIES["kept_answer"], StoredAnswerRow, person_id=person_id, key=key
    )


async def keep_answer(
    connection: Connection, person_id: int, key: str, request_hash: str, answer: Any
) -> None:
    """Keep an answer for a day under an idempotency key."""
    values = {
        "person_id": person_id,
        "key": key,
        "request_hash": request_hash,
        "answer": Jsonb(answer),
    }
    await run(connection, _QUERIES["keep_answer"], **values)


@dataclass(frozen=True, slots=True)
class SavedFilterRow:
    """A filter that somebody saved for a view of a site; ``query`` is what stands in the
    address."""

    id: int
    view: str
    name: str
    query: dict[str, str]
    created_at: datetime


@dataclass(frozen=True, slots=True)
class _Hash:
    token_hash: bytes


async def keep_start_key(connection: Connection, token_hash: bytes) -> None:
    """Keep the hash of the key that the first person comes in with; an older one is invalid."""
    await run(connection, _QUERIES["keep_start_key"], token_hash=token_hash)


async def take_start_key(connection: Connection) -> bytes | None:
    """Return the hash of the start key and forget it, or None; a transaction that fails keeps
    it."""
    found = await row_or_none(connection, _QUERIES["take_start_key"], _Hash)
    return bytes(found.token_hash) if found is not None else None


async def saved_filters(
    connection: Connection, person_id: int, site_id: int
) -> list[SavedFilterRow]:
    """Return what somebody has saved of a site's views."""
    return await rows(
        connection, _QUERIES["saved_filters"], SavedFilterRow, person_id=person_id, site_id=site_id
    )


async def save_filter(
    connection: Connection,
    person_id: int,
    site_id: int,
    view: str,
    name: str,
    query: dict[str, str],
) -> SavedFilterRow:
    """Save a filter; one of the same name takes its place."""
    values = {
        "person_id": person_id,
        "site_id": site_id,
        "view": view,
        "name": name,
        "given": Jsonb(query),
    }
    return await one(connection, _QUERIES["save_filter"], SavedFilterRow, **values)


async def count_filters(connection: Connection, person_id: int, site_id: int) -> int:
    """Return how many filters somebody has saved of a site."""
    return await number(connection, _QUERIES["count_filters"], person_id=person_id, site_id=site_id)


async def drop_filter(connection: Connection, person_id: int, site_id: int, filter_id: int) -> bool:
    """Forget a saved filter of somebody's; False where there is none."""
    return (
        await run(
            connection, _QUERIES["drop_filter"], id=filter_id, person_id=person_id, site_id=site_id
        )
        == 1
    )
