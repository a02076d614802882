"""Sweeps, their readings, findings and events."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, LiteralString

from psycopg.types.json import Jsonb

from plumrake.core.decisions import standing
from plumrake.core.inventory import Inventory, PageViews
from plumrake.core.questions.evidence import Shown
from plumrake.core.questions.question import Evidence
from plumrake.records import evidence, reviews
from plumrake.records import readings as reading_records
from plumrake.records.placed import PlacedInItem
from plumrake.records.queries import (
    Connection,
    condition,
    load,
    number,
    number_or_none,
    numbers,
    one,
    row_or_none,
    rows,
    run,
    with_fragment,
)

_QUERIES = with_fragment(load("sweeps"), "sweep_shown")
_MANY_PAGES = 50
_MOST_FINDINGS = 1_000_000
MOST_COUNTED = 10_000


@dataclass(frozen=True, slots=True)
class SweepRow:
    """A sweep as kept, with its counts."""

    id: int
    site_id: int
    site: str
    environment: str
    lens: str
    section: str
    state: str
    problem: str | None
    policy: dict[str, Any]
    asked_by: int | None
    total: int
    created_at: datetime
    started_at: datetime | None
    finished_at: datetime | None
    scope: str
    given_paths: list[str]
    fresh: bool
    ground: str
    batches: int
    next_batch: int
    base_id: int | None
    read: int
    unreadable: int
    ready: int
    unchanged: int
    found: dict[str, int]
    redirects: int
    unlisted: int
    is_whole: bool
    left_out: int
    forgotten_at: datetime | None


@dataclass(frozen=True, slots=True)
class CountedRow:
    """What a sweep of all pages counted, and when it ended."""

    finished_at: datetime
    lens: str
    pages: int
    ready: int
    barriers: int
    obstacles: int
    frictions: int


@dataclass(frozen=True, slots=True)
class CriterionPagesRow:
    """On how many pages something counts against a criterion, by which checks and causes."""

    number: str
    pages: int
    checks: list[str]
    causes: list[str]


@dataclass(frozen=True, slots=True)
class NewSweep:
    """What it takes to start a sweep; ``ground`` stands for all that decides findings beside the
    page itself."""

    site_id: int
    environment: str
    lens: str
    section: str
    policy: dict[str, Any]
    asked_by: int | None
    scope: str
    given_paths: list[str]
    fresh: bool
    ground: str


@dataclass(frozen=True, slots=True)
class DiscoveredPage:
    """A page as discovery found it: by what, from which page it is linked, when its sitemap says it
    changed."""

    path: str
    found_by: str
    linked_from: str | None = None
    changed_on: datetime | None = None


@dataclass(frozen=True, slots=True)
class SweepEventRow:
    """Something that happened in a sweep; the id grows."""

    id: int
    kind: str
    data: dict[str, Any]


@dataclass(frozen=True, slots=True)
class PlannedPageRow:
    """A page that a batch has still to read, its place in the sweep's order, and its newest reading
    on the same ground, if any."""

    id: int
    path: str
    position: int
    changed_on: datetime | None
    known_id: int | None
    known_sweep: int | None
    etag: str | None
    last_modified: str | None
    content_hash: str | None
    resources: dict[str, str] | None
    links: str | None
    checked_at: datetime | None


@dataclass(frozen=True, slots=True)
class NewReading:
    """A reading to keep, with its findings as the fields of ``look --as json`` and its picture.

    ``links`` stands for what the page's links lead to, where they were followed: None, or a digest.
    """

    page_id: int
    position: int
    address: str
    lens: str
    status: str
    problem_code: str | None
    problem_says: str | None
    http_status: int | None
    title: str
    language: str
    kind: str
    content_hash: str | None
    elements: int
    untested: list[dict[str, str]]
    ready: bool
    seconds: float
    findings: Sequence[Mapping[str, Any]]
    picture: bytes | None
    picture_hash: str | None
    etag: str | None = None
    last_modified: str | None = None
    resources: dict[str, str] | None = None
    left_out: int = 0
    inventory: Inventory | None = None
    page_views: PageViews | None = None
    shown: Mapping[Evidence, Shown] | None = None
    links: str | None = None


@dataclass(frozen=True, slots=True)
class CarriedOverRow:
    """What keeping the readings of unchanged pages added: pages, those of them that are ready,
    faults by weight."""

    unchanged: int
    ready: int
    found: dict[str, int]

    def __add__(self, other: CarriedOverRow) -> CarriedOverRow:
        found = Counter(self.found) + Counter(other.found)
        return CarriedOverRow(self.unchanged + other.unchanged, self.ready + other.ready, found)


@dataclass(frozen=True, slots=True)
class ReadingRow(reading_records.ReadingFields):
    """A reading as listed, with how its page was found."""

    found_by: str
    linked_from: str | None
    barriers: int
    obstacles: int
    frictions: int
    left_out_page: bool
    rank: list[int]


@dataclass(frozen=True, slots=True)
class FindingRow(PlacedInItem):
    """A finding as listed; ``ordinal`` is its place in the sweep: by page, then by place on the
    page."""

    id: int
    ordinal: int
    sweep_id: int
    reading_id: int
    page_id: int
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
    zone: str
    cause: str
    block: str
    waiver_id: int | None
    answer: str | None
    standing: str
    rank: int


@dataclass(frozen=True, slots=True)
class FindingInFullRow(FindingRow):
    """A finding with its site, its page's picture and how far its cause reaches in the same
    sweep."""

    site: str
    site_name: str
    environment: str
    picture: str | None
    read_at: datetime
    same_cause_places: int
    same_cause_pages: int
    fix_id: int | None
    fix_state: str | None
    fix_reopened_after: str | None
    fix_owner: str | None


@dataclass(frozen=True, slots=True)
class FindingFilters:
    """Which findings of a sweep are wanted; None lets everything through. ``check`` may be an
    area."""

    check: str | None = None
    weight: str | None = None
    outcome: str | None = None
    path: str | None = None
    cause: str | None = None
    at: str | None = None
    zone: str | None = None
    standing: str | None = None
    words: bool | None = None

    def set_into(self, query: LiteralString) -> tuple[LiteralString, dict[str, Any]]:
        """Return a query with a condition for each filter that is set, so that the plan fits them,
        and the values of these."""
        given = {
            name: value
            for name in FindingFilters.__slots__
            if (value := getattr(self, name)) is not None
        }
        if "check" in given and "/" not in given["check"]:
            given["area"] = given.pop("check")
        conditions = " ".join(f"AND ({condition(_QUERIES[f'if_{name}'])})" for name in given)
        return query.replace("{filters}", conditions), given


@dataclass(frozen=True, slots=True)
class TitleRow:
    """A page's title in a sweep."""

    reading_id: int
    path: str
    title: str


@dataclass(frozen=True, slots=True)
class _State:
    state: str


@dataclass(frozen=True, slots=True)
class _Batch:
    batch: int


async def add_sweep(connection: Connection, new: NewSweep) -> int:
    """Keep a new sweep in state ``queued``; return its number."""
    values = {name: getattr(new, name) for name in NewSweep.__slots__}
    return await number(connection, _QUERIES["add"], **{**values, "policy": Jsonb(new.policy)})


async def sweep_by_id(connection: Connection, sweep_id: int) -> SweepRow | None:
    """Return a sweep, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], SweepRow, id=sweep_id)


async def sweeps_of(
    connection: Connection, site_id: int, *, given: bool, before: int | None, limit: int
) -> list[SweepRow]:
    """Return a site's sweeps, the newest first; those of ``given`` pages only where wanted."""
    return await rows(
        connection,
        _QUERIES["of_site"],
        SweepRow,
        site_id=site_id,
        given=given,
        before=before,
        limit=limit,
    )


async def newest_done(
    connection: Connection, site_id: int, environment: str | None = None, before: int | None = None
) -> int | None:
    """Return the number of the newest finished sweep of the whole site (before another one), or
    None."""
    return await number_or_none(
        connection, _QUERIES["newest_done"], site_id=site_id, environment=environment, before=before
    )


async def counted_over_time(
    connection: Connection, site_id: int, environment: str, limit: int
) -> list[CountedRow]:
    """Return what the last sweeps of all pages of an environment counted, the newest first."""
    values = {"site_id": site_id, "environment": environment, "limit": limit}
    return await rows(connection, _QUERIES["counted_over_time"], CountedRow, **values)


async def pages_by_criterion(connection: Connection, sweep_id: int) -> list[CriterionPagesRow]:
    """Return the criteria that something counts against, with pages, checks and causes."""
    return await rows(
        connection, _QUERIES["pages_by_criterion"], CriterionPagesRow, sweep_id=sweep_id
    )


async def pages_with_barriers(connection: Connection, sweep_id: int) -> int:
    """Return on how many pages something keeps people out."""
    return await number(connection, _QUERIES["pages_with_barriers"], sweep_id=sweep_id)


async def lock_sweep(connection: Connection, sweep_id: int) -> str | None:
    """Hold a sweep against other transactions until this one ends; return its state, None where
    there is no such sweep."""
    found = await row_or_none(connection, _QUERIES["lock"], _State, id=sweep_id)
    return found.state if found is not None else None


async def plan_pages(
    connection: Connection,
    sweep: SweepRow,
    pages: Sequence[DiscoveredPage],
    *,
    batch_size: int,
    lanes: int,
) -> int:
    """Keep which pages the sweep reads and start it; return the number of batches, of which the
    first ``lanes`` are taken."""
    paths = [page.path for page in pages]
    await run(connection, _QUERIES["add_pages"], site_id=sweep.site_id, paths=paths)
    columns = {
        name: [getattr(page, name) for page in pages]
        for name in ("found_by", "linked_from", "changed_on")
    }
    values = {
        "sweep_id": sweep.id,
        "site_id": sweep.site_id,
        "paths": paths,
        "batch_size": batch_size,
        **columns,
    }
    planned = await run(connection, _QUERIES["plan_pages"], **values)
    listed = any(page.found_by == "sitemap" for page in pages)
    unlisted = sum(page.found_by == "crawl" for page in pages) if listed else 0
    batches = -(-len(paths) // batch_size)
    base = await newest_done(connection, sweep.site_id, sweep.environment, sweep.id)
    await run(
        connection,
        _QUERIES["begin"],
        id=sweep.id,
        total=planned,
        batches=batches,
        next_batch=min(lanes, batches),
        base_id=base,
        unlisted=unlisted,
    )
    return batches


async def note_redirect(connection: Connection, sweep_id: int, page_id: int, path: str) -> None:
    """Keep that an address leads to another page of the site, which is read in its place."""
    values = {"sweep_id": sweep_id, "page_id": page_id, "path": path}
    await run(connection, _QUERIES["redirect"], **values)


async def stop_sweep(connection: Connection, sweep_id: int) -> bool:
    """Let a sweep read no further page; False where it was not under way."""
    return await run(connection, _QUERIES["stop"], id=sweep_id) == 1


async def resume_sweep(connection: Connection, sweep_id: int) -> str | None:
    """Let a stopped sweep go on; return its state (``queued`` where it has to be planned first),
    None where it was not stopped."""
    found = await row_or_none(connection, _QUERIES["resume"], _State, id=sweep_id)
    return found.state if found is not None else None


async def take_batch(connection: Connection, sweep_id: int, count: int = 1) -> int | None:
    """Take the next batch of a running sweep with the ``count`` - 1 after it; return its number,
    None where there is no further one."""
    found = await row_or_none(connection, _QUERIES["take_batch"], _Batch, id=sweep_id, count=count)
    return found.batch if found is not None else None


async def unfinished(connection: Connection) -> list[int]:
    """Return the running sweeps that nobody works on any more."""
    return await numbers(connection, _QUERIES["unfinished"])


async def know(connection: Connection, sweep: SweepRow) -> None:
    """Have PostgreSQL count what a sweep of many pages has, so that it is joined for what it is."""
    if sweep.total >= _MANY_PAGES:
        await run(connection, _QUERIES["know"], sweep_id=sweep.id)


async def rewind(connection: Connection, sweep_id: int) -> None:
    """Let the batches of a sweep be taken from the first again; those that are read are passed
    over."""
    await run(connection, _QUERIES["rewind"], id=sweep_id)


async def count_batch(
    connection: Connection,
    sweep: SweepRow,
    *,
    read: int,
    unreadable: int,
    ready: int,
    unchanged: int,
    found: Mapping[str, int],
) -> None:
    """Add a batch to the counts of its sweep, which the caller holds."""
    counts = {"read": read, "unreadable": unreadable, "ready": ready, "unchanged": unchanged}
    await run(connection, _QUERIES["count_batch"], id=sweep.id, found=Jsonb(dict(found)), **counts)


async def count_ready(connection: Connection, sweep_id: int) -> None:
    """Count the ready pages again."""
    await run(connection, _QUERIES["count_ready"], id=sweep_id)


async def fail_sweep(connection: Connection, sweep_id: int, problem: str) -> None:
    """Keep that a sweep cannot go on, and why."""
    await run(connection, _QUERIES["fail"], id=sweep_id, problem=problem)


async def finish_if_complete(connection: Connection, sweep_id: int) -> bool:
    """Mark the sweep as done where every planned page has its reading; tell whether it is."""
    return await run(connection, _QUERIES["finish"], id=sweep_id) == 1


async def unread_of_batches(
    connection: Connection, sweep: SweepRow, first: int, count: int = 1
) -> list[PlannedPageRow]:
    """Return the pages of ``count`` batches that have no reading yet.

    What the sweep before read, or a later one, is looked for first; further back only where a page
    has nothing there, since that asks about every partition.
    """
    values = {
        "sweep_id": sweep.id,
        "first": first,
        "count": count,
        "environment": sweep.environment,
        "ground": sweep.ground,
        "fresh": sweep.fresh,
    }
    query, since = _QUERIES["unread_of_batches"], sweep.base_id or 0
    found = await rows(connection, query, PlannedPageRow, **values, since=since)
    if sweep.fresh or not since or all(page.known_id is not None for page in found):
        return found
    return await rows(connection, query, PlannedPageRow, **values, since=0)


async def keep_readings(
    connection: Connection, sweep_id: int, pages: Sequence[PlannedPageRow], site_wide: Sequence[str]
) -> CarriedOverRow:
    """Keep the known readings of unchanged pages with their findings, less those of the
    ``site_wide`` checks."""
    kept = CarriedOverRow(0, 0, {})
    for known_sweep in sorted({page.known_sweep for page in pages if page.known_sweep is not None}):
        of_it = [page for page in pages if page.known_sweep == known_sweep]
        kept += await one(
            connection,
            _QUERIES["keep_readings"],
            CarriedOverRow,
            sweep_id=sweep_id,
            known_sweep=known_sweep,
            page_ids=[page.id for page in of_it],
            known_ids=[page.known_id for page in of_it],
            positions=[page.position for page in of_it],
            most=_MOST_FINDINGS,
            site_wide=list(site_wide),
        )
    return kept


async def add_reading(connection: Connection, sweep_id: int, new: NewReading) -> bool:
    """Keep a reading with its findings; False where the page has one in this sweep already."""
    if new.picture is not None and new.picture_hash is not None:
        await evidence.keep(connection, new.picture_hash, "image/jpeg", new.picture)
    if new.inventory is not None:
        parts = {name: Jsonb(getattr(new.inventory, name)) for name in Inventory.__slots__}
        await run(connection, _QUERIES["keep_inventory"], hash=new.inventory.hash, **parts)
    apart = (
        "position",
        "findings",
        "picture",
        "picture_hash",
        "untested",
        "resources",
        "inventory",
        "page_views",
        "shown",
    )
    values = {name: getattr(new, name) for name in NewReading.__slots__ if name not in apart}
    values |= {"sweep_id": sweep_id, "untested": Jsonb(new.untested), "picture": new.picture_hash}
    values |= {
        "resources": Jsonb(new.resources),
        "inventory": new.inventory.hash if new.inventory is not None else None,
    }
    values["page_views"] = (
        await reading_records.store_page_views(connection, new.page_views)
        if new.page_views is not None
        else None
    )
    values["shown"] = (
        await reviews.store_shown(connection, new.shown) if new.shown is not None else None
    )
    kept = await number_or_none(connection, _QUERIES["add_reading"], **values)
    if kept is None:
        return False
    first = new.position * _MOST_FINDINGS
    places = range(first, first + len(new.findings))
    await _add_findings(connection, sweep_id, kept, new.findings, places)
    return True


async def waiting_with(
    connection: Connection, site_id: int, environment: str, lens: str, paths: Sequence[str]
) -> int | None:
    """Return a sweep of given pages that has not begun and will read all of these, or None."""
    return await number_or_none(
        connection,
        _QUERIES["waiting_with"],
        site_id=site_id,
        environment=environment,
        lens=lens,
        paths=list(paths),
    )


async def titles(connection: Connection, sweep_id: int) -> list[TitleRow]:
    """Return the titles of the pages that a sweep has read, in the order of the pages."""
    return await rows(connection, _QUERIES["titles"], TitleRow, sweep_id=sweep_id)


async def add_site_findings(
    connection: Connection,
    sweep_id: int,
    reading_id: int,
    found: Sequence[Mapping[str, Any]],
    *,
    held: bool,
) -> None:
    """Add findings of site-wide checks to a reading, after its own; where they hold, the page is
    not ready."""
    await _add_findings(connection, sweep_id, reading_id, found, [None] * len(found))
    if held:
        await run(connection, _QUERIES["not_ready"], id=reading_id)


async def _add_findings(
    connection: Connection,
    sweep_id: int,
    reading_id: int,
    found: Sequence[Mapping[str, Any]],
    ordinals: Sequence[int | None],
) -> None:
    """Add findings to a reading, each in its place; without one after those that are there."""
    values = [
        {
            "block": "",
            **one_finding,
            "sweep_id": sweep_id,
            "reading_id": reading_id,
            "ordinal": ordinal,
            "most": _MOST_FINDINGS,
            "facts": Jsonb(one_finding["facts"]),
            "mends": Jsonb(one_finding["mends"]),
            "standing": standing(one_finding["outcome"]).value,
        }
        for one_finding, ordinal in zip(found, ordinals, strict=True)
    ]
    async with connection.cursor() as cursor:
        await cursor.executemany(_QUERIES["add_finding"], values)


async def add_event(connection: Connection, sweep_id: int, kind: str, data: dict[str, Any]) -> None:
    """Keep something that happened in a sweep."""
    await run(connection, _QUERIES["add_event"], sweep_id=sweep_id, kind=kind, data=Jsonb(data))


async def events_after(connection: Connection, sweep_id: int, after: int) -> list[SweepEventRow]:
    """Return what happened in a sweep since an event."""
    return await rows(
        connection, _QUERIES["events_after"], SweepEventRow, sweep_id=sweep_id, after=after
    )


async def readings(
    connection: Connection,
    sweep_id: int,
    *,
    sort: str,
    after: tuple[list[int], str] | None,
    limit: int,
    status: str | None = None,
    ready: bool | None = None,
    path: str | None = None,
) -> list[ReadingRow]:
    """Return a sweep's readings by ``path``, or by ``weight`` of what counts on them, those after
    one's rank and path."""
    rank, last = after if after is not None else ([], "")
    values = {
        "sweep_id": sweep_id,
        "by_weight": sort == "weight",
        "after_rank": rank,
        "after": last,
        "limit": limit,
        "status": status,
        "ready": ready,
        "path": path,
    }
    return await rows(connection, _QUERIES["readings"], ReadingRow, **values)


async def findings(
    connection: Connection,
    sweep_id: int,
    filters: FindingFilters,
    *,
    sort: str,
    after: tuple[int, int] | None,
    limit: int,
) -> list[FindingRow]:
    """Return a sweep's findings that the filters let through, by ``weight`` or by ``page``, those
    after one's rank and ordinal."""
    rank, ordinal = after or (0, 0)
    wanted = _QUERIES["findings_by_weight"] if sort == "weight" else _QUERIES["findings"]
    query, values = filters.set_into(wanted)
    values |= {"after_rank": rank, "after": ordinal, "limit": limit}
    return await rows(connection, query, FindingRow, sweep_id=sweep_id, **values)


async def count_findings(connection: Connection, sweep_id: int, filters: FindingFilters) -> int:
    """Return how many findings the filters let through, at most ``MOST_COUNTED``."""
    query, values = filters.set_into(_QUERIES["count_findings"])
    return await number(connection, query, sweep_id=sweep_id, most=MOST_COUNTED, **values)


async def finding_by_id(connection: Connection, finding_id: int) -> FindingInFullRow | None:
    """Return one finding in full, or None."""
    return await row_or_none(connection, _QUERIES["finding"], FindingInFullRow, id=finding_id)
