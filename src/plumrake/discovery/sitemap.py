"""Pages from sitemap.xml (sitemaps.org 0.9): robots.txt names it, index files are followed, gzip is
unpacked."""

from __future__ import annotations

import gzip
import io
import re
from datetime import UTC, datetime, timedelta
from urllib.parse import urljoin, urlsplit
from xml.etree.ElementTree import Element, ParseError

import httpx
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from plumrake.discovery.found import Found, NoPages
from plumrake.net.fetch import Limits, guarded_client
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable

_LENGTH_OF_DAY = 10
_MOST_FILES = 500
_MOST_PAGES = 100_000
_LIMITS = Limits(bytes=52_428_800)


async def pages_of_sitemap(origin: str, guard: Guard) -> list[Found]:
    """Return the pages that the site's sitemaps list, in their order, each once. Raises
    ``NoPages``."""
    origin = origin.rstrip("/")
    host = urlsplit(origin).netloc.lower()
    paths: dict[str, Found] = {}
    async with guarded_client(guard) as client:
        waiting = await _sitemaps_named(client, origin)
        seen: set[str] = set()
        while waiting and len(seen) < _MOST_FILES and len(paths) < _MOST_PAGES:
            address = waiting.pop(0)
            if address in seen:
                continue
            seen.add(address)
            further, found = _parse(await _body(client, address), address)
            waiting.extend(further)
            for page, changed_on in found:
                parts = urlsplit(page)
                if parts.netloc.lower() == host:
                    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
                    paths.setdefault(path, Found(path, "sitemap", changed_on=changed_on))
    if not paths:
        raise NoPages(
            f"the sitemap of {origin} lists no page of this host; correct it or register the "
            "site with a list of pages"
        )
    return list(paths.values())[:_MOST_PAGES]


async def robots_text(origin: str, guard: Guard) -> str:
    """Return the site's robots.txt, ``""`` where there is none, which forbids nothing (RFC 9309,
    2.3.1.3)."""
    async with guarded_client(guard) as client:
        return await _robots(client, origin.rstrip("/"))


async def _robots(client: httpx.AsyncClient, origin: str) -> str:
    try:
        return (await _body(client, f"{origin}/robots.txt")).decode("utf-8", "replace")
    except NoPages:
        return ""


async def _sitemaps_named(client: httpx.AsyncClient, origin: str) -> list[str]:
    text = await _robots(client, origin)
    named = [
        urljoin(origin, place.strip())
        for place in re.findall(r"^\s*sitemap\s*:\s*(\S+)", text, re.I | re.M)
    ]
    return named or [f"{origin}/sitemap.xml"]


async def _body(client: httpx.AsyncClient, address: str) -> bytes:
    try:
        async with client.stream("GET", address, follow_redirects=True) as response:
            if response.status_code != 200:
                raise NoPages(
                    f"{address} answered {response.status_code}; publish a sitemap there or "
                    "register the site with a list of pages"
                )
            body = bytearray()
            async for chunk in response.aiter_bytes():
                body += chunk
                if len(body) > _LIMITS.bytes:
                    raise NoPages(
                        f"{address} is larger than {_LIMITS.bytes:,} bytes; part it by a "
                        "sitemap index"
                    )
    except Unreadable as refused:
        raise NoPages(f"{address} cannot be reached: {refused}") from None
    except httpx.HTTPError as error:
        raise NoPages(f"{address} cannot be reached: {error or type(error).__name__}") from None
    return _unpacked(bytes(body), address)


def _unpacked(body: bytes, address: str) -> bytes:
    if not body.startswith(b"\x1f\x8b"):
        return body
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(body)) as packed:
            out = packed.read(_LIMITS.bytes + 1)
    except (OSError, EOFError):
        raise NoPages(f"{address} is no whole gzip file") from None
    if len(out) > _LIMITS.bytes:
        raise NoPages(f"{address} unpacks to more than {_LIMITS.bytes:,} bytes")
    return out


def _parse(body: bytes, address: str) -> tuple[list[str], list[tuple[str, datetime | None]]]:
    """Return the further sitemaps and the pages, each with the time of its last change, that a
    sitemap file names."""
    try:
        root: Element = ElementTree.fromstring(body)
    except (ParseError, DefusedXmlException, ValueError):
        raise NoPages(f"{address} is no sitemap: it is not well-formed XML") from None
    sitemaps: list[str] = []
    pages: list[tuple[str, datetime | None]] = []
    for entry in root:
        fields = {child.tag.rpartition("}")[2]: (child.text or "").strip() for child in entry}
        kind = entry.tag.rpartition("}")[2]
        if kind == "sitemap" and "loc" in fields:
            sitemaps.append(fields["loc"])
        elif kind == "url" and "loc" in fields:
            pages.append((fields["loc"], _time(fields.get("lastmod", ""))))
    return sitemaps, pages


def _time(written: str) -> datetime | None:
    """Return a W3C date-time; a day stands for its end, since the change may have come at any hour
    of it. None where it is none."""
    try:
        if len(written) == _LENGTH_OF_DAY:
            return datetime.fromisoformat(written).replace(tzinfo=UTC) + timedelta(days=1)
        time = datetime.fromisoformat(written)
    except ValueError:
        return None
    return time if time.tzinfo is not None else time.replace(tzinfo=UTC)
