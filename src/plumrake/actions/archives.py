"""Sites whose pages come from an archive that was handed over: keeping it, and having it unpacked
where it is read."""

from __future__ import annotations

import asyncio
import hashlib
import tempfile
from collections import OrderedDict
from pathlib import Path
from urllib.parse import urlsplit

from plumrake.actions.ports import Connect
from plumrake.discovery.found import Found, NoPages
from plumrake.lenses.archives import ENDINGS, ZIP_ORIGIN, Archive
from plumrake.net.problems import Unreadable
from plumrake.records import sites
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

_MOST_UNPACKED = 3

_unpacked: OrderedDict[str, Archive] = OrderedDict()
_lock = asyncio.Lock()


class BadArchive(ValueError):
    """What was handed over is no archive of pages; the message says what is wrong."""

    code = "bad-archive"


async def keep_archive(connection: Connection, site: SiteRow, name: str, content: bytes) -> SiteRow:
    """Keep an archive as where the site's pages come from from now on. Raises ``BadArchive``."""
    if not name.lower().endswith(ENDINGS):
        raise BadArchive(f"'{name}' is no archive; it has to be one of {', '.join(ENDINGS)}")
    try:
        archive = await asyncio.to_thread(_unpack, name, content)
    except Unreadable as problem:
        raise BadArchive(str(problem)) from None
    if not archive.pages:
        raise BadArchive(f"the archive '{name}' holds no HTML page")
    return await sites.keep_archive(
        connection, site.id, await asyncio.to_thread(_known_by, site, content), name, content
    )


def _known_by(site: SiteRow, content: bytes) -> str:
    """Return what a site's archive is known by: another site may hand over the same content, and
    keeps it when this one goes."""
    known_by = hashlib.sha256(f"{site.id}\n".encode())
    known_by.update(content)
    return known_by.hexdigest()


async def archive_of(connect: Connect, site: SiteRow) -> Archive:
    """Return a site's archive, unpacked on this machine; the last few stay so. Raises
    ``NoPages``."""
    if site.archive is None:
        raise NoPages(
            f"no archive was handed over for '{site.slug}'; hand one over with 'plumrake "
            f"site archive {site.slug} FILE'"
        )
    async with _lock:
        if site.archive not in _unpacked:
            async with connect() as connection:
                kept = await sites.archive(connection, site.archive)
            assert kept is not None, "an archive lives as long as its site"
            _unpacked[site.archive] = await asyncio.to_thread(_unpack, kept.name, kept.content)
            while len(_unpacked) > _MOST_UNPACKED:
                _unpacked.popitem(last=False)
        return _unpacked[site.archive]


def _unpack(name: str, content: bytes) -> Archive:
    with tempfile.TemporaryDirectory(prefix="plumrake-given-") as folder:
        file = Path(folder) / Path(name).name
        file.write_bytes(content)
        return Archive(file)


def pages_of_archive(archive: Archive) -> list[Found]:
    """Return the pages of an archive's main host: that of its first page."""
    origin = origin_of_archive(archive)
    paths = [
        address.removeprefix(origin) or "/"
        for address in archive.pages
        if address.startswith(origin + "/") or address == origin
    ]
    return [Found(path, "archive") for path in dict.fromkeys(paths)]


def origin_of_archive(archive: Archive) -> str:
    """Return the origin that an archive's pages have."""
    first = archive.pages[0]
    parts = urlsplit(first)
    return ZIP_ORIGIN if first.startswith(ZIP_ORIGIN) else f"{parts.scheme}://{parts.netloc}"
