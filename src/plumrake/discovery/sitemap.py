"""Pages from sitemap.xml (sitemaps.org 0.9): robots.txt names it, index files are followed, gzip is
unpacked."""

from __future__ import annotations

import asyncio
from datetime import UTC, datetime, timedelta
from urllib.parse import urljoin, urlsplit
from xml.etree.ElementTree import Element, ParseError

import httpx
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from plumrake.discovery.found import Found, NoPages
from plumrake.discovery.robots import MOST_BYTES, Robots
from plumrake.net.client import guarded_client
from plumrake.net.exchange import ExchangeBounds, exchange
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable
from plumrake.net.unpacking import BadCoding, TooMuch, unpacked

_LENGTH_OF_DAY = 10
_MOST_FILES = 500
_MOST_PAGES = 100_000
_SECONDS_IN_ALL = 180.0
_BOUNDS = ExchangeBounds(30.0, 52_428_800)
"""Of one file (sitemaps.org: no larger than 50 MB, unpacked)."""
_ROBOTS_BOUNDS = ExchangeBounds(30.0, MOST_BYTES, redirects=5)


async def pages_of_sitemap(origin: str, guard: Guard, sitemap: str | None = None) -> list[Found]:
    """Return the pages that the site's sitemaps list (or the ``sitemap`` at an address), in their
    order, each once. Raises ``NoPages``."""
    origin = origin.rstrip("/")
    try:
        async with asyncio.timeout(_SECONDS_IN_ALL):
            paths = await _listed(origin, guard, sitemap)
    except TimeoutError:
        raise NoPages(
            f"the sitemaps of {origin} did not come within {_SECONDS_IN_ALL:g} s; make them "
            "quicker to read or register the site with a list of pages"
        ) from None
    if not paths:
        raise NoPages(
            f"the sitemap of {origin} lists no page of this host; correct it or register the "
            "site with a list of pages"
        )
    return list(paths.values())[:_MOST_PAGES]


async def _listed(origin: str, guard: Guard, sitemap: str | None) -> dict[str, Found]:
    host = urlsplit(origin).netloc.lower()
    paths: dict[str, Found] = {}
    async with guarded_client(guard) as client:
        named = [sitemap] if sitemap else (await _robots(client, origin)).sitemaps
        waiting = [urljoin(origin, place) for place in named] or [f"{origin}/sitemap.xml"]
        seen: set[str] = set()
        while waiting and len(seen) < _MOST_FILES and len(paths) < _MOST_PAGES:
            address = waiting.pop(0)
            if address in seen:
                continue
            seen.add(address)
            body = await _body(client, address, _BOUNDS)
            further, found = await asyncio.to_thread(_parse, body, address)
            waiting.extend(further)
            for page, changed_on in found:
                parts = urlsplit(page)
                if parts.netloc.lower() == host:
                    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
                    paths.setdefault(path, Found(path, "sitemap", changed_on=changed_on))
    return paths


async def robots_of(origin: str, guard: Guard) -> Robots:
    """Return what the site's robots.txt says; where there is none it forbids nothing (RFC 9309,
    2.3.1.3)."""
    async with guarded_client(guard) as client:
        return await _robots(client, origin.rstrip("/"))


async def _robots(client: httpx.AsyncClient, origin: str) -> Robots:
    try:
        answer = await exchange(client, "GET", f"{origin}/robots.txt", _ROBOTS_BOUNDS)
    except Unreadable:
        return Robots("")
    text = answer.body.decode("utf-8", "replace") if answer.status == 200 else ""
    return await asyncio.to_thread(Robots, text)


async def _body(client: httpx.AsyncClient, address: str, bounds: ExchangeBounds) -> bytes:
    try:
        answer = await exchange(client, "GET", address, bounds)
    except Unreadable as problem:
        raise NoPages(f"{address} cannot be reached: {problem}") from None
    if answer.status != 200:
        raise NoPages(
            f"{address} answered {answer.status}; publish a sitemap there or register the site "
            "with a list of pages"
        )
    if not answer.is_whole:
        raise NoPages(
            f"{address} is larger than {bounds.bytes:,} bytes; part it by a sitemap index"
        )
    if not answer.body.startswith(b"\x1f\x8b"):
        return answer.body
    try:
        return await asyncio.to_thread(unpacked, answer.body, "gzip", bounds.bytes)
    except TooMuch:
        raise NoPages(f"{address} unpacks to more than {bounds.bytes:,} bytes") from None
    except BadCoding:
        raise NoPages(f"{address} is no whole gzip file") from None


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
