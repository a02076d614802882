"""The sources that a site's pages are made from: read and written through the site's connection,
or, where it has none, read at the pages' own addresses."""

from __future__ import annotations

import contextlib
import time
from collections.abc import AsyncIterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from plumrake.actions import sealing
from plumrake.actions.archives import archive_of, origin_of_archive
from plumrake.actions.ports import Connect
from plumrake.actions.sites import origin_of_environment, private_origins
from plumrake.connectors.folder import FolderConnector
from plumrake.connectors.git import GitConnector, Remote
from plumrake.connectors.source_item import (
    BadConnection,
    CannotWrite,
    Connector,
    SourceChanged,
    SourceItem,
)
from plumrake.connectors.stand_in import StandInConnector
from plumrake.connectors.wordpress.connector import WordPressConnector
from plumrake.core.addresses import normalised, origin
from plumrake.core.content_hash import hash_of
from plumrake.core.journeys import is_state
from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.assessor import Assessor
from plumrake.lenses.markup import decoded
from plumrake.lenses.reader import PageReader, archived_page
from plumrake.net.client import guarded_client
from plumrake.net.fetch import Fetched
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable
from plumrake.net.proxy import GuardProxy
from plumrake.records.connections import SourceConnectionRow
from plumrake.records.corrections import SourceTextRow
from plumrake.records.sites import SiteRow

KINDS = ("folder", "git", "stand-in", "wordpress")
"""The kinds of connections."""
WITH_ITEMS = ("wordpress",)
"""Those whose systems list items and say which block made what."""
_MOST_OF_GIT = 2_000_000_000
_HEADERS_SECONDS, _NO_HEADERS_SECONDS = 3600.0, 60.0


class KnownHeaders:
    """The headers by which content systems mark blocks, remembered for a while."""

    def __init__(self) -> None:
        self._known: dict[tuple[int, str, str], tuple[float, dict[str, str]]] = {}

    def get(self, key: tuple[int, str, str]) -> dict[str, str] | None:
        """Return what is remembered and still good."""
        end, headers = self._known.get(key, (0.0, {}))
        return headers if time.monotonic() < end else None

    def keep(self, key: tuple[int, str, str], headers: dict[str, str]) -> None:
        """Remember headers for an hour; that there are none for a minute."""
        seconds = _HEADERS_SECONDS if headers else _NO_HEADERS_SECONDS
        self._known[key] = time.monotonic() + seconds, headers


@dataclass(frozen=True, slots=True)
class SourceSettings:
    """What whoever runs the service says of sources: the folders that may be read and written, and
    the key that secrets of connections are encrypted with."""

    folders: tuple[str, ...] = ()
    key: str = ""
    headers: KnownHeaders = field(default_factory=KnownHeaders, compare=False)

    def sealed(self, secret: str) -> bytes:
        """Return a secret as it may be kept. Raises ``BadConnection``."""
        try:
            return sealing.sealed(self.key, secret)
        except sealing.NotSealed as error:
            raise BadConnection(str(error)) from None

    def opened(self, kept: bytes | None) -> str:
        """Return a secret that was kept. Raises ``BadConnection``."""
        try:
            return sealing.opened(self.key, kept) if kept is not None else ""
        except sealing.NotSealed as error:
            raise BadConnection(f"{error}; connect the site again") from None


@dataclass(frozen=True, slots=True)
class PageSource:
    """The source of a page as it is now: ``item`` is what it is made from, ``fetched`` that as it
    comes from the page's address."""

    item: SourceItem
    fetched: Fetched

    @property
    def makes_page(self) -> bool:
        """Whether the source is content that a system makes the page of, not the page itself."""
        return self.item.form != "page"

    @property
    def hash(self) -> str:
        """What the whole page is known by."""
        return hash_of(self.item.body)

    @property
    def charset(self) -> str | None:
        """The encoding that is known beforehand."""
        return self.item.charset if self.makes_page else self.fetched.charset

    @property
    def text(self) -> str:
        """The page as text."""
        return decoded(self.item.body, self.charset).text

    def own_places(self) -> tuple[int, int]:
        """Return from where to where (characters) the text is the page's own."""
        item = self.item
        if (item.own_start, item.own_end) == (0, len(item.body)):
            return 0, len(self.text)
        before = decoded(item.body[: item.own_start], self.charset).text
        own = decoded(item.body[item.own_start : item.own_end], self.charset).text
        return len(before), len(before) + len(own)

    def own_of(self, changed: bytes) -> bytes:
        """Return what is the page's own of a page that was changed within that."""
        item = self.item
        return changed[item.own_start : len(changed) - (len(item.body) - item.own_end)]

    def row(self) -> SourceTextRow:
        """Return the source as it is kept."""
        item = self.item
        return SourceTextRow(
            self.hash,
            item.body,
            self.charset,
            item.own_start,
            item.own_end,
            item.file,
            item.form == "markdown",
        )

    def fetched_as(self, text: str) -> Fetched:
        """Return the page as it would come with another text."""
        headers = {"content-type": "text/html; charset=utf-8"}
        return replace(self.fetched, headers=headers, body=text.encode("utf-8", "replace"))

    def with_body(self, body: bytes) -> PageSource:
        """Return the source after its own part was changed."""
        end = len(body) - (len(self.item.body) - self.item.own_end)
        item = replace(self.item, body=body, own_end=end, version="")
        fetched = self.fetched if self.makes_page else replace(self.fetched, body=body)
        return PageSource(item, fetched)


class SiteSources:
    """The sources of an environment of a site; use ``site_sources`` to open them."""

    def __init__(
        self, connect: Connect, site: SiteRow, environment: str, connector: Connector | None
    ) -> None:
        self._connect = connect
        self._site = site
        self._origin = origin_of_environment(site, environment)
        self.connector = connector

    async def read(self, path: str, reader: PageReader) -> PageSource:
        """Return the source of a page. Raises ``Unreadable``."""
        if is_state(path):
            raise Unreadable(
                "no-source", "a state of a journey is made by scripts; mend the page it begins at"
            )
        address = self._origin + path
        if self.connector is not None:
            item = await self.connector.read(path)
            if item.form != "page":
                shown = await self._shown(path, item.shown_at, reader)
                source = PageSource(item, replace(shown, address=address))
                text = decoded(shown.body, shown.charset).text
                return replace(source, fetched=source.fetched_as(text))
            kind = f"text/html; charset={item.charset}" if item.charset else "text/html"
            return PageSource(item, Fetched(address, 200, {"content-type": kind}, item.body))
        fetched = replace(await self._shown(path, None, reader), address=address)
        item = SourceItem.whole(fetched.body, hash_of(fetched.body), fetched.charset)
        return PageSource(item, fetched)

    async def _shown(self, path: str, at: str | None, reader: PageReader) -> Fetched:
        """Return a page as it comes from an address, or from its own. Raises ``Unreadable``."""
        if at is None and self._site.found_by == "archive":
            archive = await archive_of(self._connect, self._site)
            return archived_page(archive, origin_of_archive(archive) + path, reader.limits)
        return await reader.fetch(at if at is not None else self._origin + path)

    async def changed(self, source: PageSource, body: bytes, reader: PageReader) -> PageSource:
        """Return a source after its own part was changed, with the page that this makes. Raises
        ``Unreadable``, ``CannotMend``, ``AssessorLost``."""
        changed = source.with_body(body)
        if source.item.form == "markdown":
            return replace(changed, fetched=await _built(source, changed, reader))
        if not isinstance(self.connector, WordPressConnector):
            return changed
        shown = await reader.fetch(await self.connector.shown(source.item, body))
        return replace(changed, fetched=replace(shown, address=source.fetched.address))


async def _built(source: PageSource, changed: PageSource, reader: PageReader) -> Fetched:
    """Return the page that changed Markdown is built to. Raises ``CannotMend``,
    ``AssessorLost``."""
    async with reader.runners.lend() as runner:
        page = await runner.do(
            Assessor.build,
            source.text,
            changed.text,
            source.fetched.body,
            reader.limits.elements,
        )
    if isinstance(page, str):
        raise CannotMend(page)
    return replace(source.fetched, body=page)


@contextlib.asynccontextmanager
async def site_sources(
    connect: Connect,
    site: SiteRow,
    environment: str,
    row: SourceConnectionRow | None,
    settings: SourceSettings,
) -> AsyncIterator[SiteSources]:
    """Open the sources of an environment of a site. Raises ``BadConnection``,
    ``NoEnvironment``."""
    if row is None:
        yield SiteSources(connect, site, environment, None)
        return
    secret = settings.opened(row.secret)
    async with connector_of(site, row.kind, row.settings, secret, settings) as connector:
        yield SiteSources(connect, site, environment, connector)


@contextlib.asynccontextmanager
async def connector_of(
    site: SiteRow, kind: str, values: Mapping[str, Any], secret: str, settings: SourceSettings
) -> AsyncIterator[Connector]:
    """Open a connection by its kind and settings. Raises ``BadConnection``."""
    if kind == "folder":
        yield FolderConnector(str(values.get("folder", "")), settings.folders)
        return
    if kind == "git":
        repository, branch, within = (
            str(values.get(name, "")) for name in ("repository", "branch", "within")
        )
        if not repository.startswith(("http://", "https://")):
            yield GitConnector(repository, branch or "main", within, settings.folders)
            return
        guard = Guard(_origins_with(site, repository))
        async with GuardProxy(guard, _MOST_OF_GIT) as proxy:
            way = f"http://127.0.0.1:{await proxy.listen()}"
            remote = Remote(repository, str(values.get("user", "")), secret, way)
            yield GitConnector(repository, branch or "main", within, settings.folders, remote)
        return
    if kind not in ("stand-in", "wordpress"):
        raise BadConnection(f"kind: there is no kind '{kind}'; choose {' or '.join(KINDS)}")
    address = str(values.get("address", ""))
    if not address.startswith(("http://", "https://")):
        raise BadConnection(f"address: '{address}' is no web address; write http://host:port")
    async with guarded_client(Guard(_origins_with(site, address))) as client:
        if kind == "wordpress":
            yield WordPressConnector(client, address, str(values.get("user", "")), secret)
            return
        yield StandInConnector(client, address, secret)


async def tried(
    site: SiteRow, kind: str, values: Mapping[str, Any], secret: str, settings: SourceSettings
) -> list[str]:
    """Return what works of a connection. Raises ``BadConnection``."""
    async with connector_of(site, kind, values, secret, settings) as connector:
        try:
            return await connector.check()
        except (Unreadable, CannotWrite, SourceChanged) as error:
            raise BadConnection(str(error)) from None


def _origins_with(site: SiteRow, address: str) -> list[str]:
    """Return the origins that may be private for a connection: a site's own, and where it has that
    leave, its content system's."""
    allowed = private_origins(site)
    if site.private_leave:
        allowed.append(origin(normalised(address)))
    return allowed


async def reading_headers(
    site: SiteRow, environment: str, row: SourceConnectionRow | None, settings: SourceSettings
) -> dict[str, str]:
    """Return the headers by which a site's pages say which block made what; none where its content
    system knows no blocks, or does not answer."""
    if row is None or row.kind not in WITH_ITEMS:
        return {}
    key = site.id, environment, str(row.settings.get("address", ""))
    known = settings.headers.get(key)
    if known is None:
        known = {}
        with contextlib.suppress(Unreadable, BadConnection):
            secret = settings.opened(row.secret)
            async with connector_of(site, row.kind, row.settings, secret, settings) as connector:
                assert isinstance(connector, WordPressConnector)
                known = await connector.reading_headers()
        settings.headers.keep(key, known)
    return known
