"""Pages that were handed over to a sweep instead of being fetched, until it is finished."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from plumrake.records.queries import Connection, load, rows, run

_QUERIES = load("handed_over")


@dataclass(frozen=True, slots=True)
class HandedOverRow:
    """A page's path, its HTML, and what the collector told of it."""

    path: str
    source: str
    answer: str


async def add_handed_over(connection: Connection, sweep_id: int, page: HandedOverRow) -> None:
    """Keep a page that is handed over to a sweep."""
    await run(
        connection,
        _QUERIES["add"],
        sweep_id=sweep_id,
        path=page.path,
        source=page.source,
        answer=page.answer,
    )


async def handed_over_of(
    connection: Connection, sweep_id: int, paths: Sequence[str]
) -> dict[str, HandedOverRow]:
    """Return those of some paths that were handed over to a sweep."""
    values = {"sweep_id": sweep_id, "paths": list(paths)}
    found = await rows(connection, _QUERIES["of_sweep"], HandedOverRow, **values)
    return {one.path: one for one in found}


async def forget_handed_over(connection: Connection, sweep_id: int) -> None:
    """Forget what was handed over to a sweep."""
    await run(connection, _QUERIES["forget"], sweep_id=sweep_id)
