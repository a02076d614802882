"""What of a site's pages was laid out otherwise and walked through by Tab, by pattern."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from plumrake.records.queries import Connection, load, numbers, rows, run

_QUERIES = load("patterns")

BEGINNING = datetime(1970, 1, 1, tzinfo=UTC)
KEPT_DAYS = 30
"""So long a pattern need not be tried again."""


@dataclass(frozen=True, slots=True)
class TriedPatternRow:
    """A pattern that was tried: on which page, and by which parts (``Part``) something was found at
    it."""

    pattern: int
    path: str
    faulty: int
    tried_at: datetime


async def known(
    connection: Connection,
    site_id: int,
    environment: str,
    since: datetime = BEGINNING,
    among: Iterable[int] | None = None,
) -> list[TriedPatternRow]:
    """Return the patterns of a site that were kept since a time, and hold still: all, or those
    among given ones."""
    return await rows(
        connection,
        _QUERIES["known"],
        TriedPatternRow,
        site_id=site_id,
        environment=environment,
        days=KEPT_DAYS,
        since=since,
        among=list(among) if among is not None else None,
    )


async def keep(
    connection: Connection, site_id: int, environment: str, path: str, faulty: Mapping[int, int]
) -> None:
    """Keep that patterns were tried on a page, each with the parts by which something was found at
    it."""
    await run(
        connection,
        _QUERIES["keep"],
        site_id=site_id,
        environment=environment,
        path=path,
        patterns=list(faulty),
        faulty=[int(one) for one in faulty.values()],
    )


async def faulty_before(
    connection: Connection, sweep_id: int | None, pages: Sequence[int], checks: Sequence[str]
) -> set[int]:
    """Return those of some pages that had a finding of some checks in a sweep."""
    if sweep_id is None:
        return set()
    found = await numbers(
        connection,
        _QUERIES["faulty_before"],
        sweep_id=sweep_id,
        pages=list(pages),
        checks=list(checks),
    )
    return set(found)
