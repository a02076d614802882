"""What people decided about findings: waivers and judgements, and which findings and pages they change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from plumrake.records import words
from plumrake.records.queries import Connection, load, number, number_or_none, numbers, row_or_none, rows, run

_QUERIES = load("verdicts")


@dataclass(frozen=True, slots=True)
class NewWaiver:
    """What it takes to grant a waiver; which of page, place, cause and pattern are set hangs on ``scope``."""

    site_id: int
    scope: str
    check: str
    says: str
    reason: str
    ends_on: date
    granted_by: int
    page_id: int | None = None
    place_key: str | None = None
    cause: str | None = None
    pattern: str | None = None


@dataclass(frozen=True, slots=True)
class Waiver:
    """A waiver as listed; ``covers`` counts findings of the newest sweeps."""

    id: int
    scope: str
    check: str
    page_id: int | None
    path: str | None
    place_key: str | None
    cause: str | None
    pattern: str | None
    says: str
    reason: str
    ends_on: date
    granted_by: str
    granted_at: datetime
    ended_at: datetime | None
    ended_by: str | None
    covers: int


@dataclass(frozen=True, slots=True)
class DueWaiver:
    """A waiver whose last day is over."""

    id: int
    site_id: int


@dataclass(frozen=True, slots=True)
class Judgement:
    """A person's answer to a doubtful finding; lapsed where the element or what is around it changed since."""

    id: int
    edition: str
    path: str
    check: str
    place_key: str
    says: str
    answer: str
    note: str
    judged_by: str
    judged_at: datetime
    lapsed_at: datetime | None
    ended_at: datetime | None


@dataclass(frozen=True, slots=True)
class NewestSweep:
    """The newest finished sweep of an edition, and its policy."""

    id: int
    policy: dict[str, Any]


async def add_waiver(connection: Connection, new: NewWaiver) -> int:
    """Keep a waiver; return its number."""
    return await number(connection, _QUERIES["add_waiver"], **{name: getattr(new, name) for name in NewWaiver.__slots__})


async def waivers(
    connection: Connection, site_id: int, *, in_force: bool | None = None, before: int | None = None, limit: int = 200
) -> list[Waiver]:
    """Return a site's waivers, the newest first."""
    values = {"sweeps": [sweep.id for sweep in await newest_sweeps(connection, site_id)], "in_force": in_force, "before": before}
    return await rows(connection, _QUERIES["waivers"], Waiver, site_id=site_id, id=None, limit=limit, **values)


async def waiver_by_id(connection: Connection, site_id: int, waiver_id: int) -> Waiver | None:
    """Return a site's waiver, or None."""
    values = {"sweeps": [sweep.id for sweep in await newest_sweeps(connection, site_id)], "in_force": None, "before": None}
    return await row_or_none(connection, _QUERIES["waivers"], Waiver, site_id=site_id, id=waiver_id, limit=1, **values)


async def due_waivers(connection: Connection, today: date) -> list[DueWaiver]:
    """Return the waivers whose last day is over, held until the transaction ends."""
    return await rows(connection, _QUERIES["due_waivers"], DueWaiver, today=today)


async def end_waiver(connection: Connection, waiver_id: int, ended_by: int | None) -> bool:
    """End a waiver; what it covered stands again. False where it was over already."""
    if await run(connection, _QUERIES["end_waiver"], id=waiver_id, ended_by=ended_by) != 1:
        return False
    await run(connection, _QUERIES["unmark"], id=waiver_id)
    return True


async def fixes_of_waiver(connection: Connection, waiver_id: int, states: Sequence[str]) -> list[int]:
    """Return the fixes, in one of some states, that a waiver is about."""
    return await numbers(connection, _QUERIES["waived_fixes"], id=waiver_id, states=list(states))


async def judge(connection: Connection, finding_id: int, answer: str, note: str, judged_by: int) -> int:
    """Keep an answer to a finding, in place of an earlier one; return its number."""
    return await number(connection, _QUERIES["judge"], finding_id=finding_id, answer=answer, note=note, judged_by=judged_by)


async def judgements(
    connection: Connection, site_id: int, *, lapsed: bool | None = None, before: int | None = None, limit: int = 200
) -> list[Judgement]:
    """Return a site's judgements in force, the newest first."""
    return await rows(connection, _QUERIES["judgements"], Judgement, site_id=site_id, id=None, lapsed=lapsed, before=before, limit=limit)


async def judgement_by_id(connection: Connection, site_id: int, judgement_id: int) -> Judgement | None:
    """Return a site's judgement in force, or None."""
    values = {"lapsed": None, "before": None, "limit": 1}
    return await row_or_none(connection, _QUERIES["judgements"], Judgement, site_id=site_id, id=judgement_id, **values)


async def end_judgement(connection: Connection, judgement_id: int) -> bool:
    """Take a judgement back; False where it was over already."""
    ended = await number_or_none(connection, _QUERIES["end_judgement"], id=judgement_id)
    if ended is not None:
        await run(connection, _QUERIES["unanswer"], page_id=ended)
    return ended is not None


async def apply_all(connection: Connection, site_id: int, sweep_id: int, edition: str, holding: Sequence[str]) -> None:
    """Bring the findings of a sweep, and which of its pages are ready, in line with the waivers and judgements in force."""
    await run(connection, _QUERIES["apply_waivers"], site_id=site_id, sweep_id=sweep_id)
    await run(connection, _QUERIES["apply_judgements"], sweep_id=sweep_id)
    await words.apply(connection, site_id, sweep_id)
    await run(connection, _QUERIES["lapse"], site_id=site_id, sweep_id=sweep_id, edition=edition)
    await run(connection, _QUERIES["settle_ready"], sweep_id=sweep_id, holding=list(holding))


async def newest_sweeps(connection: Connection, site_id: int) -> list[NewestSweep]:
    """Return the newest finished sweep of all pages of each edition."""
    return await rows(connection, _QUERIES["newest_sweeps"], NewestSweep, site_id=site_id)
