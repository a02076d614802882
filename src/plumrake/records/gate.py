"""Clearances and releases: what was asked of the gate, what it answered, who overruled, and what
was published on it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.core.gate import LiveFinding, WaiverInForce
from plumrake.records.queries import (
    Connection,
    load,
    number,
    number_or_none,
    one,
    row_or_none,
    rows,
    run,
)

_QUERIES = load("gate")


@dataclass(frozen=True, slots=True)
class NewClearance:
    """What it takes to ask: which page, in what given_as, through which lens; ``content`` where the
    HTML was given."""

    site_id: int
    path: str
    given_as: str
    address: str
    lens: str
    asked_by: int
    content: bytes | None = None
    content_hash: str | None = None
    frame: str | None = None
    slot: str | None = None
    release_id: int | None = None
    version: str | None = None
    item: str | None = None
    asked_for: str | None = None
    asked_for_id: int | None = None
    is_ahead: bool = False


@dataclass(frozen=True, slots=True)
class ClearanceRow:
    """A clearance as kept; ``judged`` are findings with ``origin``, ``standing`` and ``waiver``."""

    id: int
    site_id: int
    site: str
    site_name: str
    release_id: int | None
    path: str
    given_as: str
    address: str
    lens: str
    frame: str | None
    slot: str | None
    content_hash: str | None
    state: str
    decision: str | None
    reason: str
    title: str
    problem_code: str | None
    judged: list[dict[str, Any]]
    live_count: int
    untested: list[dict[str, str]]
    picture: str | None
    seconds: float | None
    asked_by_id: int
    asked_by: str
    asked_at: datetime
    answered_at: datetime | None
    valid_until: datetime | None
    overruled_by: str | None
    overruled_at: datetime | None
    overruled_why: str | None
    used_at: datetime | None
    version: str | None
    item: str | None
    asked_for: str | None
    asked_for_id: int | None
    is_ahead: bool
    policy_version: str
    core_version: str


@dataclass(frozen=True, slots=True)
class _Waiting:
    own: int
    every: int


@dataclass(frozen=True, slots=True)
class NewAnswer:
    """The answer to keep; it is good for ``minutes``."""

    decision: str
    reason: str
    title: str
    problem_code: str | None
    judged: Sequence[dict[str, Any]]
    live_count: int
    untested: Sequence[dict[str, str]]
    picture: str | None
    seconds: float
    content_hash: str | None
    minutes: int
    policy_version: str
    core_version: str


@dataclass(frozen=True, slots=True)
class ReleaseRow:
    """A release."""

    id: int
    site_id: int
    site: str
    name: str
    asked_by: str
    asked_at: datetime
    answered_at: datetime | None


@dataclass(frozen=True, slots=True)
class LiveReadingRow:
    """A reading of a live page, with the hash of its content and the fingerprints of what it drew
    in."""

    id: int
    content_hash: str | None
    resources: dict[str, str] | None


@dataclass(frozen=True, slots=True)
class _Content:
    content: bytes | None


@dataclass(frozen=True, slots=True)
class _Key:
    key: str


@dataclass(frozen=True, slots=True)
class _Secret:
    secret: bytes


async def add_clearance(connection: Connection, new: NewClearance) -> int:
    """Keep what is asked; return its number."""
    return await number(
        connection, _QUERIES["add"], **{name: getattr(new, name) for name in NewClearance.__slots__}
    )


async def known_clearance(
    connection: Connection, site_id: int, item: str, version: str, lens: str
) -> int | None:
    """Return the newest clearance of a version of an item that need not be read again, or None."""
    return await number_or_none(
        connection, _QUERIES["known"], site_id=site_id, item=item, version=version, lens=lens
    )


async def take_over(
    connection: Connection,
    clearance_id: int,
    asked_by: int,
    asked_for: str | None,
    asked_for_id: int | None,
) -> None:
    """Let a clearance that was read ahead be one that somebody asked for."""
    await run(
        connection,
        _QUERIES["take_over"],
        id=clearance_id,
        asked_by=asked_by,
        asked_for=asked_for,
        asked_for_id=asked_for_id,
    )


async def count_waiting(
    connection: Connection, asked_by: int, asked_for: str | None, *, is_ahead: bool
) -> tuple[int, int]:
    """Return how many contents wait for their answer by themselves, or to be read ahead: of one
    asker, and of all."""
    found = await one(
        connection,
        _QUERIES["count_waiting"],
        _Waiting,
        asked_by=asked_by,
        asked_for=asked_for,
        is_ahead=is_ahead,
    )
    return found.own, found.every


async def clearance_by_id(connection: Connection, clearance_id: int) -> ClearanceRow | None:
    """Return a clearance, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], ClearanceRow, id=clearance_id)


async def content_of(connection: Connection, clearance_id: int) -> bytes | None:
    """Return the content that a clearance waits with, if it was given."""
    found = await row_or_none(connection, _QUERIES["content"], _Content, id=clearance_id)
    return bytes(found.content) if found is not None and found.content is not None else None


async def keep_answer(connection: Connection, clearance_id: int, answer: NewAnswer) -> bool:
    """Keep the answer to a clearance that waits; False where it was answered already."""
    values = {name: getattr(answer, name) for name in NewAnswer.__slots__}
    values |= {"judged": Jsonb(list(answer.judged)), "untested": Jsonb(list(answer.untested))}
    return await run(connection, _QUERIES["answer"], id=clearance_id, **values) == 1


async def overrule(connection: Connection, clearance_id: int, person_id: int, why: str) -> bool:
    """Overrule a held clearance; False where it does not hold, or was overruled already."""
    return (
        await run(connection, _QUERIES["overrule"], id=clearance_id, person_id=person_id, why=why)
        == 1
    )


async def use(connection: Connection, clearance_id: int) -> bool:
    """Use a clearance that is good; False where it is not, or was used."""
    return await run(connection, _QUERIES["use"], id=clearance_id) == 1


async def clearances(
    connection: Connection,
    site_id: int,
    *,
    before: int | None,
    limit: int,
    decision: str | None = None,
    path: str | None = None,
    release_id: int | None = None,
    overruled: bool | None = None,
) -> list[ClearanceRow]:
    """Return a site's clearances, the newest first."""
    values = {
        "before": before,
        "limit": limit,
        "decision": decision,
        "path": path,
        "release_id": release_id,
        "overruled": overruled,
    }
    return await rows(connection, _QUERIES["of_site"], ClearanceRow, site_id=site_id, **values)


async def clearances_since(connection: Connection, site_id: int, days: int) -> list[ClearanceRow]:
    """Return the answered clearances of the last days."""
    return await rows(connection, _QUERIES["since"], ClearanceRow, site_id=site_id, days=days)


async def add_release(connection: Connection, site_id: int, name: str, asked_by: int) -> int:
    """Keep a new release; return its number."""
    return await number(
        connection, _QUERIES["add_release"], site_id=site_id, name=name, asked_by=asked_by
    )


async def release_by_id(connection: Connection, release_id: int) -> ReleaseRow | None:
    """Return a release, or None."""
    return await row_or_none(connection, _QUERIES["release"], ReleaseRow, id=release_id)


async def end_release(connection: Connection, release_id: int) -> bool:
    """Mark a release as answered where no page of it waits; tell whether it just was. Of several
    who answer its last pages at the same time, one is told so."""
    await number(connection, _QUERIES["lock_release"], id=release_id)
    return await run(connection, _QUERIES["end_release"], id=release_id) == 1


async def of_release(connection: Connection, release_id: int) -> list[ClearanceRow]:
    """Return the clearances of a release by path."""
    return await rows(connection, _QUERIES["of_release"], ClearanceRow, id=release_id)


async def template_causes(connection: Connection, site_id: int) -> frozenset[str]:
    """Return the keys of the causes that the live site's templates print."""
    found = await rows(connection, _QUERIES["template_causes"], _Key, site_id=site_id)
    return frozenset(one.key for one in found)


async def live_reading(
    connection: Connection, site_id: int, path: str, ground: str
) -> LiveReadingRow | None:
    """Return the newest reading of a live page on the same ground, or None."""
    return await row_or_none(
        connection,
        _QUERIES["live_reading"],
        LiveReadingRow,
        site_id=site_id,
        path=path,
        ground=ground,
    )


async def live_findings(connection: Connection, reading_id: int) -> list[LiveFinding]:
    """Return what was found in a reading."""
    return await rows(connection, _QUERIES["live_findings"], LiveFinding, reading_id=reading_id)


async def answers_at(connection: Connection, site_id: int, path: str) -> list[LiveFinding]:
    """Return what people answered at a page."""
    return await rows(connection, _QUERIES["answers"], LiveFinding, site_id=site_id, path=path)


async def waivers_in_force(connection: Connection, site_id: int) -> list[WaiverInForce]:
    """Return a site's waivers in force."""
    return await rows(connection, _QUERIES["waivers"], WaiverInForce, site_id=site_id)


async def secret(connection: Connection, name: str, fresh: bytes) -> bytes:
    """Return the service's own key of a name; ``fresh`` becomes it where there is none."""
    return bytes(
        (await one(connection, _QUERIES["secret"], _Secret, name=name, fresh=fresh)).secret
    )
