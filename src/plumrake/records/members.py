"""Who is in which site, as what. The rule itself is the database's function ``role_in``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal, LiteralString

from plumrake.records.queries import (
    Connection,
    load,
    numbers,
    one,
    row_or_none,
    rows,
    run,
    with_fragment,
)

_QUERIES = with_fragment(load("members"), "at")

Kind = Literal[
    "site",
    "sweep",
    "reading",
    "finding",
    "fix",
    "correction",
    "clearance",
    "release",
    "library_text",
    "evidence",
]
"""What belongs to a site."""
_AT: Mapping[Kind, LiteralString] = MappingProxyType(
    {
        "site": _QUERIES["at_site"],
        "sweep": _QUERIES["at_sweep"],
        "reading": _QUERIES["at_reading"],
        "finding": _QUERIES["at_finding"],
        "fix": _QUERIES["at_fix"],
        "correction": _QUERIES["at_correction"],
        "clearance": _QUERIES["at_clearance"],
        "release": _QUERIES["at_release"],
        "library_text": _QUERIES["at_library_text"],
        "evidence": _QUERIES["at_evidence"],
    }
)


@dataclass(frozen=True, slots=True)
class AtSite:
    """A site that something belongs to, and the role of a person in it; None: it is not there for
    them."""

    site_id: int
    slug: str
    role: str | None


@dataclass(frozen=True, slots=True)
class RoleRow:
    """A person's role in a site, if any."""

    role: str | None


@dataclass(frozen=True, slots=True)
class SiteRoleRow:
    """A site that is there for a person, and their role in it."""

    slug: str
    role: str


@dataclass(frozen=True, slots=True)
class MemberRow:
    """A person in a site; ``is_everywhere``: by the role that they have in every site."""

    id: int
    name: str
    email: str
    active: bool
    role: str
    is_everywhere: bool


async def site_at(
    connection: Connection, person_id: int, kind: Kind, key: int | str
) -> AtSite | None:
    """Return the site that something belongs to, with a person's role in it."""
    return await row_or_none(connection, _AT[kind], AtSite, person_id=person_id, key=key)


async def role_in(connection: Connection, person_id: int, site_id: int) -> str | None:
    """Return a person's role in a site; None: the site is not there for them."""
    query = _QUERIES["role_in"]
    return (await one(connection, query, RoleRow, person_id=person_id, site_id=site_id)).role


async def roles_of(connection: Connection, person_id: int) -> dict[str, str]:
    """Return the sites that are there for a person, by their slugs, with their roles."""
    found = await rows(connection, _QUERIES["roles"], SiteRoleRow, person_id=person_id)
    return {row.slug: row.role for row in found}


async def members_of(connection: Connection, site_id: int) -> list[MemberRow]:
    """Return who is in a site, by name."""
    return await rows(connection, _QUERIES["of_site"], MemberRow, site_id=site_id)


async def known_to(connection: Connection, person_id: int) -> set[int]:
    """Return whom a person may know of: who is in a site that is there for them; everybody for who
    runs the service."""
    return set(await numbers(connection, _QUERIES["known_to"], person_id=person_id))


async def put(
    connection: Connection, person_id: int, site_id: int, role: str, added_by: int | None
) -> None:
    """Give a person a role in a site."""
    values = {"person_id": person_id, "site_id": site_id, "role": role, "added_by": added_by}
    await run(connection, _QUERIES["put"], **values)


async def join_as_invited(connection: Connection, invitation_id: int, person_id: int) -> None:
    """Make somebody a member of the one site that they were invited to, if it is one."""
    await run(
        connection,
        _QUERIES["join_as_invited"],
        invitation_id=invitation_id,
        person_id=person_id,
    )


async def drop(connection: Connection, person_id: int, site_id: int) -> bool:
    """Take a person out of a site; False where they were no member."""
    values = {"person_id": person_id, "site_id": site_id}
    return await run(connection, _QUERIES["drop"], **values) > 0
