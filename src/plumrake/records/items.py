"""Items of content systems: what makes the pages of a site, and who wrote it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from plumrake.records.queries import Connection, load, number_or_none, one, row_or_none, rows, run

_QUERIES = load("items")


@dataclass(frozen=True, slots=True)
class NewItem:
    """An item as its content system lists it."""

    site_id: int
    environment: str
    number: str
    kind: str
    status: str
    path: str
    title: str
    author: str
    email: str
    edit: str
    changed_at: datetime
    due_at: datetime | None


@dataclass(frozen=True, slots=True)
class ItemRow(NewItem):
    """An item as kept; ``person`` is who its author is here."""

    id: int
    person_id: int | None
    person: str | None
    by_hand: bool


@dataclass(frozen=True, slots=True)
class GoingOutRow(ItemRow):
    """An item that is not public yet, with the newest answer about it; ``holding`` findings hold
    it."""

    clearance_id: int | None
    clearance_state: str | None
    decision: str | None
    reason: str | None
    problem_code: str | None
    answered_at: datetime | None
    holding: int | None


@dataclass(frozen=True, slots=True)
class AuthorRow:
    """An author of a site's items, how many, and who that is here."""

    email: str
    author: str
    items: int
    person_id: int | None
    person: str | None
    by_hand: bool


@dataclass(frozen=True, slots=True)
class ListedEnvironmentRow:
    """An environment of a site whose items a content system lists."""

    site_id: int
    environment: str


@dataclass(frozen=True, slots=True)
class _Synced:
    before: datetime | None
    at: datetime


@dataclass(frozen=True, slots=True)
class _Number:
    number: str


async def keep_item(connection: Connection, new: NewItem) -> None:
    """Keep an item as it is listed now."""
    await run(
        connection, _QUERIES["keep"], **{name: getattr(new, name) for name in NewItem.__slots__}
    )


async def forget_item(connection: Connection, site_id: int, environment: str, number: str) -> None:
    """Forget an item that its content system has no more."""
    await run(
        connection, _QUERIES["forget"], site_id=site_id, environment=environment, number=number
    )


async def forget_unseen(
    connection: Connection,
    site_id: int,
    environment: str,
    statuses: Sequence[str],
    before: datetime,
) -> None:
    """Forget the items of some statuses that were not listed since a time."""
    await run(
        connection,
        _QUERIES["forget_unseen"],
        site_id=site_id,
        environment=environment,
        statuses=list(statuses),
        before=before,
    )


async def going_out(
    connection: Connection, site_id: int, environment: str, person_id: int | None, limit: int
) -> list[GoingOutRow]:
    """Return what is not public yet, of one author or of all."""
    return await rows(
        connection,
        _QUERIES["going_out"],
        GoingOutRow,
        site_id=site_id,
        environment=environment,
        person_id=person_id,
        limit=limit,
    )


async def item_at(connection: Connection, site: str, environment: str, path: str) -> ItemRow | None:
    """Return the item that makes the page at a path of a site (its short name), or None."""
    return await row_or_none(
        connection, _QUERIES["at"], ItemRow, site=site, environment=environment, path=path
    )


async def item_by_number(
    connection: Connection, site_id: int, environment: str, number: str
) -> ItemRow | None:
    """Return an item, or None."""
    return await row_or_none(
        connection,
        _QUERIES["by_number"],
        ItemRow,
        site_id=site_id,
        environment=environment,
        number=number,
    )


async def due_soon(
    connection: Connection, site_id: int, environment: str, minutes: int
) -> list[str]:
    """Return the scheduled items that are due within some minutes and were not read within as
    many."""
    found = await rows(
        connection,
        _QUERIES["due_soon"],
        _Number,
        site_id=site_id,
        environment=environment,
        minutes=minutes,
    )
    return [one.number for one in found]


async def authors(connection: Connection, site_id: int) -> list[AuthorRow]:
    """Return the authors of a site's items."""
    return await rows(connection, _QUERIES["authors"], AuthorRow, site_id=site_id)


async def set_author(connection: Connection, site_id: int, email: str, person_id: int) -> None:
    """Keep who an author is here."""
    await run(connection, _QUERIES["set_author"], site_id=site_id, email=email, person_id=person_id)


async def drop_author(connection: Connection, site_id: int, email: str) -> None:
    """Let an author be known by the e-mail address again."""
    await run(connection, _QUERIES["drop_author"], site_id=site_id, email=email)


async def person_for(connection: Connection, site_id: int, email: str) -> int | None:
    """Return who somebody of a content system is here, or None."""
    return await number_or_none(connection, _QUERIES["person_for"], site_id=site_id, email=email)


async def author_of(
    connection: Connection, site_id: int, environment: str, paths: Sequence[str]
) -> int | None:
    """Return who wrote most of the items at some paths, of those that are known here."""
    return await number_or_none(
        connection,
        _QUERIES["author_of"],
        site_id=site_id,
        environment=environment,
        paths=list(paths),
    )


async def mark_synced(
    connection: Connection, site_id: int, environment: str
) -> tuple[datetime | None, datetime]:
    """Keep that items are listed now; return when they were last, and now."""
    found = await one(
        connection, _QUERIES["synced"], _Synced, site_id=site_id, environment=environment
    )
    return found.before, found.at


async def listed_environments(
    connection: Connection, kinds: Sequence[str]
) -> list[ListedEnvironmentRow]:
    """Return the environments whose items a content system lists."""
    return await rows(connection, _QUERIES["listed"], ListedEnvironmentRow, kinds=list(kinds))
