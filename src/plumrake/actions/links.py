"""Following all links of a site on demand: each address once, politely, in live and, where it is
not there, in staging."""

from __future__ import annotations

import asyncio
import time
from datetime import UTC, datetime

from plumrake.actions.planning import set_rate_limits
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.sites import origin_of_environment, private_origins
from plumrake.actions.sweeps import NotUnderWay
from plumrake.actions.swept_links import AGE, environments_of
from plumrake.core.evidence import LinkState
from plumrake.records import links, sites, sweeps
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

_MOST = 20_000
_PARALLEL = 40


class NothingToFollow(ValueError):
    """The site was never swept, so its links are not known."""

    code = "nothing-to-follow"


async def begin_link_check(
    connection: Connection, enqueue: Enqueue, site: SiteRow, environment: str | None, by: int | None
) -> None:
    """Put a check of the links of the site's newest sweep into the queue. Raises
    ``NothingToFollow``, ``NotUnderWay``."""
    sweep_id = await sweeps.newest_done(connection, site.id, environment)
    if sweep_id is None:
        raise NothingToFollow(
            f"the site '{site.slug}' was not swept yet, so its links are not known; start a "
            "sweep first"
        )
    async with connection.transaction():
        if not await links.begin_link_check(connection, site.id, sweep_id, by):
            raise NotUnderWay(
                "the site's links are being followed already; wait until that is done"
            )
        await enqueue(connection, "follow_links", {"site_id": site.id, "sweep_id": sweep_id})


async def follow(connect: Connect, readers: ReaderFor, site_id: int, sweep_id: int) -> None:
    """Ask every address that the sweep's pages lead to and keep what it answers, part by part."""
    begun_at, since = time.monotonic(), datetime.now(UTC) - AGE
    async with connect() as connection:
        site = await sites.site_by_id(connection, site_id)
        wanted = await links.addresses(connection, site_id, sweep_id, since, _MOST)
    live, environments = origin_of_environment(site, "live"), environments_of(site)
    async with readers("markup", tuple(private_origins(site))) as reader:
        set_rate_limits(reader, site, live)

        async def state_of(address: str) -> LinkState:
            age = time.monotonic() - begun_at
            found = await reader.links.state_of(
                live + address if address.startswith("/") else address, environments, age
            )
            return found or LinkState("unknown", "it is no address of the web")

        for begin_at in range(0, len(wanted), _PARALLEL):
            part = wanted[begin_at : begin_at + _PARALLEL]
            found = dict(zip(part, await asyncio.gather(*map(state_of, part)), strict=True))
            async with connect() as connection, connection.transaction():
                await links.keep(connection, site_id, found)
                await links.count_link_check(
                    connection, site_id, len(wanted), begin_at + len(part), ended=False
                )
    async with connect() as connection, connection.transaction():
        await links.forget(connection, site_id, sweep_id, since)
        await links.count_link_check(connection, site_id, len(wanted), len(wanted), ended=True)
