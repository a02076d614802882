"""Sweeps as reports read them: page by page from the database's own cursor, so that nothing of it
is kept. The connection is one of its own, which blocks; it is read in a thread."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import psycopg
from psycopg.rows import class_row

from plumrake.records.queries import load

_QUERIES = load("exports")
_AT_ONCE = 50
_SECONDS = 600


@dataclass(frozen=True, slots=True)
class ExportedPageRow:
    """A page of a sweep with its findings as they are kept, each with the ``reason`` of its waiver
    and whether it is new against the sweep before; what it has to look at, None for unknown."""

    path: str
    address: str
    lens: str
    problem_code: str | None
    problem_says: str | None
    title: str
    language: str
    content_hash: str | None
    untested: list[dict[str, str]]
    has_pictures: bool | None
    has_links: bool | None
    findings: list[dict[str, Any]]


@dataclass(frozen=True, slots=True)
class GoneRow:
    """A finding of an earlier sweep that is not there any more."""

    place_key: str
    check: str
    address: str


def _connected(database: str, person_id: int) -> psycopg.Connection[Any]:
    options = f"-c statement_timeout={_SECONDS}s -c plumrake.person={int(person_id)}"
    return psycopg.connect(database, options=options)


def pages_of_sweep(
    database: str, person_id: int, sweep_id: int, base_id: int | None, standings: Sequence[str]
) -> Iterator[ExportedPageRow]:
    """Yield the pages of a sweep for somebody, read as they are asked for."""
    values = {"sweep_id": sweep_id, "base_id": base_id, "standings": list(standings)}
    with (
        _connected(database, person_id) as connection,
        connection.cursor("exported", row_factory=class_row(ExportedPageRow)) as cursor,
    ):
        cursor.itersize = _AT_ONCE
        cursor.execute(_QUERIES["pages"], values)
        yield from cursor


def gone_since(
    database: str, person_id: int, sweep_id: int, base_id: int, standings: Sequence[str], most: int
) -> list[GoneRow]:
    """Return what a sweep has not any more that the one before had, at most so many."""
    values = {
        "sweep_id": sweep_id,
        "base_id": base_id,
        "standings": list(standings),
        "limit": most,
    }
    with (
        _connected(database, person_id) as connection,
        connection.cursor(row_factory=class_row(GoneRow)) as cursor,
    ):
        return cursor.execute(_QUERIES["gone"], values).fetchall()
