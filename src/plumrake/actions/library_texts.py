"""Texts of pictures in the media library of a content system: written there at once, where featured
pictures and new uses take them from; texts inside contents are corrected use by use."""

from __future__ import annotations

import contextlib
from collections.abc import AsyncIterator
from urllib.parse import urljoin

from plumrake.actions.corrections import MOST_AT_ONCE, BadCorrection, NotWritable
from plumrake.actions.ports import Connect, Enqueue
from plumrake.actions.site_sources import WITH_ITEMS, SourceSettings, connector_of
from plumrake.actions.sites import policy_of_site
from plumrake.actions.sweeps import SweepRequest, start_sweep
from plumrake.connectors.source_item import BadConnection, CannotWrite, SourceChanged
from plumrake.connectors.wordpress.connector import LibraryPicture, WordPressConnector
from plumrake.records import connections, corrections, picture_texts, sites, sweeps
from plumrake.records.picture_texts import LibraryTextRow, NewLibraryText
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import FindingInFullRow


async def has_library(connect: Connect, site: SiteRow, environment: str) -> bool:
    """Tell whether an environment of a site is connected to a system with a media library that may
    be written to."""
    async with connect() as connection:
        row = await connections.connection_of(connection, site.id, environment)
    return (
        row is not None and row.kind in WITH_ITEMS and policy_of_site(site).corrections == "write"
    )


async def write_library_text(
    connect: Connect,
    enqueue: Enqueue,
    settings: SourceSettings,
    finding: FindingInFullRow,
    text: str,
    by_id: int,
) -> LibraryTextRow:
    """Write a text for the picture of a finding into the media library, and have the pages read
    that have the fault with this picture. Raises ``NotWritable``, ``BadCorrection``,
    ``BadConnection``, ``Unreadable``."""
    async with connect() as connection:
        site = await sites.site_by_slug(connection, finding.site)
        assert site is not None, "the finding is a site's"
        source = await picture_texts.source_of(connection, finding.id)
    if not source:
        raise BadCorrection("finding: it is about no picture of its page")
    address = urljoin(finding.address, source)
    async with _library(connect, site, finding.environment, settings) as library:
        picture = await library.library_picture(address)
        if picture is None:
            raise BadCorrection(f"finding: {address} is no picture of the media library")
        if picture.text == text:
            raise BadCorrection("text: the media library has this text already")
        await _write(library, picture, text)
    new = NewLibraryText(
        site.id,
        finding.environment,
        finding.id,
        address,
        picture.number,
        picture.text,
        text,
        by_id,
    )
    async with connect() as connection, connection.transaction():
        number = await picture_texts.add_library_text(connection, new)
        await _read_again(connection, enqueue, site, finding, by_id)
        written = await picture_texts.library_text_by_id(connection, number)
    assert written is not None
    return written


async def take_back_library_text(
    connect: Connect,
    enqueue: Enqueue,
    settings: SourceSettings,
    written: LibraryTextRow,
    by_id: int,
) -> LibraryTextRow:
    """Write the text that was there before, if nobody has written another since. Raises as
    ``write_library_text``."""
    if written.taken_back_at is not None:
        raise BadCorrection("it was taken back already")
    async with connect() as connection:
        site = await sites.site_by_id(connection, written.site_id)
        finding = (
            await sweeps.finding_by_id(connection, written.finding_id)
            if written.finding_id is not None
            else None
        )
    async with _library(connect, site, written.environment, settings) as library:
        await _write(library, LibraryPicture(written.number, written.after), written.before)
    async with connect() as connection, connection.transaction():
        await picture_texts.end_library_text(connection, written.id)
        if finding is not None:
            await _read_again(connection, enqueue, site, finding, by_id)
        after = await picture_texts.library_text_by_id(connection, written.id)
    assert after is not None
    return after


@contextlib.asynccontextmanager
async def _library(
    connect: Connect, site: SiteRow, environment: str, settings: SourceSettings
) -> AsyncIterator[WordPressConnector]:
    if not await has_library(connect, site, environment):
        raise NotWritable(
            f"'{site.slug}' is connected to no media library in {environment}, or its policy lets "
            "corrections be drafted only"
        )
    async with connect() as connection:
        row = await connections.connection_of(connection, site.id, environment)
    assert row is not None
    secret = settings.opened(row.secret)
    async with connector_of(site, row.kind, row.settings, secret, settings) as connector:
        if not isinstance(connector, WordPressConnector):
            raise BadConnection(f"kind: '{row.kind}' has no media library")
        yield connector


async def _write(library: WordPressConnector, picture: LibraryPicture, text: str) -> None:
    """Write a text. Raises ``BadCorrection``, ``Unreadable``."""
    try:
        await library.write_library_text(picture, text)
    except (SourceChanged, CannotWrite) as error:
        raise BadCorrection(f"text: {error}") from None


async def _read_again(
    connection: Connection, enqueue: Enqueue, site: SiteRow, finding: FindingInFullRow, by_id: int
) -> None:
    """Have the pages read that have the fault of a finding with the same picture."""
    alike = await corrections.places_alike(connection, finding.id, MOST_AT_ONCE)
    paths = tuple(dict.fromkeys([finding.path, *(one.path for one in alike)]))
    found_by = await sweeps.sweep_by_id(connection, finding.sweep_id)
    assert found_by is not None, "a finding is one of a sweep"
    asked = SweepRequest(finding.environment, found_by.lens, scope="given", paths=paths, fresh=True)
    await start_sweep(connection, site, enqueue, asked, by_id)
