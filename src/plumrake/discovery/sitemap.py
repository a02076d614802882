"""Pages from sitemap.xml (sitemaps.org 0.9): robots.txt names it, index files are followed, gzip is unpacked."""

from __future__ import annotations

import gzip
import io
import re
from urllib.parse import urljoin, urlsplit
from xml.etree.ElementTree import Element, ParseError

import httpx
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from plumrake.lenses.fetch import Limits, guarded_client
from plumrake.lenses.guard import Guard
from plumrake.lenses.problems import Unreadable

_MOST_FILES = 500
_MOST_PAGES = 100_000
_LIMITS = Limits(bytes=52_428_800)


class NoPages(RuntimeError):
    """Nothing was found to read; the message says where it was looked for and what to do."""

    code = "no-pages"


async def pages_of_sitemap(origin: str, guard: Guard) -> list[str]:
    """Return the paths (with query) that the site's sitemaps list, in their order, each once. Raises ``NoPages``."""
    origin = origin.rstrip("/")
    host = urlsplit(origin).netloc.lower()
    paths: dict[str, None] = {}
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
            for page in found:
                parts = urlsplit(page)
                if parts.netloc.lower() == host:
                    paths[(parts.path or "/") + (f"?{parts.query}" if parts.query else "")] = None
    if not paths:
        raise NoPages(f"the sitemap of {origin} lists no page of this host; correct it or register the site with a list of pages")
    return list(paths)[:_MOST_PAGES]


async def _sitemaps_named(client: httpx.AsyncClient, origin: str) -> list[str]:
    try:
        text = (await _body(client, f"{origin}/robots.txt")).decode("utf-8", "replace")
    except NoPages:
        text = ""
    named = [urljoin(origin, place.strip()) for place in re.findall(r"^\s*sitemap\s*:\s*(\S+)", text, re.I | re.M)]
    return named or [f"{origin}/sitemap.xml"]


async def _body(client: httpx.AsyncClient, address: str) -> bytes:
    try:
        async with client.stream("GET", address, follow_redirects=True) as response:
            if response.status_code != 200:
                raise NoPages(
                    f"{address} answered {response.status_code}; publish a sitemap there or register the site with a list of pages"
                )
            body = bytearray()
            async for chunk in response.aiter_bytes():
                body += chunk
                if len(body) > _LIMITS.bytes:
                    raise NoPages(f"{address} is larger than {_LIMITS.bytes:,} bytes; part it by a sitemap index")
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


def _parse(body: bytes, address: str) -> tuple[list[str], list[str]]:
    """Return the further sitemaps and the pages that a sitemap file names."""
    try:
        root: Element = ElementTree.fromstring(body)
    except (ParseError, DefusedXmlException, ValueError):
        raise NoPages(f"{address} is no sitemap: it is not well-formed XML") from None
    places = [
        (entry.tag.rpartition("}")[2], (child.text or "").strip())
        for entry in root
        for child in entry
        if child.tag.rpartition("}")[2] == "loc"
    ]
    return [place for kind, place in places if kind == "sitemap"], [place for kind, place in places if kind == "url"]
