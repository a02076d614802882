"""What changed between two sweeps: findings new, still there, gone, came back; pages; causes."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.records.members import with_example
from plumrake.records.queries import Connection, load, rows
from plumrake.records.sweeps import FindingRow

_QUERIES = load("changes")
KINDS: tuple[str, ...] = ("new", "still", "gone", "reopened")


@dataclass(frozen=True, slots=True)
class ChangeFigureRow:
    """How many findings of a weight (``doubtful``: of those to look at) are of one kind of
    change."""

    kind: str
    weight: str
    count: int


@dataclass(frozen=True, slots=True)
class PageChangeRow:
    """A page that ``appeared``, ``vanished``, became ``readable`` or ``unreadable``."""

    path: str
    kind: str


@dataclass(frozen=True, slots=True)
class CauseChangeRow:
    """A cause that is ``new``, ``gone``, ``wider`` or ``narrower``, with its places and pages
    before and now."""

    key: str
    check: str
    weight: str
    says: str
    places_before: int
    places_now: int
    pages_before: int
    pages_now: int
    kind: str


async def figures(connection: Connection, sweep: int, base: int) -> list[ChangeFigureRow]:
    """Return the figures of all findings on pages that both sweeps could read."""
    return await rows(connection, _QUERIES["figures"], ChangeFigureRow, sweep=sweep, base=base)


async def findings(
    connection: Connection,
    sweep: int,
    base: int,
    kind: str,
    *,
    cause: str | None,
    path: str | None,
    after: int,
    limit: int,
) -> list[FindingRow]:
    """Return the findings of one of ``KINDS``, those after an ordinal."""
    values = {
        "sweep": sweep,
        "base": base,
        "kind": kind,
        "cause": cause,
        "path": path,
        "after": after,
        "limit": limit,
    }
    return await rows(connection, _QUERIES["findings"], FindingRow, **values)


async def pages(connection: Connection, sweep: int, base: int) -> list[PageChangeRow]:
    """Return the pages that differ, up to ten thousand."""
    return await rows(connection, _QUERIES["pages"], PageChangeRow, sweep=sweep, base=base)


async def causes(connection: Connection, sweep: int, base: int) -> list[CauseChangeRow]:
    """Return the causes that differ, the widest reach first, up to a thousand."""
    query = await with_example(connection, _QUERIES["causes"], "c.sweep_id")
    return await rows(connection, query, CauseChangeRow, sweep=sweep, base=base)
