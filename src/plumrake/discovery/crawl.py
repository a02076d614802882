"""Pages by following links within a site's origin, from its start page on, level by level."""

from __future__ import annotations

import asyncio
import hashlib
import time
from collections.abc import Awaitable, Callable, Iterable
from dataclasses import dataclass, replace
from urllib.parse import urljoin, urlsplit

from selectolax.lexbor import LexborHTMLParser

from plumrake.discovery.addresses import Traps, page_path
from plumrake.discovery.found import Found, NoPages
from plumrake.discovery.robots import Robots
from plumrake.lenses.markup import decode
from plumrake.lenses.runners import AssessorLost, Runners, ThreadRunners
from plumrake.net.fetch import Fetched
from plumrake.net.problems import Problem, Unreadable

_MOST_SILENT = 24
"""After so many pages in a row that did not answer in time the crawl ends with what it has."""
_MOST_LINKS = 5_000

Fetch = Callable[[str], Awaitable[Fetched]]
"""Get a page's HTML. Raises ``Unreadable``."""


@dataclass(frozen=True, slots=True)
class Bounds:
    """How far a crawl goes: pages in all, links from the start, seconds in all."""

    pages: int = 20_000
    depth: int = 20
    seconds: float = 7_200.0


@dataclass(slots=True)
class _Visited:
    """What came of one page: its own path in the end (None: unread, ``""``: no page of the site),
    its content's hash, its links, and whether its address leads to another page of the site."""

    path: str | None
    content: str
    links: list[str]
    redirected: bool = False


async def crawl(
    origin: str,
    fetch: Fetch,
    bounds: Bounds,
    starts: Iterable[Found] = (),
    robots: Robots | None = None,
    runners: Runners | None = None,
) -> list[Found]:
    """Return the pages that links lead to, in the order met; ``starts`` are known already and keep
    how they were found. ``robots`` is to be obeyed (RFC 9309); ``runners`` look through the pages.

    A page is given once: under its canonical address (``link rel=canonical``), else where redirects
    end, else where the same content stood first. Pages that cannot be read are given too, since a
    dead page of a site is a result. A site that does not answer any more, or whose pages come so
    slowly that the time is over, is not followed further. Raises ``NoPages``, also where nothing is
    known of the site and its start page cannot be read.
    """
    crawler = _Crawler(origin, fetch, bounds, robots or Robots(""), runners or ThreadRunners())
    known = list(starts)
    pages = await crawler.run(known or [Found("/", "crawl")])
    if not known and crawler.closed is not None:
        raise NoPages(f"the start page {origin}/ cannot be read: {crawler.closed.says}")
    if not pages:
        raise NoPages(
            f"no page of {origin} may be read: its robots.txt forbids them all; correct it "
            "or register the site with a sitemap"
        )
    return pages


class _Crawler:
    def __init__(
        self, origin: str, fetch: Fetch, bounds: Bounds, robots: Robots, runners: Runners
    ) -> None:
        self._runners = runners
        self._origin = origin.rstrip("/")
        self._fetch = fetch
        self._bounds = bounds
        self._robots = robots
        self._traps = Traps()
        self._met: set[str] = set()
        self._contents: dict[str, str] = {}
        self._pages: dict[str, Found] = {}
        self._silent = 0
        self._end = time.monotonic() + bounds.seconds
        self.closed: Problem | None = None
        """Why the start page cannot be read, where it cannot."""

    async def run(self, starts: list[Found]) -> list[Found]:
        level = [start for start in starts if self._is_new(start.path)]
        given = {start.path for start in level if start.found_by != "crawl"}
        for depth in range(self._bounds.depth + 1):
            level = level[: self._bounds.pages]
            following: list[Found] = []
            visited = await asyncio.gather(*(self._visit(page.path) for page in level))
            for page, result in zip(level, visited, strict=True):
                if len(self._pages) >= self._bounds.pages:
                    return list(self._pages.values())
                self._keep(page, result, is_given=page.path in given)
                following.extend(
                    Found(path, "crawl", page.path) for path in result.links if self._is_new(path)
                )
            if not following or depth == self._bounds.depth:
                break
            level = following
        return list(self._pages.values())

    def _is_new(self, path: str) -> bool:
        """Tell whether an address is met for the first time, is no trap, and may be read; it is met
        from then on."""
        if path in self._met:
            return False
        self._met.add(path)
        return not self._traps.is_one(path) and self._robots.allows(path)

    def _keep(self, page: Found, result: _Visited, *, is_given: bool) -> None:
        if result.path == "" and not is_given:
            return
        is_given = is_given and not result.redirected
        path = page.path if is_given or result.path is None else result.path
        if result.content and not is_given:
            path = self._contents.setdefault(result.content, path)
        self._met.add(path)
        self._pages.setdefault(path, replace(page, path=path))

    async def _visit(self, path: str) -> _Visited:
        if self._silent >= _MOST_SILENT or time.monotonic() > self._end:
            return _Visited(None, "", [])
        try:
            fetched = await self._fetch(self._origin + path)
        except Unreadable as problem:
            self._silent = self._silent + 1 if problem.code == "timed-out" else 0
            if path == "/":
                self.closed = problem.problem
            return _Visited(None if problem.code != "not-html" else "", "", [])
        self._silent = 0
        try:
            async with self._runners.lend() as runner:
                found = await runner.run(_look, fetched, self._origin)
        except AssessorLost:
            return _Visited(None, "", [])
        asked = page_path(self._origin + path, "", self._origin)
        moved = page_path(fetched.address, "", self._origin) not in (asked, None)
        return replace(found, redirected=moved)


def _look(fetched: Fetched, origin: str) -> _Visited:
    """Return where a page stands in the end and what it links to; a page that redirects elsewhere
    is none of the site's."""
    own = page_path(fetched.address, "", origin)
    if own is None:
        return _Visited("", "", [])
    tree = LexborHTMLParser(decode(fetched.body, fetched.charset))
    base_element = tree.css_first("base[href]")
    base = fetched.address
    if base_element is not None and urlsplit(
        href := base_element.attributes.get("href") or ""
    ).scheme in ("", "http", "https"):
        base = urljoin(fetched.address, href)
    canonical = tree.css_first('link[rel~="canonical"][href]')
    if canonical is not None:
        own = page_path(base, canonical.attributes.get("href") or "", origin) or own
    hrefs = (
        node.attributes.get("href") or "" for node in tree.css("a[href], area[href]")[:_MOST_LINKS]
    )
    links = [path for href in hrefs if (path := page_path(base, href, origin)) is not None]
    return _Visited(
        own, hashlib.sha256(fetched.body).hexdigest(), list(dict.fromkeys([own, *links]))
    )
