"""Items of content systems: listing them, and reading drafts as they would go out before anybody
publishes them."""

from __future__ import annotations

import contextlib
from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import timedelta
from typing import Final

import structlog

from plumrake.actions.fixes import Actor
from plumrake.actions.gate import BadQuestion, GateBusy, Question, ask
from plumrake.actions.ports import Connect, Enqueue
from plumrake.actions.site_sources import WITH_ITEMS, SourceSettings, connector_of
from plumrake.connectors.source_item import BadConnection, ListedItem
from plumrake.connectors.wordpress.connector import WordPressConnector
from plumrake.net.problems import Unreadable
from plumrake.records import connections, items, members, sites
from plumrake.records.connections import SourceConnectionRow
from plumrake.records.items import NewItem
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

log = structlog.get_logger()

NOT_PUBLIC: Final = ("draft", "pending", "future")
"""The statuses of items that are not public yet."""
STATUSES: Final = (*NOT_PUBLIC, "publish")
"""The statuses of items that are kept."""
_OVERLAP = timedelta(minutes=5)
_DUE_MINUTES = 15


class NoItems(ValueError):
    """The site's connection lists no items."""

    code = "no-items"


@dataclass(frozen=True, slots=True)
class _Place:
    """An environment of a site whose content system lists items."""

    site: SiteRow
    environment: str
    row: SourceConnectionRow


async def ask_to_sync(
    connection: Connection, enqueue: Enqueue, site_id: int, environment: str
) -> None:
    """Have the items of an environment listed."""
    await enqueue(connection, "sync_items", {"site_id": site_id, "environment": environment})


async def ask_to_read(
    connection: Connection, enqueue: Enqueue, site_id: int, environment: str, number: str
) -> None:
    """Have an item read as it would go out."""
    values = {"site_id": site_id, "environment": environment, "number": number}
    await enqueue(connection, "read_item", values)


async def environment_with_items(connection: Connection, site: SiteRow) -> str:
    """Return the environment of a site whose content system lists items, live before staging.
    Raises ``NoItems``."""
    for row in await connections.connections_of_site(connection, site.id):
        if row.kind in WITH_ITEMS:
            return row.environment
    raise NoItems(
        f"the site '{site.slug}' has no connection that lists items; connect its content system "
        "first"
    )


async def sync(
    connect: Connect, enqueue: Enqueue, settings: SourceSettings, site_id: int, environment: str
) -> None:
    """List the items of an environment anew: all that are not public, and of the public ones those
    that changed since the last time; drafts that are new are read."""
    async with connect() as connection:
        place = await _place(connection, site_id, environment)
        if place is None:
            return
        before, at = await items.mark_synced(connection, site_id, environment)
    try:
        async with _open(place, settings) as connector:
            unread = [one async for one in connector.items(NOT_PUBLIC)]
            since = before - _OVERLAP if before is not None else None
            public = [one async for one in connector.items(("publish",), since)]
    except (Unreadable, BadConnection) as error:
        log.warning("items could not be listed", site=place.site.slug, problem=str(error))
        return
    async with connect() as connection, connection.transaction():
        for one in (*unread, *public):
            await items.keep_item(connection, _new(place, one))
        gone = NOT_PUBLIC if before is not None else STATUSES
        await items.forget_unseen(connection, site_id, environment, gone, at)
        for one in unread:
            if before is None or one.changed_at > before - _OVERLAP:
                await ask_to_read(connection, enqueue, site_id, environment, one.number)


async def read_ahead(
    connect: Connect,
    enqueue: Enqueue,
    settings: SourceSettings,
    site_id: int,
    environment: str,
    number: str,
) -> int | None:
    """Read an item as it would go out, unless it was in this version; return the clearance's
    number. Nothing where it is public, or gone."""
    async with connect() as connection:
        place = await _place(connection, site_id, environment)
    if place is None:
        return None
    try:
        async with _open(place, settings) as connector:
            item = await connector.item(number)
    except (Unreadable, BadConnection) as error:
        log.warning("an item could not be read", site=place.site.slug, problem=str(error))
        return None
    async with connect() as connection:
        if item is None:
            await items.forget_item(connection, site_id, environment, number)
            return None
        await items.keep_item(connection, _new(place, item))
        if item.status not in NOT_PUBLIC:
            return None
        return await _ask(connection, enqueue, place, item)


async def read_due(connect: Connect, enqueue: Enqueue) -> None:
    """Have scheduled items read that are due soon, and the items of all sites listed."""
    async with connect() as connection:
        for one in await items.listed_environments(connection, WITH_ITEMS):
            await ask_to_sync(connection, enqueue, one.site_id, one.environment)
            due = await items.due_soon(connection, one.site_id, one.environment, _DUE_MINUTES)
            for number in due:
                await ask_to_read(connection, enqueue, one.site_id, one.environment, number)


async def _ask(
    connection: Connection, enqueue: Enqueue, place: _Place, item: ListedItem
) -> int | None:
    made_by = place.row.made_by_id
    role = (
        await members.role_in(connection, made_by, place.site.id) if made_by is not None else None
    )
    if role is None:
        return None
    question = Question(
        item.path, address=item.shown_at, item=item.number, version=item.version, is_ahead=True
    )
    try:
        return await ask(connection, enqueue, place.site, question, Actor(made_by, role))
    except (BadQuestion, GateBusy) as error:
        log.warning("a draft is not read ahead", site=place.site.slug, problem=str(error))
        return None


async def _place(connection: Connection, site_id: int, environment: str) -> _Place | None:
    row = await connections.connection_of(connection, site_id, environment)
    if row is None or row.kind not in WITH_ITEMS:
        return None
    return _Place(await sites.site_by_id(connection, site_id), environment, row)


@contextlib.asynccontextmanager
async def _open(place: _Place, settings: SourceSettings) -> AsyncIterator[WordPressConnector]:
    secret = settings.opened(place.row.secret)
    opening = connector_of(place.site, place.row.kind, place.row.settings, secret, settings)
    async with opening as connector:
        assert isinstance(connector, WordPressConnector)
        yield connector


def _new(place: _Place, one: ListedItem) -> NewItem:
    return NewItem(
        place.site.id,
        place.environment,
        one.number,
        one.kind,
        one.status,
        one.path,
        one.title,
        one.author,
        one.email,
        one.edit,
        one.changed_at,
        one.due_at,
    )


def own_items(role: str, person_id: int, *, mine: bool) -> int | None:
    """Return whose items somebody sees: an editor her own, everybody else all of them, or their own
    where they ask for that."""
    return person_id if mine or role == "editor" else None
