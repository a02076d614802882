"""Planning a sweep: find its pages, put the first batches into the queue."""

from __future__ import annotations

from plumrake.actions.archives import archive_of, pages_of_archive
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.sites import origin_of_environment, private_origins
from plumrake.core.journeys import states_of
from plumrake.discovery.crawl import Bounds, crawl
from plumrake.discovery.found import Found, NoPages
from plumrake.discovery.sitemap import pages_of_sitemap, robots_of
from plumrake.lenses.reader import PageReader
from plumrake.net.guard import Guard
from plumrake.records import sites, sweeps
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import DiscoveredPage, SweepRow

BATCH_SIZE = 8


async def plan_sweep(
    connect: Connect, enqueue: Enqueue, reader_for: ReaderFor, sweep_id: int
) -> None:
    """Find the pages of a queued sweep and put its first batches into the queue; a sweep that is
    planned already is left alone."""
    async with connect() as connection:
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        if sweep is None or sweep.state != "queued":
            return
        site = await sites.site_by_id(connection, sweep.site_id)
    try:
        pages = await _pages(connect, site, sweep, reader_for)
    except NoPages as problem:
        await give_up_planning(connect, sweep_id, str(problem))
        return
    async with connect() as connection, connection.transaction():
        if await sweeps.lock_sweep(connection, sweep_id) != "queued":
            return
        batches = await sweeps.plan_pages(
            connection, sweep, pages, batch_size=BATCH_SIZE, lanes=site.parallel
        )
        await sweeps.add_event(connection, sweep_id, "planned", {"total": len(pages)})
        for batch in range(min(batches, site.parallel)):
            await enqueue(connection, "read_batch", {"sweep_id": sweep_id, "batch": batch})


async def give_up_planning(connect: Connect, sweep_id: int, problem: str) -> None:
    """Keep that a queued sweep cannot go on, and why; one that is planned already is left alone."""
    async with connect() as connection, connection.transaction():
        if await sweeps.lock_sweep(connection, sweep_id) == "queued":
            await sweeps.fail_sweep(connection, sweep_id, problem)
            await sweeps.add_event(connection, sweep_id, "failed", {"problem": problem})


async def _pages(
    connect: Connect, site: SiteRow, sweep: SweepRow, reader_for: ReaderFor
) -> list[DiscoveredPage]:
    if sweep.scope == "given":
        found = [Found(path, "given") for path in dict.fromkeys(sweep.given_paths)]
    elif site.found_by == "list":
        found = [Found(path, "list") for path in dict.fromkeys(site.listed_paths)]
    elif site.found_by == "archive":
        found = pages_of_archive(await archive_of(connect, site))
    else:
        found = await _discovered(site, sweep, reader_for)
    if sweep.scope != "given" and sweep.lens == "rendered" and site.found_by != "archive":
        found += [
            Found(state.path, "journey", linked_from=state.begins_at)
            for state in states_of(site.journeys)
        ]
    wanted = [page for page in found if page.path.startswith(sweep.section)][: site.most_pages]
    if not wanted:
        raise NoPages(f"no page of '{site.slug}' is below {sweep.section}; sweep another section")
    return [
        DiscoveredPage(page.path, page.found_by, page.linked_from, page.changed_on)
        for page in wanted
    ]


async def _discovered(site: SiteRow, sweep: SweepRow, reader_for: ReaderFor) -> list[Found]:
    """Return the pages by sitemap, by crawl, or by a crawl that starts from the sitemap's pages.

    A staging environment is closed to robots as a rule, so its robots.txt counts for the live one
    alone.
    """
    origin, guard = origin_of_environment(site, sweep.environment), Guard(private_origins(site))
    listed: list[Found] = []
    if site.found_by in ("sitemap", "both"):
        try:
            listed = await pages_of_sitemap(origin, guard)
        except NoPages:
            if site.found_by == "sitemap":
                raise
    if site.found_by == "sitemap":
        return listed
    robots = await robots_of(origin, guard) if sweep.environment == "live" else None
    async with reader_for("markup", tuple(private_origins(site))) as reader:
        set_rate_limits(reader, site, origin)
        home = [] if any(page.path == "/" for page in listed) else [Found("/", "crawl")]
        starts = [*home, *listed] if listed else []
        return await crawl(
            origin,
            reader.fetch,
            Bounds(site.most_pages, site.crawl_depth),
            starts,
            robots,
            reader.runners,
        )


def set_rate_limits(reader: PageReader, site: SiteRow, origin: str) -> None:
    """Have a reader ask the site's host as the site's settings say."""
    reader.rate_limits.set_up(
        origin.partition("://")[2].lower(), site.parallel, site.pause_ms / 1000
    )
