"""The rendered lens: fetched HTML to a document with styles and boxes, and the page's picture."""

from __future__ import annotations

import asyncio
import contextlib
import time
from dataclasses import dataclass

from playwright.async_api import Error

from plumrake.core.dom import Document, Position
from plumrake.core.page import Page
from plumrake.lenses.align import positions
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.rendered.browser import BrowserPool, Tab, TabKind
from plumrake.lenses.rendered.decode import decode_document
from plumrake.lenses.rendered.files import identify_pictures
from plumrake.lenses.rendered.journeys import follow
from plumrake.lenses.rendered.probing import PageMoved, take_pixels, try_layouts, walk
from plumrake.lenses.rendered.recognition import can_recognise, read_pictures
from plumrake.net.fetch import Fetched, Limits
from plumrake.net.problems import Unreadable
from plumrake.net.proxy import GuardProxy
from plumrake.net.shared_files import SharedFiles

_TALLEST = 12_000
_LATE_SECONDS = 3
_TRIES = 3


@dataclass(frozen=True, slots=True)
class Rendered:
    """A rendered page and, where it was wanted, its picture as JPEG."""

    page: Page
    picture: bytes | None


class RenderedLens:
    """A browser that pages are read in; use as an async context manager."""

    def __init__(self, proxy: GuardProxy, tabs: int) -> None:
        self._pool = BrowserPool(proxy, tabs)
        self.notice = self._pool.notice

    async def __aenter__(self) -> RenderedLens:
        await self._pool.__aenter__()
        return self

    async def __aexit__(self, *_: object) -> None:
        await self._pool.__aexit__()

    async def read(
        self, fetched: Fetched, address: str, limits: Limits, options: ReadOptions
    ) -> Rendered:
        """Return the page as the browser shows it. Raises ``Unreadable``.

        A browser that dies is no fault of the page, so the page is tried again.
        """
        for attempt in range(_TRIES):
            try:
                return await _render(self._pool, fetched, address, limits, options)
            except Unreadable as problem:
                if problem.code != "browser-lost" or attempt == _TRIES - 1:
                    raise
        raise AssertionError("the last try returns or raises")


async def _render(
    pool: BrowserPool, fetched: Fetched, address: str, limits: Limits, options: ReadOptions
) -> Rendered:
    shared = options.shared or SharedFiles()
    async with pool.tab(TabKind(options.viewport, fetched.has_network, options.shared)) as tab:
        deadline = (
            time.monotonic() + limits.seconds
        )  # a page's time begins with its tab, not while it waits for one

        def left() -> float:
            return max(1.0, deadline - time.monotonic())

        await tab.load(fetched, limits.seconds / 2)
        if options.state is not None:
            fetched = await follow(tab, options.state, fetched, left())
        if options.wait_for is not None:
            await tab.wait_for(options.wait_for, left())
        with contextlib.suppress(Error, TimeoutError):
            await asyncio.wait_for(
                tab.run("wait_for_images.js", [None, _LATE_SECONDS * 1000]),
                min(left(), _LATE_SECONDS + 1),
            )
        answer = await tab.collect(left(), limits.elements)
        document = await asyncio.to_thread(_document, answer, fetched, address, limits)
        page = Page(document)
        with contextlib.suppress(Error, TimeoutError):
            files = await asyncio.wait_for(identify_pictures(tab, page, shared), left())
            page = page.knowing(files=files)
        if (
            options.words and can_recognise()
            # before anything moves on the page; each picture has its own time, so a busy machine
            # changes no finding
        ):
            with contextlib.suppress(TimeoutError, Error):
                page = page.knowing("recognition", words=await read_pictures(tab, page, shared))
        page = await _probe(tab, page, options, max(left(), limits.seconds / 2))
        down = await options.picture_down(page) if options.picture_down is not None else None
        return Rendered(
            page, await tab.picture(left(), min(down, _TALLEST)) if down is not None else None
        )


async def _probe(tab: Tab, page: Page, options: ReadOptions, seconds: float) -> Page:
    """Return the page with what is wanted beside the document; what does not come in time stays
    untested."""
    with contextlib.suppress(TimeoutError, Error):
        async with asyncio.timeout(seconds):
            with contextlib.suppress(PageMoved):
                pixels = await take_pixels(tab, page) if options.pixels else None
                page = page.knowing("pixels", pixels=pixels)
            if options.zoom:
                page = page.knowing(trials=await try_layouts(tab, page))
            stops = await walk(tab, page) if options.keyboard else None
            page = page.knowing("keyboard", walk=stops)
    return page


def _document(answer: str, fetched: Fetched, address: str, limits: Limits) -> Document:
    source = decode(fetched.body, fetched.charset)
    try:
        return decode_document(
            answer,
            address,
            source,
            most_elements=limits.elements,
            locate=lambda document: _positions(document, limits),
        )
    except TooManyElements as error:
        raise Unreadable(error.code, str(error)) from None


def _positions(document: Document, limits: Limits) -> dict[int, Position]:
    try:
        return positions(
            document.elements,
            parse_document(
                document.source, document.address, most_elements=limits.elements
            ).elements,
        )
    except TooManyElements:
        return {}
