"""Sweeps from the asking to the last reading: start, plan, read a batch. Each step may be repeated without harm."""

from __future__ import annotations

import asyncio
import hashlib
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import AbstractAsyncContextManager
from typing import Any

from plumrake.actions.reading import PageResult, read_and_assess
from plumrake.core.policy import Policy, policy_from
from plumrake.core.registry import PageFacts
from plumrake.core.sitewide import assess_site
from plumrake.discovery.sitemap import NoPages, pages_of_sitemap
from plumrake.lenses.guard import Guard
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.lenses.wish import Wish
from plumrake.records import sites, sweeps
from plumrake.records.queries import Connection
from plumrake.records.sites import Site
from plumrake.records.sweeps import NewReading, PlannedPage, Sweep
from plumrake.reports.shape import finding_dict, holds

BATCH_SIZE = 8

Enqueue = Callable[[Connection, str, dict[str, Any]], Awaitable[None]]
"""Put a job into the queue within the connection's transaction: connection, task name, arguments."""
Connect = Callable[[], AbstractAsyncContextManager[Connection]]
"""Borrow a connection."""


class NoEdition(ValueError):
    """The site has no such edition."""

    code = "no-edition"


async def start_sweep(
    connection: Connection, site: Site, enqueue: Enqueue, *, edition: str, lens: str, section: str, asked_by: int | None
) -> int:
    """Keep a new sweep and its first job together; return the sweep's number. Raises ``NoEdition``."""
    origin_of_edition(site, edition)
    async with connection.transaction():
        sweep_id = await sweeps.add_sweep(
            connection, site_id=site.id, edition=edition, lens=lens, section=section, policy=site.policy, asked_by=asked_by
        )
        await sweeps.add_event(connection, sweep_id, "queued", {})
        await enqueue(connection, "plan_sweep", {"sweep_id": sweep_id})
    return sweep_id


def origin_of_edition(site: Site, edition: str) -> str:
    """Return the origin that an edition of a site lives at. Raises ``NoEdition``."""
    address = site.live_address if edition == "live" else site.staging_address
    if address is None:
        raise NoEdition(f"the site '{site.slug}' has no staging address; register one or sweep the live edition")
    return "/".join(address.split("/", 3)[:3])


def private_origins(site: Site) -> list[str]:
    """Return the origins that the site has leave to be private at."""
    if not site.private_leave:
        return []
    return ["/".join(address.split("/", 3)[:3]) for address in (site.live_address, site.staging_address) if address]


def policy_of(sweep: Sweep) -> Policy:
    """Return the policy that a sweep was started with."""
    return policy_from(sweep.policy)


async def plan_sweep(connect: Connect, enqueue: Enqueue, sweep_id: int) -> None:
    """Find the pages of a queued sweep and put its batches into the queue; a sweep that is planned already is left alone."""
    async with connect() as connection:
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        if sweep is None or sweep.state != "queued":
            return
        site = await sites.site_by_id(connection, sweep.site_id)
    try:
        paths = await _paths(site, sweep)
    except NoPages as problem:
        async with connect() as connection, connection.transaction():
            await sweeps.fail_sweep(connection, sweep_id, str(problem))
            await sweeps.add_event(connection, sweep_id, "failed", {"problem": str(problem)})
        return
    async with connect() as connection, connection.transaction():
        if await sweeps.lock_sweep(connection, sweep_id) != "queued":
            return
        batches = await sweeps.plan_pages(connection, sweep, paths, BATCH_SIZE)
        await sweeps.add_event(connection, sweep_id, "planned", {"total": len(paths)})
        for batch in range(batches):
            await enqueue(connection, "read_batch", {"sweep_id": sweep_id, "batch": batch})


async def _paths(site: Site, sweep: Sweep) -> list[str]:
    if site.found_by == "list":
        found = list(dict.fromkeys(site.listed_paths))
    else:
        found = await pages_of_sitemap(origin_of_edition(site, sweep.edition), Guard(private_origins(site)))
    wanted = [path for path in found if path.startswith(sweep.section)]
    if not wanted:
        raise NoPages(f"no page of '{site.slug}' is below {sweep.section}; sweep another section")
    return wanted


async def read_batch(
    connect: Connect, reader_for: Callable[[str, tuple[str, ...]], AbstractAsyncContextManager[PageReader]], sweep_id: int, batch: int
) -> None:
    """Read the pages of a batch that have no reading yet and keep them in one transaction."""
    async with connect() as connection:
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        if sweep is None or sweep.state != "running":
            return
        site = await sites.site_by_id(connection, sweep.site_id)
        pages = await sweeps.unread_of_batch(connection, sweep_id, batch)
    async with reader_for(sweep.lens, tuple(private_origins(site))) as reader:
        found = [reading async for reading in _read(reader, origin_of_edition(site, sweep.edition), pages, policy_of(sweep))]
    async with connect() as connection, connection.transaction():
        if await sweeps.lock_sweep(connection, sweep_id) != "running":
            return
        for reading in found:
            await sweeps.add_reading(connection, sweep_id, reading)
        done = await sweeps.finish_if_complete(connection, sweep_id)
        if done:
            await _look_across(connection, sweep)
        await _tell(connection, sweep_id, done=done)


async def _look_across(connection: Connection, sweep: Sweep) -> None:
    """Add what shows only over all pages of the finished sweep together."""
    titles = await sweeps.titles(connection, sweep.id)
    found = assess_site([PageFacts(one.path, one.title) for one in titles], policy_of(sweep))
    for number, extra in found.items():
        held = any(holds(finding, policy_of(sweep).hold) for finding in extra)
        await sweeps.add_site_findings(connection, titles[number].reading_id, [finding_dict(finding) for finding in extra], held=held)


async def _read(reader: PageReader, origin: str, pages: list[PlannedPage], policy: Policy) -> AsyncIterator[NewReading]:
    async def one(page: PlannedPage) -> NewReading:
        def read(wish: Wish) -> Awaitable[Obtained]:
            return reader.read_address(origin + page.path, wish)

        return _new_reading(page, await read_and_assess(read, policy, pictures=True), policy)

    for reading in await asyncio.gather(*(one(page) for page in pages)):
        yield reading


def _new_reading(page: PlannedPage, result: PageResult, policy: Policy) -> NewReading:
    findings = [finding_dict(finding) for finding in result.assessment.findings]
    held = any(holds(finding, policy.hold) for finding in result.assessment.findings)
    picture = result.picture
    return NewReading(
        page_id=page.id,
        position=page.position,
        address=result.address,
        lens=result.lens,
        status=result.status,
        problem_code=result.problem.code if result.problem is not None else None,
        problem_says=result.problem.says if result.problem is not None else None,
        title=result.title,
        language=result.language,
        content_hash=result.content_hash,
        elements=result.elements,
        untested=[{"check": item.check, "needs": item.needs} for item in result.assessment.untested],
        ready=result.problem is None and not held,
        seconds=result.seconds,
        findings=findings,
        picture=picture,
        picture_hash=f"sha256:{hashlib.sha256(picture).hexdigest()}" if picture is not None else None,
    )


async def _tell(connection: Connection, sweep_id: int, *, done: bool) -> None:
    sweep = await sweeps.sweep_by_id(connection, sweep_id)
    assert sweep is not None
    figures = {"total": sweep.total, "read": sweep.read, "unreadable": sweep.unreadable, "ready": sweep.ready}
    await sweeps.add_event(connection, sweep_id, "done" if done else "progress", figures)
