"""The log of what was done: changes are noted by the database itself, sign-ins and exports from
here. Entries are only added."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import Connection, load, number, one, rows, run

_QUERIES = load("log")


@dataclass(frozen=True, slots=True)
class LogEntryRow:
    """Something that was done: its kind, what it was about, in which site, by whom (None: by the
    service itself, or nobody known), from which address, and what it was before and after."""

    id: int
    place: int | None
    at: datetime
    kind: str
    about: str
    about_id: int | None
    site: str | None
    by_id: int | None
    by: str | None
    from_address: str
    before: dict[str, Any] | None
    after: dict[str, Any] | None


@dataclass(frozen=True, slots=True)
class LogStateRow:
    """How many entries are sealed, how many are not yet, and at which place the chain is broken."""

    sealed: int
    unsealed: int
    broken_at: int | None


async def act_as(
    connection: Connection,
    person_id: int | None,
    from_address: str,
    *,
    is_looked_at: bool = False,
) -> None:
    """Say who acts in the transaction under way, and from where. Whoever is in a site for single
    areas alone meets what is in these; with ``is_looked_at``, since what is named was looked at
    before, the whole site."""
    person = str(person_id) if person_id is not None else ""
    areas = "looked at" if is_looked_at else ""
    values = {"person": person, "from_address": from_address, "areas": areas}
    await run(connection, _QUERIES["act_as"], **values)


async def note(
    connection: Connection,
    kind: str,
    *,
    by_id: int | None,
    from_address: str,
    about: str = "",
    about_id: int | None = None,
    site_id: int | None = None,
    after: dict[str, Any] | None = None,
) -> None:
    """Note something that was done, or tried, and is no change of a row."""
    await run(
        connection,
        _QUERIES["note"],
        kind=kind,
        about=about,
        about_id=about_id,
        site_id=site_id,
        by_id=by_id,
        from_address=from_address,
        after=Jsonb(after) if after is not None else None,
    )


async def entries(
    connection: Connection,
    *,
    site_id: int | None = None,
    kind: str | None = None,
    after: int | None = None,
    since: int | None = None,
    limit: int = 100,
) -> list[LogEntryRow]:
    """Return what was done, the newest first: of a site, or of everything; of kinds that begin so;
    before the entry ``after`` of a listing, and not before ``since``."""
    return await rows(
        connection,
        _QUERIES["entries"],
        LogEntryRow,
        site_id=site_id,
        kind=kind,
        after=after,
        since=since,
        limit=limit,
    )


async def seal(connection: Connection) -> int:
    """Seal the entries that are not yet; return how many."""
    return await number(connection, _QUERIES["seal"])


async def check(connection: Connection) -> LogStateRow:
    """Return whether the chain is whole."""
    return await one(connection, _QUERIES["check"], LogStateRow)


async def forget(connection: Connection, days: int) -> int:
    """Forget entries that are older than some days; return how many."""
    return await number(connection, _QUERIES["forget"], days=days)
