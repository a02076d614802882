"""The rendered lens: fetched HTML to a document with styles and boxes, and the page's picture."""

from __future__ import annotations

import asyncio
import time
from dataclasses import dataclass

from plumrake.core.dom import Document, Position
from plumrake.lenses.align import positions
from plumrake.lenses.fetch import Fetched, Limits
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.lenses.problems import Unreadable
from plumrake.lenses.rendered.browser import BrowserPool
from plumrake.lenses.rendered.decode import decode_document

_TALLEST = 12_000
_TRIES = 3


@dataclass(frozen=True, slots=True)
class Rendered:
    """A rendered page: its document and, where asked for, its picture as WebP."""

    document: Document
    picture: bytes | None


async def render(
    pool: BrowserPool, fetched: Fetched, address: str, limits: Limits, *, wait_for: str | None = None, picture: bool = False
) -> Rendered:
    """Return the page as the browser shows it; a browser that dies is no fault of the page, so it is tried again. Raises ``Unreadable``."""
    for attempt in range(_TRIES):
        try:
            answer, shot = await _collect(pool, fetched, limits, wait_for, picture=picture)
            break
        except Unreadable as problem:
            if problem.code != "browser-lost" or attempt == _TRIES - 1:
                raise
    document = await asyncio.to_thread(_document, answer, fetched, address, limits)
    return Rendered(document, shot)


async def _collect(pool: BrowserPool, fetched: Fetched, limits: Limits, wait_for: str | None, *, picture: bool) -> tuple[str, bytes | None]:
    deadline = time.monotonic() + limits.seconds
    async with pool.tab() as tab:
        await tab.load(fetched, limits.seconds / 2)
        if wait_for is not None:
            await tab.wait_for(wait_for, max(1.0, deadline - time.monotonic()))
        answer = await tab.collect(max(1.0, deadline - time.monotonic()), limits.elements)
        return answer, await tab.picture(max(1.0, deadline - time.monotonic()), _TALLEST) if picture else None


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
