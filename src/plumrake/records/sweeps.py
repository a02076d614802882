"""Sweeps, their readings, findings, events and evidence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import Connection, load, one, row_or_none, rows, run

_QUERIES = load("sweeps")
_MOST_FINDINGS = 1_000_000


@dataclass(frozen=True, slots=True)
class Sweep:
    """A sweep as kept, with its counts."""

    id: int
    site_id: int
    site: str
    edition: str
    lens: str
    section: str
    state: str
    problem: str | None
    policy: dict[str, Any]
    total: int
    created_at: datetime
    started_at: datetime | None
    finished_at: datetime | None
    read: int
    unreadable: int
    ready: int


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened in a sweep; the id grows."""

    id: int
    kind: str
    data: dict[str, Any]


@dataclass(frozen=True, slots=True)
class PlannedPage:
    """A page that a batch has still to read, and its place in the sweep's order."""

    id: int
    path: str
    position: int


@dataclass(frozen=True, slots=True)
class NewReading:
    """A reading to keep, with its findings as the fields of ``look --as json`` and its picture."""

    page_id: int
    position: int
    address: str
    lens: str
    status: str
    problem_code: str | None
    problem_says: str | None
    title: str
    language: str
    content_hash: str | None
    elements: int
    untested: list[dict[str, str]]
    ready: bool
    seconds: float
    findings: Sequence[Mapping[str, Any]]
    picture: bytes | None
    picture_hash: str | None


@dataclass(frozen=True, slots=True)
class ReadingRow:
    """A reading as listed."""

    id: int
    page_id: int
    path: str
    address: str
    lens: str
    status: str
    problem_code: str | None
    problem_says: str | None
    title: str
    language: str
    content_hash: str | None
    ready: bool
    picture: str | None
    seconds: float
    read_at: datetime
    untested: list[dict[str, str]]
    failed: int


@dataclass(frozen=True, slots=True)
class FindingRow:
    """A finding as listed; ``ordinal`` is its place in the sweep: by page, then by place on the page."""

    id: int
    ordinal: int
    sweep_id: int
    reading_id: int
    path: str
    address: str
    title: str
    check: str
    outcome: str
    weight: str
    criteria: list[str]
    says: str
    question: str | None
    selector: str
    line: int | None
    column: int | None
    box: list[int] | None
    visible: bool
    nearest_visible: str | None
    nearest_box: list[int] | None
    excerpt: str
    facts: dict[str, Any]
    mends: list[dict[str, str]]
    place_key: str
    cause_key: str


@dataclass(frozen=True, slots=True)
class FindingInFull(FindingRow):
    """A finding with its site, its page's picture and how far its cause reaches in the same sweep."""

    site: str
    site_name: str
    edition: str
    picture: str | None
    read_at: datetime
    same_cause_places: int
    same_cause_pages: int


@dataclass(frozen=True, slots=True)
class Filters:
    """Which findings of a sweep are wanted; None lets everything through. ``check`` may be an area."""

    check: str | None = None
    weight: str | None = None
    outcome: str | None = None
    path: str | None = None
    cause_key: str | None = None

    def as_values(self) -> dict[str, str | None]:
        """Return the query's values."""
        return {name: getattr(self, name) for name in Filters.__slots__}


@dataclass(frozen=True, slots=True)
class Evidence:
    """A piece of evidence by the hash of its content."""

    hash: str
    media_type: str
    content: bytes


@dataclass(frozen=True, slots=True)
class TitleRow:
    """A page's title in a sweep."""

    reading_id: int
    path: str
    title: str


@dataclass(frozen=True, slots=True)
class _Id:
    id: int


@dataclass(frozen=True, slots=True)
class _Count:
    count: int


@dataclass(frozen=True, slots=True)
class _State:
    state: str


async def add_sweep(
    connection: Connection, *, site_id: int, edition: str, lens: str, section: str, policy: dict[str, Any], asked_by: int | None
) -> int:
    """Keep a new sweep in state ``queued``; return its number."""
    values = {"site_id": site_id, "edition": edition, "lens": lens, "section": section, "policy": Jsonb(policy), "asked_by": asked_by}
    return (await one(connection, _QUERIES["add"], _Id, **values)).id


async def sweep_by_id(connection: Connection, sweep_id: int) -> Sweep | None:
    """Return a sweep, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], Sweep, id=sweep_id)


async def sweeps_of(connection: Connection, site_id: int, *, before: int | None, limit: int) -> list[Sweep]:
    """Return a site's sweeps, the newest first."""
    return await rows(connection, _QUERIES["of_site"], Sweep, site_id=site_id, before=before, limit=limit)


async def newest_done(connection: Connection, site_id: int, edition: str | None = None) -> int | None:
    """Return the number of the newest finished sweep, or None."""
    found = await row_or_none(connection, _QUERIES["newest_done"], _Id, site_id=site_id, edition=edition)
    return found.id if found is not None else None


async def lock_sweep(connection: Connection, sweep_id: int) -> str | None:
    """Hold a sweep against other transactions until this one ends; return its state, None where there is no such sweep."""
    found = await row_or_none(connection, _QUERIES["lock"], _State, id=sweep_id)
    return found.state if found is not None else None


async def plan_pages(connection: Connection, sweep: Sweep, paths: Sequence[str], batch_size: int) -> int:
    """Keep which pages the sweep reads and start it; return the number of batches."""
    await run(connection, _QUERIES["add_pages"], site_id=sweep.site_id, paths=list(paths))
    values = {"sweep_id": sweep.id, "site_id": sweep.site_id, "paths": list(paths), "batch_size": batch_size}
    planned = await run(connection, _QUERIES["plan_pages"], **values)
    await run(connection, _QUERIES["begin"], id=sweep.id, total=planned)
    return -(-len(paths) // batch_size)


async def fail_sweep(connection: Connection, sweep_id: int, problem: str) -> None:
    """Keep that a sweep cannot go on, and why."""
    await run(connection, _QUERIES["fail"], id=sweep_id, problem=problem)


async def finish_if_complete(connection: Connection, sweep_id: int) -> bool:
    """Mark the sweep as done where every planned page has its reading; tell whether it is."""
    return await run(connection, _QUERIES["finish"], id=sweep_id) == 1


async def unread_of_batch(connection: Connection, sweep_id: int, batch: int) -> list[PlannedPage]:
    """Return the pages of a batch that have no reading yet."""
    return await rows(connection, _QUERIES["unread_of_batch"], PlannedPage, sweep_id=sweep_id, batch=batch)


async def add_reading(connection: Connection, sweep_id: int, new: NewReading) -> bool:
    """Keep a reading with its findings; False where the page has one in this sweep already."""
    if new.picture is not None:
        evidence = {"hash": new.picture_hash, "media_type": "image/jpeg", "content": new.picture}
        await run(connection, _QUERIES["keep_evidence"], **evidence)
    left_out = ("position", "findings", "picture", "picture_hash", "untested")
    values = {name: getattr(new, name) for name in NewReading.__slots__ if name not in left_out}
    values |= {"sweep_id": sweep_id, "untested": Jsonb(new.untested), "picture": new.picture_hash}
    kept = await row_or_none(connection, _QUERIES["add_reading"], _Id, **values)
    if kept is None:
        return False
    first = new.position * _MOST_FINDINGS
    common = {"reading_id": kept.id, "sweep_id": sweep_id, "page_id": new.page_id}
    async with connection.cursor() as cursor:
        await cursor.executemany(
            _QUERIES["add_finding"], [_finding_values(first + at, found) | common for at, found in enumerate(new.findings)]
        )
    return True


async def titles(connection: Connection, sweep_id: int) -> list[TitleRow]:
    """Return the titles of the pages that a sweep has read, in the order of the pages."""
    return await rows(connection, _QUERIES["titles"], TitleRow, sweep_id=sweep_id)


async def add_site_findings(connection: Connection, reading_id: int, found: Sequence[Mapping[str, Any]], *, held: bool) -> None:
    """Add findings of site-wide checks to a reading, after its own; where they hold, the page is not ready."""
    for one_finding in found:
        values = _finding_values(0, one_finding) | {"reading_id": reading_id, "most": _MOST_FINDINGS}
        await run(connection, _QUERIES["add_site_finding"], **values)
    if held:
        await run(connection, _QUERIES["not_ready"], id=reading_id)


def _finding_values(ordinal: int, found: Mapping[str, Any]) -> dict[str, Any]:
    return {**found, "ordinal": ordinal, "facts": Jsonb(found["facts"]), "mends": Jsonb(found["mends"])}


async def add_event(connection: Connection, sweep_id: int, kind: str, data: dict[str, Any]) -> None:
    """Keep something that happened in a sweep."""
    await run(connection, _QUERIES["add_event"], sweep_id=sweep_id, kind=kind, data=Jsonb(data))


async def events_after(connection: Connection, sweep_id: int, after: int) -> list[Event]:
    """Return what happened in a sweep since an event."""
    return await rows(connection, _QUERIES["events_after"], Event, sweep_id=sweep_id, after=after)


async def readings(
    connection: Connection, sweep_id: int, *, after: str, limit: int, status: str | None = None, ready: bool | None = None
) -> list[ReadingRow]:
    """Return a sweep's readings by path, those after a path."""
    values = {"sweep_id": sweep_id, "after": after, "limit": limit, "status": status, "ready": ready}
    return await rows(connection, _QUERIES["readings"], ReadingRow, **values)


async def findings(connection: Connection, sweep_id: int, filters: Filters, *, after: int, limit: int) -> list[FindingRow]:
    """Return a sweep's findings that the filters let through, those after an ordinal."""
    return await rows(connection, _QUERIES["findings"], FindingRow, sweep_id=sweep_id, after=after, limit=limit, **filters.as_values())


async def count_findings(connection: Connection, sweep_id: int, filters: Filters) -> int:
    """Return how many findings the filters let through."""
    return (await one(connection, _QUERIES["count_findings"], _Count, sweep_id=sweep_id, **filters.as_values())).count


async def finding_by_id(connection: Connection, finding_id: int) -> FindingInFull | None:
    """Return one finding in full, or None."""
    return await row_or_none(connection, _QUERIES["finding"], FindingInFull, id=finding_id)


async def evidence_by_hash(connection: Connection, content_hash: str) -> Evidence | None:
    """Return a piece of evidence, or None."""
    return await row_or_none(connection, _QUERIES["evidence"], Evidence, hash=content_hash)
