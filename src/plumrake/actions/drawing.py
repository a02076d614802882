"""Pictures of a page in its own layout, drawn when somebody wants to see them: as it is, narrow,
with larger text, with wider spacing, with the focus marks."""

from __future__ import annotations

from dataclasses import replace

from plumrake.actions.archives import archive_of, origin_of_archive
from plumrake.actions.planning import set_rate_limits
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.reading import state_at
from plumrake.actions.site_sources import SourceSettings, reading_headers
from plumrake.actions.sites import origin_of_environment, policy_of_site, private_origins
from plumrake.core.content_hash import hash_of
from plumrake.core.journeys import is_state
from plumrake.lenses.read_options import DrawnAs, ReadOptions
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.net.problems import Unreadable
from plumrake.records import connections, evidence, page_pictures, sites, sweeps
from plumrake.records.page_pictures import PagePictureRow, PageToDrawRow
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

MOST_WAITING = 12
"""Drawing shares its workers with the gate, which is not to wait for it long."""
_NOT_MANAGED = "the browser did not manage the picture in time; try again when less is going on"


class TooManyWait(ValueError):
    """So many pictures wait to be drawn that no other is taken on."""

    code = "too-many-wait"

    def __init__(self) -> None:
        super().__init__(f"{MOST_WAITING} pictures wait to be drawn already; ask again in a moment")


async def ask_for_picture(
    connection: Connection, enqueue: Enqueue, reading_id: int, kind: DrawnAs
) -> None:
    """Have a picture of a reading's page drawn, unless it was or is being drawn. Raises
    ``TooManyWait``."""
    async with connection.transaction():
        if await page_pictures.ask(connection, reading_id, kind, MOST_WAITING):
            given = {"reading_id": reading_id, "kind": kind}
            await enqueue(connection, "draw_picture", given)
        elif await page_pictures.picture_of(connection, reading_id, kind) is None:
            raise TooManyWait


async def draw_picture(
    connect: Connect,
    readers: ReaderFor,
    settings: SourceSettings,
    reading_id: int,
    kind: DrawnAs,
) -> None:
    """Read a reading's page again for a picture of it, and keep that, or why there is none."""
    async with connect() as connection:
        page = await page_pictures.page_to_draw(connection, reading_id)
        sweep = await sweeps.sweep_by_id(connection, page.sweep_id) if page is not None else None
        if page is None or sweep is None:
            return
        site = await sites.site_by_id(connection, sweep.site_id)
        row = await connections.connection_of(connection, site.id, sweep.environment)
    headers = await reading_headers(site, sweep.environment, row, settings)
    try:
        async with readers("rendered", tuple(private_origins(site))) as reader:
            set_rate_limits(reader, site, origin_of_environment(site, sweep.environment))
            obtained = await _Drawing(connect, reader, site, sweep.environment, headers).of(
                page, kind
            )
    except Unreadable as problem:
        obtained = Obtained(address="", lens="rendered", problem=problem.problem)
    await _keep(connect, reading_id, page, kind, obtained)


async def give_up(connect: Connect, reading_id: int, kind: DrawnAs, says: str) -> None:
    """Keep that a picture cannot be drawn."""
    async with connect() as connection:
        given_up = PagePictureRow(kind, "ready", None, says, has_changed=False)
        await page_pictures.keep(connection, reading_id, given_up)


async def _keep(
    connect: Connect, reading_id: int, page: PageToDrawRow, kind: DrawnAs, obtained: Obtained
) -> None:
    picture, problem = obtained.picture, obtained.problem
    says = "" if picture is not None else problem.says if problem is not None else _NOT_MANAGED
    async with connect() as connection, connection.transaction():
        content_hash = None
        if picture is not None:
            content_hash = hash_of(picture)
            await evidence.keep(connection, content_hash, "image/jpeg", picture)
        has_changed = obtained.content_hash != page.content_hash
        drawn = PagePictureRow(kind, "ready", content_hash, says, has_changed)
        await page_pictures.keep(connection, reading_id, drawn)
        if kind == "whole" and content_hash is not None and not has_changed:
            await page_pictures.show_as_read(connection, reading_id, content_hash)


class _Drawing:
    """Draws pages of one site's environment."""

    def __init__(
        self,
        connect: Connect,
        reader: PageReader,
        site: SiteRow,
        environment: str,
        headers: dict[str, str],
    ) -> None:
        self._connect = connect
        self._reader = reader
        self._site = site
        self._origin = origin_of_environment(site, environment)
        self._headers = headers

    async def of(self, page: PageToDrawRow, kind: DrawnAs) -> Obtained:
        """Return a page with its picture. Raises ``Unreadable``."""
        wait_for = policy_of_site(self._site).wait_for
        async with self._reader.runners.lend() as runner:
            options = ReadOptions(wait_for=wait_for, drawn_as=kind, runner=runner)
            address = self._origin + page.path
            if self._site.found_by == "archive":
                archive = await archive_of(self._connect, self._site)
                inside = origin_of_archive(archive) + page.path
                return await self._reader.read_archived(archive, inside, address, options)
            if is_state(page.path):
                state = state_at(self._site.journeys, page.path)
                begins = self._origin + state.begins_at
                return await self._reader.read_address(begins, replace(options, state=state))
            fetched = await self._reader.fetch(address, None, self._headers)
            return await self._reader.read_fetched(fetched, address, options)
