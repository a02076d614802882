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
from plumrake.lenses.fetch import Fetched, Limits
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.lenses.problems import Unreadable
from plumrake.lenses.rendered.browser import BrowserPool, Tab
from plumrake.lenses.rendered.decode import decode_document
from plumrake.lenses.rendered.files import identify_pictures
from plumrake.lenses.rendered.journeys import follow
from plumrake.lenses.rendered.probing import PageMoved, take_pixels, try_layouts, walk
from plumrake.lenses.rendered.recognition import can_recognise, read_pictures
from plumrake.lenses.wish import Wish

_TALLEST = 12_000
_LATE_SECONDS = 3
_TRIES = 3


@dataclass(frozen=True, slots=True)
class Rendered:
    """A rendered page and, where it was wanted, its picture as JPEG."""

    page: Page
    picture: bytes | None


async def render(pool: BrowserPool, fetched: Fetched, address: str, limits: Limits, wish: Wish) -> Rendered:
    """Return the page as the browser shows it. Raises ``Unreadable``.

    A browser that dies is no fault of the page, so the page is tried again.
    """
    for attempt in range(_TRIES):
        try:
            return await _render(pool, fetched, address, limits, wish)
        except Unreadable as problem:
            if problem.code != "browser-lost" or attempt == _TRIES - 1:
                raise
    raise AssertionError("the last try returns or raises")


async def _render(pool: BrowserPool, fetched: Fetched, address: str, limits: Limits, wish: Wish) -> Rendered:
    async with pool.tab() as tab:
        deadline = time.monotonic() + limits.seconds  # a page's time begins with its tab, not while it waits for one

        def left() -> float:
            return max(1.0, deadline - time.monotonic())

        await tab.begin_at_size(wish.viewport)
        await tab.load(fetched, limits.seconds / 2)
        if wish.state is not None:
            fetched = await follow(tab, wish.state, fetched, left())
        if wish.wait_for is not None:
            await tab.wait_for(wish.wait_for, left())
        with contextlib.suppress(Error, TimeoutError):
            await asyncio.wait_for(tab.run("arrived.js", [None, _LATE_SECONDS * 1000]), min(left(), _LATE_SECONDS + 1))
        answer = await tab.collect(left(), limits.elements)
        document = await asyncio.to_thread(_document, answer, fetched, address, limits)
        page = Page(document)
        with contextlib.suppress(Error, TimeoutError):
            document.files = await asyncio.wait_for(identify_pictures(tab, page), left())
        if (
            wish.words and can_recognise()
        ):  # before anything moves on the page; each picture has its own time, so a busy machine changes no finding
            with contextlib.suppress(TimeoutError, Error):
                document.words = await read_pictures(tab, page)
                document.evidence |= {"recognition"}
        await _probe(tab, page, wish, max(left(), limits.seconds / 2))
        down = await wish.picture_down(page) if wish.picture_down is not None else None
        return Rendered(page, await tab.picture(left(), min(down, _TALLEST)) if down is not None else None)


async def _probe(tab: Tab, page: Page, wish: Wish, seconds: float) -> None:
    """Gather what is wished for beside the document; what does not come in time stays untested."""
    document = page.document
    lacking = set(document.evidence)
    try:
        async with asyncio.timeout(seconds):
            with contextlib.suppress(PageMoved):
                if wish.pixels:
                    document.pixels = await take_pixels(tab, page)
                lacking.discard("pixels")
            if wish.zoom:
                document.trials = await try_layouts(tab, page)
            if wish.keyboard:
                document.walk = await walk(tab, page)
            lacking.discard("keyboard")
    except (TimeoutError, Error):
        tab.is_spoilt = True
    document.evidence -= lacking & {"pixels", "keyboard"}


def _document(answer: str, fetched: Fetched, address: str, limits: Limits) -> Document:
    source = decode(fetched.body, fetched.charset)
    try:
        document = decode_document(answer, address, source, most_elements=limits.elements)
    except TooManyElements as error:
        raise Unreadable(error.code, str(error)) from None
    document.locate = lambda: _positions(document, limits)
    return document


def _positions(document: Document, limits: Limits) -> dict[int, Position]:
    try:
        return positions(document.elements, parse_document(document.source, document.address, most_elements=limits.elements).elements)
    except TooManyElements:
        return {}
