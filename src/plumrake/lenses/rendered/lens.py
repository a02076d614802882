"""The rendered lens: fetched HTML to a document with styles and boxes, and the page's picture."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Awaitable, Callable
from dataclasses import dataclass

from plumrake.core.dom import Document, Position
from plumrake.lenses.align import positions
from plumrake.lenses.fetch import Fetched, Limits
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.lenses.problems import Unreadable
from plumrake.lenses.rendered.browser import BrowserPool
from plumrake.lenses.rendered.decode import decode_document

PictureIf = Callable[[Document], Awaitable[bool]]
"""Tells whether a page's picture is wanted."""

_TALLEST = 12_000
_TRIES = 3


@dataclass(frozen=True, slots=True)
class Rendered:
    """A rendered page: its document and, where it was wanted, its picture as JPEG."""

    document: Document
    picture: bytes | None


async def render(
    pool: BrowserPool, fetched: Fetched, address: str, limits: Limits, *, wait_for: str | None = None, picture_if: PictureIf | None = None
) -> Rendered:
    """Return the page as the browser shows it. Raises ``Unreadable``.

    ``picture_if`` is asked, with the page still open, whether its picture is wanted. A browser that dies is no fault
    of the page, so the page is tried again.
    """
    for attempt in range(_TRIES):
        try:
            return await _render(pool, fetched, address, limits, wait_for, picture_if)
        except Unreadable as problem:
            if problem.code != "browser-lost" or attempt == _TRIES - 1:
                raise
    raise AssertionError("the last try returns or raises")


async def _render(
    pool: BrowserPool, fetched: Fetched, address: str, limits: Limits, wait_for: str | None, picture_if: PictureIf | None
) -> Rendered:
    deadline = time.monotonic() + limits.seconds
    async with pool.tab() as tab:
        await tab.load(fetched, limits.seconds / 2)
        if wait_for is not None:
            await tab.wait_for(wait_for, max(1.0, deadline - time.monotonic()))
        answer = await tab.collect(max(1.0, deadline - time.monotonic()), limits.elements)
        document = await asyncio.to_thread(_document, answer, fetched, address, limits)
        wanted = picture_if is not None and await picture_if(document)
        return Rendered(document, await tab.picture(max(1.0, deadline - time.monotonic()), _TALLEST) if wanted else None)


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
