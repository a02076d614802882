"""Who is in which site, as what. The rule itself is the database's function ``role_by``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal, LiteralString

from plumrake.path_patterns import as_like
from plumrake.records.queries import (
    Connection,
    load,
    number,
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


Named = Literal[
    "finding", "fix", "correction", "judgement", "waiver", "review_answer", "page", "cause"
]
"""What requests name that hangs on pages; a page by its path, a cause by its key."""
_NAMED: Mapping[Named, LiteralString] = MappingProxyType(
    {
        "finding": _QUERIES["seen_findings"],
        "fix": _QUERIES["seen_fixes"],
        "correction": _QUERIES["seen_corrections"],
        "judgement": _QUERIES["seen_judgements"],
        "waiver": _QUERIES["seen_waivers"],
        "review_answer": _QUERIES["seen_review_answers"],
        "page": _QUERIES["seen_paths"],
        "cause": _QUERIES["causes_within"],
    }
)


@dataclass(frozen=True, slots=True)
class AtSite:
    """A site that something belongs to, and the role of a person in it; None: it is not there for
    them. ``is_confined``: they are there for single areas alone; ``is_walled``: the database keeps
    these apart."""

    site_id: int
    slug: str
    role: str | None
    is_confined: bool
    is_walled: bool


@dataclass(frozen=True, slots=True)
class RoleRow:
    """A person's role in a site, if any."""

    role: str | None


@dataclass(frozen=True, slots=True)
class SiteRoleRow:
    """A site that is there for a person, their role in it, and the areas that they are there for;
    None: all of it."""

    slug: str
    role: str
    areas: list[str] | None


@dataclass(frozen=True, slots=True)
class MemberRow:
    """A person in a site; ``is_everywhere``: by the role that they have in every site. ``areas``
    are those that they are there for; None: all of it."""

    id: int
    name: str
    email: str
    active: bool
    role: str
    areas: list[str] | None
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


async def roles_of(connection: Connection, person_id: int) -> list[SiteRoleRow]:
    """Return the sites that are there for a person, with their roles."""
    return await rows(connection, _QUERIES["roles"], SiteRoleRow, person_id=person_id)


async def members_of(connection: Connection, site_id: int) -> list[MemberRow]:
    """Return who is in a site, by name."""
    return await rows(connection, _QUERIES["of_site"], MemberRow, site_id=site_id)


async def known_to(connection: Connection, person_id: int) -> set[int]:
    """Return whom a person may know of: who is in a site that is there for them; everybody for who
    runs the service."""
    return set(await numbers(connection, _QUERIES["known_to"], person_id=person_id))


async def put(
    connection: Connection,
    person_id: int,
    site_id: int,
    role: str,
    added_by: int | None,
    areas: Sequence[str] | None = None,
) -> None:
    """Give a person a role in a site, or in areas of it (patterns of paths)."""
    values = {"person_id": person_id, "site_id": site_id, "role": role, "added_by": added_by}
    await run(connection, _QUERIES["put"], **values, **areas_as_kept(areas))


def areas_as_kept(areas: Sequence[str] | None) -> dict[str, list[str] | None]:
    """Return areas as the database keeps them; none, and an empty list, are the whole site."""
    return {
        "areas": [*areas] if areas else None,
        "areas_like": [as_like(area) for area in areas] if areas else None,
    }


async def names_what_is_seen(
    connection: Connection, site_id: int, kind: Named, keys: Sequence[int | str]
) -> bool:
    """Tell whether all that is named is in the areas of whom the transaction is for; of a cause,
    whether it shows nowhere else."""
    query = _NAMED[kind]
    return await number(connection, query, site_id=site_id, names=list(keys)) == len(set(keys))


async def with_example(
    connection: Connection, query: LiteralString, sweep: LiteralString = "%(sweep_id)s"
) -> LiteralString:
    """Return a query about causes ``c`` of a sweep in which ``{example}`` is the finding that shows
    each to whom the transaction is for: the best, but for members of areas the first that is in
    these."""
    confined = await number(connection, _QUERIES["is_confined"])
    example = _QUERIES["example_within"] if confined else _QUERIES["example"]
    return query.replace("{example}", example.replace("%(sweep_id)s", sweep))


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
