"""Versions of accessibility statements."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from plumrake.records.queries import Connection, load, number, row_or_none, rows, run

_QUERIES = load("statements")
_MOST = 200


@dataclass(frozen=True, slots=True)
class StatementRow:
    """A version of a statement: its text (Markdown), who wrote it, and who published it, if
    anybody did."""

    id: int
    language: str
    body: str
    made_by: str
    made_at: datetime
    published_by: str | None
    published_at: datetime | None


@dataclass(frozen=True, slots=True)
class PlanRow:
    """Until when a cause is to be mended."""

    cause: str
    due_on: date | None


@dataclass(frozen=True, slots=True)
class _Published:
    published_at: datetime


async def add_statement(
    connection: Connection, site_id: int, language: str, body: str, made_by: int
) -> int:
    """Keep a version; return its number."""
    values = {"site_id": site_id, "language": language, "body": body, "made_by": made_by}
    return await number(connection, _QUERIES["add"], **values)


async def statements_of(connection: Connection, site_id: int) -> list[StatementRow]:
    """Return the versions of a site's statement, the newest first."""
    values = {"site_id": site_id, "id": None, "limit": _MOST}
    return await rows(connection, _QUERIES["of_site"], StatementRow, **values)


async def statement_by_id(
    connection: Connection, site_id: int, statement_id: int
) -> StatementRow | None:
    """Return a version, or None."""
    values = {"site_id": site_id, "id": statement_id, "limit": 1}
    return await row_or_none(connection, _QUERIES["of_site"], StatementRow, **values)


async def publish(connection: Connection, site_id: int, statement_id: int, by_id: int) -> bool:
    """Let a version be the public one; False where it was published before, or is not there."""
    values = {"site_id": site_id, "id": statement_id, "by_id": by_id}
    return await run(connection, _QUERIES["publish"], **values) == 1


async def published_on(connection: Connection, site_id: int) -> date | None:
    """Return when the newest public version was published; None where none was."""
    found = await row_or_none(connection, _QUERIES["published_on"], _Published, site_id=site_id)
    return found.published_at.date() if found is not None else None


async def plans(
    connection: Connection, site_id: int, environment: str, causes: Sequence[str]
) -> dict[str, date | None]:
    """Return until when those of some causes are to be mended that were handed out."""
    values = {"site_id": site_id, "environment": environment, "causes": list(causes)}
    found = await rows(connection, _QUERIES["plans"], PlanRow, **values)
    return {one.cause: one.due_on for one in found}
