"""What the links of a sweep's pages lead to."""

from __future__ import annotations

import asyncio
import hashlib
import json
from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from plumrake.actions.ports import Connect
from plumrake.actions.sites import origin_of_environment
from plumrake.core.evidence import LinkState, Network
from plumrake.core.probes import MOST_LINKS, PageLink
from plumrake.net.links import Environments, LinkProber
from plumrake.records import links
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import SweepRow

AGE = timedelta(minutes=30)
"""What was asked so shortly ago, and works, is not asked again."""
_SECONDS_OF_A_PAGE = 20.0


def environments_of(site: SiteRow) -> Environments:
    """Return where a site's links may lead to."""
    return Environments(
        origin_of_environment(site, "live"),
        origin_of_environment(site, "staging") if site.staging_address else None,
    )


class SweptLinks:
    """What the links of a sweep's pages lead to: asked once in the sweep, and kept.

    What works is not asked again within half an hour, unless the sweep is to read everything afresh
    or to prove something. In a sweep of staging a link to a page that is in staging alone works:
    both are published together.
    """

    def __init__(
        self, connect: Connect, prober: LinkProber, site: SiteRow, sweep: SweepRow
    ) -> None:
        self._connect = connect
        self._prober = prober
        self._site_id = site.id
        self._environments = environments_of(site)
        self._origin = origin_of_environment(site, sweep.environment)
        self._together = sweep.environment == "staging"
        self._since = sweep.started_at or sweep.created_at
        self._works_since = (
            self._since if sweep.fresh or sweep.scope == "given" else self._since - AGE
        )
        self._known: dict[str, LinkState] = {}

    async def of_page(self, found: Sequence[PageLink]) -> Network:
        """Return what a page's links lead to; what is not answered in time cannot be told."""
        await self._recall([link.address for link in found])
        asked: dict[str, LinkState] = {}

        async def ask(full: str) -> LinkState | None:
            address = (
                full.removeprefix(self._origin) if full.startswith(f"{self._origin}/") else full
            )
            return self._seen(self._known.get(address) or await self._ask(address, asked))

        network = await self._prober.look(found, self._environments, _SECONDS_OF_A_PAGE, ask)
        await self._keep(asked)
        return network

    async def digest(self, addresses: Iterable[str], path: str) -> str:
        """Return what stands for all that does not work behind the links of the page at a path,
        which lead to these addresses."""
        wanted = list(
            dict.fromkeys(one for one in addresses if one and one.partition("#")[0] != path)
        )[:MOST_LINKS]
        await self._recall(wanted)
        asked: dict[str, LinkState] = {}
        asking = [
            asyncio.ensure_future(self._ask(one, asked)) for one in wanted if one not in self._known
        ]
        if asking:
            answered, late = await asyncio.wait(asking, timeout=_SECONDS_OF_A_PAGE)
            for task in late:
                task.cancel()
            for task in answered:
                task.result()
        await self._keep(asked)
        kinds = {
            one: links.kind_of(state)
            for one in wanted
            if (state := self._seen(self._known.get(one, LinkState("unknown")))) is not None
        }
        return hashlib.sha256(
            json.dumps(sorted(item for item in kinds.items() if item[1] != "works")).encode()
        ).hexdigest()[:20]

    async def digest_of(self, reading_id: int, path: str) -> str:
        """Return the same for the links that a page had when it was read."""
        async with self._connect() as connection:
            addresses = await links.of_reading(connection, reading_id)
        return await self.digest(addresses, path)

    async def _ask(self, address: str, asked: dict[str, LinkState]) -> LinkState | None:
        age = (datetime.now(UTC) - self._since).total_seconds()
        found = await self._prober.state_of(
            self._origin + address if address.startswith("/") else address, self._environments, age
        )
        if found is not None:
            asked[address] = found
        return found

    def _seen(self, state: LinkState | None) -> LinkState | None:
        return (
            replace(state, state="works", says="")
            if state is not None and state.state == "only-in-staging" and self._together
            else state
        )

    async def _recall(self, addresses: Sequence[str]) -> None:
        unknown = [one for one in dict.fromkeys(addresses) if one and one not in self._known]
        if unknown:
            async with self._connect() as connection:
                known = await links.known(
                    connection,
                    self._site_id,
                    unknown,
                    works_since=self._works_since,
                    since=self._since,
                )
                self._known |= {one.address: one.as_state for one in known}

    async def _keep(self, asked: dict[str, LinkState]) -> None:
        self._known |= asked
        if asked:
            async with self._connect() as connection, connection.transaction():
                await links.keep(connection, self._site_id, asked)


async def close_link_check(connection: Connection, site_id: int, sweep_id: int) -> None:
    """Let a sweep of a whole site that followed links count as a link check, and forget what no
    page leads to any more."""
    await links.forget(connection, site_id, sweep_id, datetime.now(UTC) - AGE)
    await links.count_sweep(connection, sweep_id)
