"""Sweeps from the asking to the last reading: start, stop, resume, read a batch. Each step may be
repeated without harm."""

from __future__ import annotations

import asyncio
import time
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any

from plumrake.actions.archives import archive_of, origin_of_archive
from plumrake.actions.planning import set_rate_limits
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.reading import (
    PageResult,
    Read,
    browsers_checks,
    read_and_assess,
    state_at,
    tried_checks,
)
from plumrake.actions.reading_by_source import read_by_source_first
from plumrake.actions.site_sources import SourceSettings, reading_headers
from plumrake.actions.sites import ground_of, origin_of_environment, private_origins, with_own_words
from plumrake.actions.swept_links import SweptLinks
from plumrake.actions.swept_patterns import NewlyTried, SweptPatterns, keep_tried
from plumrake.actions.swept_sources import SweptSources
from plumrake.core.assess import Assessment, checks_asked
from plumrake.core.content_hash import hash_of
from plumrake.core.decisions import finding_holds
from plumrake.core.findings import Finding, Outcome, as_dict
from plumrake.core.journeys import is_state
from plumrake.core.policy import Policy, policy_from
from plumrake.core.registry import catalogue
from plumrake.discovery.addresses import page_path
from plumrake.lenses.archives import Archive
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader, SweepCache, leads_to_sign_in
from plumrake.net.fetch import Fetched, KnownCopy
from plumrake.net.problems import Problem, Unreadable
from plumrake.records import connections, sites, sweeps
from plumrake.records.handed_over import HandedOverRow, add_handed_over, handed_over_of
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import NewReading, PlannedPageRow, SweepRow

_SECONDS_OF_A_TURN = 3.0
_MOST_TOGETHER, _SECONDS_TOGETHER = 8, 0.5
"""So many batches are read and kept together where those before were unchanged and done so soon."""
_PICTURES_OF_EACH = 3
"""A page is pictured when it shows something that was pictured less often than this; the same
template's fault need not be."""
_PICTURES_OF_A_CHECK = 30
"""So many pages of a sweep are pictured for one check's sake. What was not pictured is drawn when
somebody wants to see it (``drawing.py``)."""
_PICTURES_OF_SOURCES = 3
"""So many pages are read in the browser for one check's sake though their sources would do: that
there is a picture of what was found."""
_OF_WORDS = ("text/", "links/")
"""Doubts of these areas are about words, and are judged without a picture."""


class NotUnderWay(ValueError):
    """The sweep is in no state for what was asked."""

    code = "not-under-way"


@dataclass(frozen=True, slots=True)
class SweepRequest:
    """What a sweep is asked to read: an environment, through a lens, all of it, a section, what
    changed, or given paths.

    ``fresh`` reads unchanged pages too; ``scope`` is ``all``, ``changed`` (pages that their sitemap
    says are unchanged are not asked for) or ``given``.
    """

    environment: str = "live"
    lens: str = "rendered"
    section: str = "/"
    scope: str = "all"
    paths: tuple[str, ...] = ()
    fresh: bool = False
    handed_over: tuple[HandedOverRow, ...] = ()


async def start_sweep(
    connection: Connection,
    site: SiteRow,
    enqueue: Enqueue,
    asked: SweepRequest,
    asked_by: int | None,
) -> int:
    """Keep a new sweep and its first job together; return the sweep's number. Raises
    ``NoEnvironment``."""
    origin_of_environment(site, asked.environment)
    if policy_from(site.policy).reading == "markup":
        asked = replace(asked, lens="markup")
    async with connection.transaction():
        new = sweeps.NewSweep(
            site_id=site.id,
            environment=asked.environment,
            lens=asked.lens,
            section=asked.section,
            policy=site.policy,
            asked_by=asked_by,
            scope=asked.scope,
            given_paths=list(asked.paths),
            fresh=asked.fresh,
            ground=ground_of(site, asked.lens),
        )
        sweep_id = await sweeps.add_sweep(connection, new)
        for page in asked.handed_over:
            await add_handed_over(connection, sweep_id, page)
        await sweeps.add_event(connection, sweep_id, "queued", {})
        await enqueue(connection, "plan_sweep", {"sweep_id": sweep_id})
    return sweep_id


async def stop_sweep(connection: Connection, sweep_id: int) -> None:
    """Let a sweep read no further page; what was read stays. Raises ``NotUnderWay``."""
    async with connection.transaction():
        if not await sweeps.stop_sweep(connection, sweep_id):
            raise NotUnderWay(f"sweep {sweep_id} is not under way, so it cannot be stopped")
        await _tell(connection, sweep_id, "stopped")


async def resume_sweep(
    connection: Connection, enqueue: Enqueue, site: SiteRow, sweep_id: int
) -> None:
    """Let a stopped sweep read the rest of its pages. Raises ``NotUnderWay``."""
    async with connection.transaction():
        state = await sweeps.resume_sweep(connection, sweep_id)
        if state is None:
            raise NotUnderWay(f"sweep {sweep_id} was not stopped, so it cannot go on")
        await _tell(connection, sweep_id, "progress")
        if state == "queued":
            await enqueue(connection, "plan_sweep", {"sweep_id": sweep_id})
        else:
            await _open_lanes(connection, enqueue, sweep_id, site.parallel)


async def take_up_unfinished(connect: Connect, enqueue: Enqueue) -> None:
    """Go on with running sweeps that nobody works on any more: their last job was lost or given
    up."""
    async with connect() as connection, connection.transaction():
        for sweep_id in await sweeps.unfinished(connection):
            if await sweeps.lock_sweep(connection, sweep_id) == "running":
                await sweeps.rewind(connection, sweep_id)
                await _open_lanes(connection, enqueue, sweep_id, 1)


async def _open_lanes(connection: Connection, enqueue: Enqueue, sweep_id: int, lanes: int) -> None:
    """Put up to so many of a sweep's batches into the queue; each, when done, is followed by the
    next. None left: finish it."""
    for lane in range(lanes):
        batch = await sweeps.take_batch(connection, sweep_id)
        if batch is None:
            if lane == 0:
                await enqueue(connection, "finish_sweep", {"sweep_id": sweep_id})
            return
        await enqueue(connection, "read_batch", {"sweep_id": sweep_id, "batch": batch})


def policy_of(sweep: SweepRow) -> Policy:
    """Return the policy that a sweep was started with."""
    return policy_from(sweep.policy)


def checks_made(sweep: SweepRow) -> list[str]:
    """Return the checks that a sweep was to make on each page, by its policy."""
    return [check.id for check in checks_asked(policy_of(sweep))]


async def read_batch(
    connect: Connect,
    enqueue: Enqueue,
    reader_for: ReaderFor,
    sweep_id: int,
    batch: int,
    sources: SourceSettings | None = None,
) -> None:
    """Read the pages of a batch that have no reading yet and keep them in one transaction.

    Batches that are done at once, as those of unchanged pages are, are followed by the next ones
    without a way through the queue; after a few seconds the next one is put into the queue, so that
    other sites get their turn.
    """
    end = time.monotonic() + _SECONDS_OF_A_TURN
    following: _Portion | None = _Portion(batch)
    headers = await _headers(connect, sweep_id, sources or SourceSettings())
    while following is not None:
        following = await _read_one(connect, enqueue, reader_for, sweep_id, following, end, headers)


@dataclass(frozen=True, slots=True)
class _Portion:
    """So many batches, from the ``first`` on, that are read and kept together."""

    first: int
    count: int = 1


def _next_count(
    portion: _Portion, results: Sequence[NewReading | PlannedPageRow | Redirect], seconds: float
) -> int:
    """Return how many batches are to follow together: more and more while pages are unchanged."""
    is_unchanged = all(isinstance(one, PlannedPageRow) for one in results)
    if not is_unchanged or seconds > _SECONDS_TOGETHER:
        return 1
    return min(2 * portion.count, _MOST_TOGETHER)


async def _headers(connect: Connect, sweep_id: int, sources: SourceSettings) -> dict[str, str]:
    """Return the headers that a sweep's pages are asked for with."""
    async with connect() as connection:
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        if sweep is None:
            return {}
        site = await sites.site_by_id(connection, sweep.site_id)
        row = await connections.connection_of(connection, site.id, sweep.environment)
    return await reading_headers(site, sweep.environment, row, sources)


async def _read_one(
    connect: Connect,
    enqueue: Enqueue,
    reader_for: ReaderFor,
    sweep_id: int,
    portion: _Portion,
    end: float,
    headers: Mapping[str, str],
) -> _Portion | None:
    """Read a portion; return the one that is to follow at once, None where the turn is over."""
    begun = time.monotonic()
    planned = await _planned(connect, sweep_id, portion)
    if planned is None:
        return None
    sweep, site, pages = planned
    origin = origin_of_environment(site, sweep.environment)
    async with connect() as connection:
        policy = await with_own_words(connection, site.id, policy_of(sweep))
        handed_over = await handed_over_of(connection, sweep_id, [page.path for page in pages])
    archive = await archive_of(connect, site) if site.found_by == "archive" else None
    async with reader_for(sweep.lens, tuple(private_origins(site))) as reader:
        set_rate_limits(reader, site, origin)
        links = (
            SweptLinks(connect, reader.links, site, sweep) if policy.sweeps_follow_links else None
        )
        sweep_cache = reader.sweep_cache(f"sweep {sweep_id}")
        swept_patterns = SweptPatterns(sweep_cache.tried, sweep, policy)
        batch_reader = _BatchReader(
            reader,
            sweep_cache,
            origin,
            sweep,
            policy,
            archive,
            site.journeys,
            links,
            headers,
            handed_over,
            swept_patterns,
            connect,
            pages,
        )
        results = await asyncio.gather(*(batch_reader.read(page) for page in pages))
    newly = [*swept_patterns.newly, *batch_reader.sources.newly]
    count = _next_count(portion, results, time.monotonic() - begun)
    return await _keep(connect, enqueue, sweep_id, results, end, newly, count)


async def _planned(
    connect: Connect, sweep_id: int, portion: _Portion
) -> tuple[SweepRow, SiteRow, list[PlannedPageRow]] | None:
    """Return a running sweep with its site and the pages of a portion that have no reading yet;
    None where it does not run."""
    async with connect() as connection:
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        if sweep is None or sweep.state != "running":
            return None
        site = await sites.site_by_id(connection, sweep.site_id)
        pages = await sweeps.unread_of_batches(connection, sweep, portion.first, portion.count)
        return sweep, site, pages


async def give_up_batch(connect: Connect, enqueue: Enqueue, sweep_id: int, batch: int) -> None:
    """Keep the pages of a batch that broke off again and again as unreadable, so that the sweep
    ends."""
    planned = await _planned(connect, sweep_id, _Portion(batch))
    if planned is None:
        return
    sweep, site, pages = planned
    origin, problem = (
        origin_of_environment(site, sweep.environment),
        Unreadable("reader-failed").problem,
    )
    await _keep(
        connect,
        enqueue,
        sweep_id,
        [_unread(page, origin + page.path, sweep.lens, problem) for page in pages],
    )


async def _keep(
    connect: Connect,
    enqueue: Enqueue,
    sweep_id: int,
    results: list[NewReading | PlannedPageRow | Redirect],
    end: float = 0.0,
    newly_tried: Sequence[NewlyTried] = (),
    count: int = 1,
) -> _Portion | None:
    """Keep what was read; return the next ``count`` batches, to follow at once, if there is time
    until ``end``, else put one into the queue."""
    read = [one for one in results if isinstance(one, NewReading)]
    unchanged = [one for one in results if isinstance(one, PlannedPageRow)]
    redirects = [one for one in results if isinstance(one, Redirect)]
    async with connect() as connection, connection.transaction():
        state = await sweeps.lock_sweep(connection, sweep_id)
        if state not in ("running", "stopped"):
            return None
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        assert sweep is not None
        added = [
            reading for reading in read if await sweeps.add_reading(connection, sweep_id, reading)
        ]
        for redirect in redirects:
            await sweeps.note_redirect(connection, sweep_id, redirect.page_id, redirect.path)
        await keep_tried(connection, sweep, newly_tried)
        carried = await sweeps.keep_readings(
            connection, sweep_id, unchanged, [one.id for one in catalogue().values() if one.across]
        )
        found = Counter(sweep.found) + Counter(carried.found) + _faults(added)
        unreadable = sum(reading.status == "unreadable" for reading in added)
        ready = sum(reading.ready for reading in added) + carried.ready
        counts = {
            "read": len(added) - unreadable + carried.unchanged,
            "unreadable": unreadable,
            "ready": ready,
            "unchanged": carried.unchanged,
        }
        await sweeps.count_batch(connection, sweep, found=found, **counts)
        latest = added[-1].address if added else None
        # What was under way when the sweep was stopped is kept too; it is then the stop that comes
        # last.
        await _tell(
            connection, sweep_id, "progress" if state == "running" else "stopped", latest=latest
        )
        if state != "running":
            return None
        if (
            time.monotonic() < end
            and (first := await sweeps.take_batch(connection, sweep_id, count)) is not None
        ):
            return _Portion(first, count)
        await _open_lanes(connection, enqueue, sweep_id, 1)
        return None


def _faults(readings: list[NewReading]) -> Counter[str]:
    return Counter(
        finding["weight"]
        for one in readings
        for finding in one.findings
        if finding["outcome"] == Outcome.FAILED.value
    )


async def _tell(connection: Connection, sweep_id: int, kind: str, **more: Any) -> None:
    """Keep how far a sweep is, how fast it goes and how long it will take."""
    sweep = await sweeps.sweep_by_id(connection, sweep_id)
    assert sweep is not None
    await sweeps.add_event(connection, sweep_id, kind, figures_of(sweep) | more)


def figures_of(sweep: SweepRow) -> dict[str, Any]:
    """Return a sweep's counts with its rate (pages/s since it began) and the seconds left at that
    rate."""
    counts = {
        name: getattr(sweep, name)
        for name in ("total", "read", "unreadable", "ready", "unchanged", "found")
    }
    done = sweep.read + sweep.unreadable
    seconds = (
        ((sweep.finished_at or datetime.now(UTC)) - sweep.started_at).total_seconds()
        if sweep.started_at is not None
        else 0.0
    )
    rate = done / seconds if seconds > 0 else 0.0
    return counts | {
        "rate": round(rate, 2),
        "seconds_left": round((sweep.total - done) / rate) if rate else None,
    }


@dataclass(frozen=True, slots=True)
class Redirect:
    """An address of a sweep that leads to another page of the site."""

    page_id: int
    path: str


class _BatchReader:
    """Reads pages of one sweep; an unchanged page is given back as it was planned."""

    def __init__(
        self,
        reader: PageReader,
        sweep_cache: SweepCache,
        origin: str,
        sweep: SweepRow,
        policy: Policy,
        archive: Archive | None,
        journeys: Sequence[Mapping[str, Any]],
        links: SweptLinks | None,
        headers: Mapping[str, str],
        handed_over: Mapping[str, HandedOverRow],
        patterns: SweptPatterns,
        connect: Connect,
        pages: Sequence[PlannedPageRow],
    ) -> None:
        self._reader = reader
        self._connect, self._pages = connect, pages
        self._known: asyncio.Task[None] | None = None
        self._patterns = patterns
        self._handed_over = handed_over
        self._headers = headers
        self._links = links
        self._follow = links.of_page if links is not None else None
        self._journeys = journeys
        self._archive = archive
        self._sweep_cache = sweep_cache
        self._fingerprints = sweep_cache.fingerprints
        self._origin = origin
        self._sweep = sweep
        self._policy = policy
        self.sources = SweptSources(
            sweep_cache.tried,
            sweep_cache.compared,
            sweep,
            policy,
            self._shows_news_in_source,
            reader.browsers_turn,
        )

    async def read(self, page: PlannedPageRow) -> NewReading | PlannedPageRow | Redirect:
        """Return a page's new reading, the page itself where its known reading stands, or where its
        address leads."""
        address = self._origin + page.path
        if page.path in self._handed_over:
            return await self._read_handed_over(page, self._handed_over[page.path])
        if self._archive is not None:
            return await self._read_archived(self._archive, page)
        if is_state(page.path):
            return await self._read_state(page)
        if self._is_said_unchanged(page) and await self._leads_where_it_led(page):
            return page
        known = (
            KnownCopy(page.etag, page.last_modified)
            if page.known_id is not None and page.resources is not None
            else None
        )
        try:
            fetched = await self._reader.fetch(address, known, self._headers)
            if await self._is_unchanged(page, fetched) and await self._leads_where_it_led(page):
                return page
            if fetched.is_unmodified:
                fetched = await self._reader.fetch(address, None, self._headers)
            if (moved := await self._leads_to(page, fetched)) is not None:
                return Redirect(page.id, moved)
        except Unreadable as problem:
            return _unread(page, address, self._sweep.lens, problem.problem)

        async def obtain(options: ReadOptions) -> Obtained:
            return await self._reader.read_fetched(fetched, address, self._sharing(options))

        result = await self._read_page(page, obtain)
        self._patterns.learn(page, result)
        drawn_in = result.resources
        resources = await self._fingerprints.of_all(drawn_in) if drawn_in is not None else None
        links = None
        if self._links is not None and result.inventory is not None:
            links = await self._links.digest(
                [link["address"] for link in result.inventory.links], page.path
            )
        return replace(_new_reading(page, result, resources, self._policy), links=links)

    async def _learn_what_is_known(self) -> None:
        """Learn what pages were tried with, once one of them is to be read."""
        await self._patterns.load(self._connect, self._pages)
        await self.sources.load(self._connect, self._pages)

    async def _read_page(self, page: PlannedPageRow, obtain: Read) -> PageResult:
        if self._known is None:
            self._known = asyncio.create_task(self._learn_what_is_known())
        await self._known
        by_source, stand_for = self.sources.of(page), self._patterns.of(page)
        runners, worth = self._reader.runners, self._shows_something_new
        if by_source is not None:
            return await read_by_source_first(
                obtain,
                self._policy,
                runners,
                by_source,
                worth=worth,
                follow=self._follow,
                stand_for=stand_for,
            )
        return await read_and_assess(
            obtain,
            self._policy,
            runners,
            worth=worth,
            inventory=True,
            follow=self._follow,
            stand_for=stand_for,
        )

    def _sharing(self, options: ReadOptions) -> ReadOptions:
        cache = self._sweep_cache
        return replace(options, shared=cache.files, sheets=cache.sheets)

    async def _leads_to(self, page: PlannedPageRow, fetched: Fetched) -> str | None:
        """Return the path of another page of the site that the address redirects to; None where it
        is a page itself, was asked for by name, or asks for a sign-in first."""
        asked = self._origin + page.path
        own = page_path(fetched.address, "", self._origin)
        if (
            self._sweep.scope == "given"
            or own in (None, page_path(asked, "", self._origin))
            or await leads_to_sign_in(self._reader.runners, fetched, asked, self._reader.limits)
        ):
            return None
        return own

    async def _read_state(self, page: PlannedPageRow) -> NewReading:
        """Read a state of a journey; it is read anew each time, since nothing tells beforehand
        whether it is as it was."""
        address = self._origin + page.path
        try:
            state = state_at(self._journeys, page.path)
        except Unreadable as problem:
            return _unread(page, address, self._sweep.lens, problem.problem)

        async def obtain(options: ReadOptions) -> Obtained:
            return replace(
                await self._reader.read_address(
                    self._origin + state.begins_at, self._sharing(options)
                ),
                address=address,
            )

        result = await read_and_assess(
            obtain,
            self._policy,
            self._reader.runners,
            state=state,
            worth=self._shows_something_new,
            inventory=True,
            follow=self._follow,
        )
        return _new_reading(page, result, None, self._policy)

    async def _read_handed_over(self, page: PlannedPageRow, given: HandedOverRow) -> NewReading:
        """Read a page as somebody's browser showed it: nothing is fetched."""

        async def obtain(options: ReadOptions) -> Obtained:
            return await self._reader.read_handed_over(
                given.source, given.answer, self._origin + page.path, options
            )

        result = await read_and_assess(
            obtain, self._policy, self._reader.runners, inventory=True, follow=self._follow
        )
        return _new_reading(page, result, None, self._policy)

    async def _read_archived(self, archive: Archive, page: PlannedPageRow) -> NewReading:
        address = origin_of_archive(archive) + page.path

        async def obtain(options: ReadOptions) -> Obtained:
            return await self._reader.read_archived(
                archive, address, self._origin + page.path, options
            )

        result = await read_and_assess(
            obtain,
            self._policy,
            self._reader.runners,
            worth=self._shows_something_new,
            inventory=True,
        )
        return _new_reading(page, result, None, self._policy)

    def _shows_news_in_source(self, assessment: Assessment) -> bool:
        """Tell whether a page's source has a finding whose like was neither pictured in this sweep
        nor is about to be, of a check that was not pictured often."""
        pictured, sought = self._sweep_cache.pictured, self._sweep_cache.sought
        seen = [one for one in assessment.findings if _is_to_be_seen(one)]
        is_news = any(
            max(pictured[one.check], sought[one.check]) < _PICTURES_OF_SOURCES
            and not any(pictured[key] or sought[key] for key in (one.cause_key, one.shape_key))
            for one in seen
        )
        if is_news:
            sought.update({key for one in seen for key in (one.cause_key, one.shape_key) if key})
            sought.update({one.check for one in seen})
        return is_news

    def _is_news(self, finding: Finding) -> bool:
        pictured = self._sweep_cache.pictured
        return (
            pictured[finding.check] < _PICTURES_OF_A_CHECK
            and pictured[finding.cause_key] < _PICTURES_OF_EACH
            and (not finding.shape_key or pictured[finding.shape_key] < _PICTURES_OF_EACH)
        )

    def _shows_something_new(self, assessment: Assessment) -> bool:
        """Tell whether a page has a finding to be seen whose like was not pictured often enough in
        this sweep."""
        pictured = self._sweep_cache.pictured
        shown = [one for one in assessment.findings if _wants_picture(one)]
        new = any(map(self._is_news, shown))
        if new:
            keys = {key for one in shown for key in (one.cause_key, one.shape_key) if key}
            pictured.update(key for key in keys if pictured[key] < _PICTURES_OF_EACH)
            pictured.update({one.check for one in shown})
        return new

    def _is_said_unchanged(self, page: PlannedPageRow) -> bool:
        if (
            self._sweep.scope != "changed"
            or page.known_id is None
            or page.changed_on is None
            or page.checked_at is None
        ):
            return False
        return page.changed_on < page.checked_at

    async def _leads_where_it_led(self, page: PlannedPageRow) -> bool:
        """Tell whether the links of the known reading lead to what they led to then; yes where
        nobody follows them."""
        if self._links is None or page.known_id is None:
            return True
        return page.links == await self._links.digest_of(page.known_id, page.path)

    async def _is_unchanged(self, page: PlannedPageRow, fetched: Fetched) -> bool:
        """Tell whether the HTML and all that it draws in are those of the known reading."""
        if page.known_id is None or page.resources is None:
            return False
        same = fetched.is_unmodified or hash_of(fetched.body) == page.content_hash
        return same and await self._fingerprints.of_all(tuple(page.resources)) == page.resources


def _wants_picture(finding: Finding) -> bool:
    """Tell whether a finding is better understood when it is seen."""
    return finding.box is not None and _is_to_be_seen(finding)


def _is_to_be_seen(finding: Finding) -> bool:
    """Tell whether a finding is about more than words."""
    return finding.outcome == Outcome.FAILED.value or not finding.check.startswith(_OF_WORDS)


def _unread(page: PlannedPageRow, address: str, lens: str, problem: Problem) -> NewReading:
    result = PageResult(address=address, lens=lens, problem=problem)
    return _new_reading(page, result, None, Policy())


def kept_finding(finding: Finding) -> dict[str, Any]:
    """Return a finding with what is kept of it beside what reports show."""
    return {
        **as_dict(finding),
        "structure": finding.structure,
        "shape_key": finding.shape_key,
        "block": finding.block,
    }


def _untested(result: PageResult) -> list[dict[str, str]]:
    """Return the checks that were not made, each with what it needs; those that another page of the
    same patterns stands for with that page's path."""
    at = result.tried.at if result.tried is not None else None
    elsewhere = browsers_checks() if result.lens == "markup" else tried_checks()
    return [
        {"check": one.check, "needs": one.needs}
        | ({"tried_at": at} if at is not None and one.check in elsewhere else {})
        for one in result.assessment.untested
    ]


def _new_reading(
    page: PlannedPageRow, result: PageResult, resources: Mapping[str, str] | None, policy: Policy
) -> NewReading:
    found = result.assessment.findings
    findings = [kept_finding(one) for one in found]
    held = any(finding_holds(finding, policy.hold) for finding in found)
    picture = result.picture
    return NewReading(
        page_id=page.id,
        position=page.position,
        address=result.address,
        lens=result.lens,
        status=result.status,
        problem_code=result.problem.code if result.problem is not None else None,
        problem_says=result.problem.says if result.problem is not None else None,
        http_status=result.problem.http_status if result.problem is not None else None,
        title=result.title,
        language=result.language,
        kind=result.kind,
        content_hash=result.content_hash,
        elements=result.elements,
        untested=_untested(result),
        ready=result.problem is None and not held,
        seconds=result.seconds,
        findings=findings,
        picture=picture,
        picture_hash=hash_of(picture) if picture is not None else None,
        etag=result.etag,
        last_modified=result.last_modified,
        resources=dict(resources) if resources is not None else None,
        left_out=result.assessment.left_out,
        inventory=result.inventory,
        page_views=result.page_views,
        shown=result.shown,
    )
