"""What people decided about findings: waivers and judgements, and which findings and pages they
change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from plumrake.records import words
from plumrake.records.queries import (
    Connection,
    load,
    number,
    number_or_none,
    numbers,
    row_or_none,
    rows,
    run,
)
from plumrake.records.sweeps import SweepRow

_QUERIES = load("verdicts")


@dataclass(frozen=True, slots=True)
class NewWaiver:
    """What it takes to grant a waiver; which of page, place, cause and pattern are set hangs on
    ``scope``."""

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
    path_like: str | None = None


@dataclass(frozen=True, slots=True)
class WaiverRow:
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
class DueWaiverRow:
    """A waiver whose last day is over."""

    id: int
    site_id: int


@dataclass(frozen=True, slots=True)
class JudgementRow:
    """A person's answer to a doubtful finding; lapsed where the element or what is around it
    changed since."""

    id: int
    environment: str
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


async def add_waiver(connection: Connection, new: NewWaiver) -> int:
    """Keep a waiver; return its number."""
    return await number(
        connection,
        _QUERIES["add_waiver"],
        **{name: getattr(new, name) for name in NewWaiver.__slots__},
    )


async def waivers(
    connection: Connection,
    site_id: int,
    *,
    in_force: bool | None = None,
    before: int | None = None,
    limit: int = 200,
) -> list[WaiverRow]:
    """Return a site's waivers, the newest first."""
    values = {
        "sweeps": await newest_sweeps(connection, site_id),
        "in_force": in_force,
        "before": before,
    }
    return await rows(
        connection, _QUERIES["waivers"], WaiverRow, site_id=site_id, id=None, limit=limit, **values
    )


async def waiver_by_id(connection: Connection, site_id: int, waiver_id: int) -> WaiverRow | None:
    """Return a site's waiver, or None."""
    values = {
        "sweeps": await newest_sweeps(connection, site_id),
        "in_force": None,
        "before": None,
    }
    return await row_or_none(
        connection, _QUERIES["waivers"], WaiverRow, site_id=site_id, id=waiver_id, limit=1, **values
    )


async def due_waivers(connection: Connection, today: date) -> list[DueWaiverRow]:
    """Return the waivers whose last day is over, held until the transaction ends."""
    return await rows(connection, _QUERIES["due_waivers"], DueWaiverRow, today=today)


async def end_waiver(connection: Connection, waiver_id: int, ended_by: int | None) -> bool:
    """End a waiver; what it covered stands again. False where it was over already."""
    if await run(connection, _QUERIES["end_waiver"], id=waiver_id, ended_by=ended_by) != 1:
        return False
    await run(connection, _QUERIES["unmark"], id=waiver_id)
    return True


async def fixes_of_waiver(
    connection: Connection, waiver_id: int, states: Sequence[str]
) -> list[int]:
    """Return the fixes, in one of some states, that a waiver is about."""
    return await numbers(connection, _QUERIES["waived_fixes"], id=waiver_id, states=list(states))


async def judge(
    connection: Connection, finding_id: int, answer: str, note: str, judged_by: int
) -> int:
    """Keep an answer to a finding, in place of an earlier one; return its number."""
    return await number(
        connection,
        _QUERIES["judge"],
        finding_id=finding_id,
        answer=answer,
        note=note,
        judged_by=judged_by,
    )


async def judgements(
    connection: Connection,
    site_id: int,
    *,
    lapsed: bool | None = None,
    before: int | None = None,
    limit: int = 200,
) -> list[JudgementRow]:
    """Return a site's judgements in force, the newest first."""
    return await rows(
        connection,
        _QUERIES["judgements"],
        JudgementRow,
        site_id=site_id,
        id=None,
        lapsed=lapsed,
        before=before,
        limit=limit,
    )


async def judgement_by_id(
    connection: Connection, site_id: int, judgement_id: int
) -> JudgementRow | None:
    """Return a site's judgement in force, or None."""
    values = {"lapsed": None, "before": None, "limit": 1}
    return await row_or_none(
        connection, _QUERIES["judgements"], JudgementRow, site_id=site_id, id=judgement_id, **values
    )


async def end_judgement(connection: Connection, judgement_id: int) -> bool:
    """Take a judgement back; False where it was over already."""
    ended = await number_or_none(connection, _QUERIES["end_judgement"], id=judgement_id)
    if ended is not None:
        await run(connection, _QUERIES["unanswer"], page_id=ended)
    return ended is not None


async def apply_all(
    connection: Connection,
    sweep: SweepRow,
    *,
    off: Sequence[str],
    left_out_pages: Sequence[str],
    left_out_kinds: Sequence[str],
    holding: Sequence[str],
) -> None:
    """Bring the findings of a sweep, and which of its pages are ready, in line with the waivers and
    judgements in force; the checks that are ``off`` leave theirs out, and so do pages whose path is
    LIKE one of ``left_out_pages``, and those of ``left_out_kinds``."""
    await run(connection, _QUERIES["apply_waivers"], site_id=sweep.site_id, sweep_id=sweep.id)
    await run(connection, _QUERIES["apply_judgements"], sweep_id=sweep.id)
    await words.apply(connection, sweep.site_id, sweep.id)
    left_out = {
        "sweep_id": sweep.id,
        "left_out_pages": list(left_out_pages),
        "left_out_kinds": list(left_out_kinds),
    }
    await run(connection, _QUERIES["settle_standing"], off=list(off), **left_out)
    await run(
        connection,
        _QUERIES["lapse"],
        site_id=sweep.site_id,
        sweep_id=sweep.id,
        environment=sweep.environment,
    )
    await run(connection, _QUERIES["settle_ready"], holding=list(holding), **left_out)


async def mark_mended(
    connection: Connection, sweep_id: int, later: int, tested: Sequence[str]
) -> int:
    """Mark the findings of a sweep that a later one, of some of its pages, no longer shows, or
    shows again; checks that are not ``tested`` say nothing. Return how many changed."""
    return await run(
        connection, _QUERIES["mark_mended"], sweep_id=sweep_id, later=later, tested=list(tested)
    )


async def newest_sweeps(connection: Connection, site_id: int) -> list[int]:
    """Return the newest finished sweep of all pages of each environment."""
    return await numbers(connection, _QUERIES["newest_sweeps"], site_id=site_id)
