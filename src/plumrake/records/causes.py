"""Causes of sweeps, their pictures, and what gathering them needs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from plumrake.core.causes import Cause, Place
from plumrake.records.members import with_example
from plumrake.records.queries import (
    Connection,
    condition,
    load,
    number,
    numbers,
    row_or_none,
    rows,
    run,
    with_fragment,
)
from plumrake.records.sweeps import SweepRow

_QUERIES = with_fragment(load("causes"), "let_through", condition)
_MOST_PICTURED = 500
_START = (-(2**62), 0)  # before the first cause, however sorted


@dataclass(frozen=True, slots=True)
class CauseRow:
    """A cause as listed, with the place that shows it best and pictures of up to three."""

    key: str
    position: int
    rank: int
    sweep_id: int
    check: str
    outcome: str
    weight: str
    zone: str
    by_template: bool
    places: int
    pages: int
    best: int
    first_sweep: int
    first_seen_at: datetime
    says: str
    question: str | None
    selector: str
    excerpt: str
    criteria: list[str]
    mends: list[dict[str, str]]
    path: str
    address: str
    title: str
    pictures: list[str]
    waived: int
    fix_id: int | None
    fix_state: str | None
    fix_reopened_after: str | None
    fix_owner: str | None


@dataclass(frozen=True, slots=True)
class CauseFilters:
    """Which causes of a sweep are wanted; None lets everything through."""

    check: str | None = None
    weight: str | None = None
    outcome: str | None = None
    zone: str | None = None
    by_template: bool | None = None
    handed_out: bool | None = None
    words: bool | None = None
    counting: list[str] | None = None
    """Only causes of these weights of which at least one place counts."""

    def as_values(self) -> dict[str, Any]:
        """Return the query's values."""
        return {name: getattr(self, name) for name in CauseFilters.__slots__}


@dataclass(frozen=True, slots=True)
class PlaceToPictureRow:
    """A place of a cause: its box on a page's picture."""

    key: str
    finding: int
    box: list[int]
    picture: str


@dataclass(frozen=True, slots=True)
class _Counted:
    structure: str
    count: int


@dataclass(frozen=True, slots=True)
class _Key:
    key: str


async def places(connection: Connection, sweep_id: int, check: str | None = None) -> list[Place]:
    """Return a sweep's findings, or those of one check, as gathering needs them."""
    return await rows(connection, _QUERIES["places"], Place, sweep_id=sweep_id, check=check)


async def census(connection: Connection, sweep_id: int) -> dict[str, int]:
    """Return how many elements of each build with findings the sweep's pages have."""
    return {
        one.structure: one.count
        for one in await rows(connection, _QUERIES["census"], _Counted, sweep_id=sweep_id)
    }


async def known_by_template(connection: Connection, sweep_id: int | None) -> frozenset[str]:
    """Return the keys of a sweep's causes that a template prints."""
    return frozenset(
        one.key
        for one in await rows(connection, _QUERIES["known_by_template"], _Key, sweep_id=sweep_id)
    )


async def keep_causes(
    connection: Connection, sweep: SweepRow, causes: Sequence[Cause], check: str | None = None
) -> None:
    """Keep a sweep's causes, or those of one check, which of its findings have which, and which
    findings came back."""
    await run(connection, _QUERIES["clear"], sweep_id=sweep.id, check=check)
    findings = [finding for cause in causes for finding in cause.places]
    keys = [cause.key for cause in causes for _ in cause.places]
    await run(connection, _QUERIES["assign"], sweep_id=sweep.id, findings=findings, causes=keys)
    columns: dict[str, Any] = {
        name: [getattr(cause, name) for cause in causes]
        for name in ("by_template", "pages", "best")
    }
    columns |= {
        f"{name}s": [getattr(cause, name) for cause in causes]
        for name in ("key", "check", "weight", "zone")
    }
    columns["behind"] = await number(connection, _QUERIES["last_position"], sweep_id=sweep.id)
    columns["places"] = [len(cause.places) for cause in causes]
    await run(
        connection,
        _QUERIES["add"],
        sweep_id=sweep.id,
        site_id=sweep.site_id,
        environment=sweep.environment,
        **columns,
    )
    await run(
        connection,
        _QUERIES["mark_reopened"],
        sweep_id=sweep.id,
        base_id=sweep.base_id,
        environment=sweep.environment,
    )


async def places_to_picture(
    connection: Connection, sweep_id: int, check: str | None = None
) -> list[PlaceToPictureRow]:
    """Return up to three places of each of the causes of widest reach, or of those of one check,
    page by page."""
    return await rows(
        connection,
        _QUERIES["to_picture"],
        PlaceToPictureRow,
        sweep_id=sweep_id,
        most=_MOST_PICTURED,
        check=check,
    )


async def keep_picture(
    connection: Connection, sweep_id: int, place: PlaceToPictureRow, picture: str
) -> None:
    """Keep which evidence shows a place of a cause."""
    await run(
        connection,
        _QUERIES["keep_picture"],
        sweep_id=sweep_id,
        key=place.key,
        finding=place.finding,
        picture=picture,
    )


async def picture_later(connection: Connection, sweep_id: int) -> None:
    """Note that causes of a sweep want pictures of contents that are in the store."""
    await run(connection, _QUERIES["picture_later"], sweep_id=sweep_id)


async def pictured_later(connection: Connection) -> list[int]:
    """Return the numbers of the sweeps that wait for such pictures."""
    return await numbers(connection, _QUERIES["pictured_later"])


async def hold_to_picture(connection: Connection, sweep_id: int) -> None:
    """Let nobody else note that a sweep waits, until the transaction is over."""
    await numbers(connection, _QUERIES["hold_to_picture"], sweep_id=sweep_id)


async def mark_pictured(connection: Connection, sweep_id: int) -> None:
    """Note that a sweep waits for no such picture any more."""
    await run(connection, _QUERIES["mark_pictured"], sweep_id=sweep_id)


async def causes_of(
    connection: Connection,
    sweep_id: int,
    filters: CauseFilters,
    *,
    sort: str = "reach",
    after: tuple[int, int] | None = None,
    limit: int,
) -> list[CauseRow]:
    """Return a sweep's causes that the filters let through, sorted by ``reach``, ``weight`` or
    ``newest``, those after a rank and position."""
    rank, position = after or _START
    values = {
        "sweep_id": sweep_id,
        "sort": sort,
        "after_rank": rank,
        "after": position,
        "limit": limit,
        "key": None,
    }
    query = await with_example(connection, _QUERIES["of_sweep"])
    return await rows(connection, query, CauseRow, **values, **filters.as_values())


async def count_causes(connection: Connection, sweep_id: int, filters: CauseFilters) -> int:
    """Return how many causes the filters let through."""
    return await number(connection, _QUERIES["count"], sweep_id=sweep_id, **filters.as_values())


async def cause_by_key(connection: Connection, sweep_id: int, key: str) -> CauseRow | None:
    """Return a cause of a sweep, or None."""
    values = {
        "sweep_id": sweep_id,
        "sort": "reach",
        "after_rank": _START[0],
        "after": _START[1],
        "limit": 1,
        "key": key,
    }
    query = await with_example(connection, _QUERIES["of_sweep"])
    return await row_or_none(connection, query, CauseRow, **values, **CauseFilters().as_values())
