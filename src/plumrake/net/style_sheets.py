"""Fetching style sheets: as a browser takes them, each once within a while."""

from __future__ import annotations

import asyncio
import re
import time
from collections import OrderedDict
from collections.abc import Callable, Iterable
from email.message import Message
from typing import TYPE_CHECKING
from urllib.parse import urlsplit

from webencodings import decode as web_decode

from plumrake.net.exchange import Answer, ExchangeBounds, exchange
from plumrake.net.fetch import LocalAnswer, LocalFiles
from plumrake.net.problems import Unreadable
from plumrake.net.rate_limit import RateLimits

if TYPE_CHECKING:
    import httpx

_KEPT_SECONDS = 5.0
_MOST_KEPT, _MOST_BYTES = 200, 2_000_000
_MOST_AT_HAND = 300_000
_SECONDS = 15.0
_CHARSET = re.compile(rb'\A@charset "([^"]{1,40})";')
_OUTAGES = frozenset(["timed-out", "connection-failed", "bad-coding", "too-many-redirects"])


class SheetsMissing(Exception):
    """A style sheet could not be had, although a browser might have had it."""


class StyleSheets:
    """Gives style sheets by their addresses, and keeps them for so many seconds."""

    def __init__(
        self,
        client: Callable[[], httpx.AsyncClient],
        rates: RateLimits,
        kept_seconds: float = _KEPT_SECONDS,
    ) -> None:
        self._kept_seconds = kept_seconds
        self._client = client
        self._rates = rates
        self._kept: OrderedDict[str, tuple[float, str | None]] = OrderedDict()
        self._turn = asyncio.Lock()

    async def texts(
        self, addresses: Iterable[str], files: LocalFiles | None, *, has_network: bool
    ) -> dict[str, str | None]:
        """Return the texts of style sheets, None for those that the server has not. Raises
        ``SheetsMissing``."""
        found: dict[str, str | None] = {}
        for address in addresses:
            answer = await asyncio.to_thread(files, address) if files is not None else None
            if answer is not None:
                found[address] = _of_file(answer)
            elif has_network:
                found[address] = await self._fetched(address)
            else:
                found[address] = None
        return found

    def at_hand(self) -> dict[str, str | None]:
        """Return the texts by address that were asked for last and are still kept, as far as they
        are no burden to hand over unasked."""
        now, room = time.monotonic(), _MOST_AT_HAND
        found: dict[str, str | None] = {}
        for address, (since, text) in reversed(self._kept.items()):
            room -= len(text or "")
            if room < 0:
                break
            if now - since < self._kept_seconds:
                found[address] = text
        return found

    async def _fetched(self, address: str) -> str | None:
        async with self._turn:
            kept = self._kept.get(address)
            if kept is not None and time.monotonic() - kept[0] < self._kept_seconds:
                self._kept.move_to_end(address)
                return kept[1]
            text = await self._ask(address)
            self._kept[address] = time.monotonic(), text
            self._kept.move_to_end(address)
            while len(self._kept) > _MOST_KEPT:
                self._kept.popitem(last=False)
            return text

    async def _ask(self, address: str) -> str | None:
        if urlsplit(address).scheme not in ("http", "https"):
            return None
        bounds = ExchangeBounds(_SECONDS, _MOST_BYTES)
        try:
            async with self._rates.of(urlsplit(address).netloc.lower()).turn():
                answer = await exchange(
                    self._client(), "GET", address, bounds, wants=lambda one: one.is_success
                )
        except Unreadable as problem:
            if problem.code in _OUTAGES:
                raise SheetsMissing(address) from None
            return None  # the browser may not have it either
        if not answer.is_success:
            return None
        if not answer.is_whole:
            raise SheetsMissing(address)
        return _text(answer)


def _of_file(answer: LocalAnswer) -> str | None:
    status, kind, body = answer
    return sheet_text(body, None) if status == 200 and kind.startswith("text/") else None


def _text(answer: Answer) -> str | None:
    """Return the text of what a server sent for a style sheet; another kind of file is none."""
    if answer.kind not in ("text/css", ""):
        return None
    message = Message()
    message["content-type"] = answer.headers.get("content-type", "")
    charset = message.get_param("charset")
    return sheet_text(answer.body, charset if isinstance(charset, str) else None)


def sheet_text(body: bytes, charset: str | None) -> str:
    """Return a style sheet's text (CSS Syntax 3, 3.2): by its byte order mark, the charset of HTTP,
    its ``@charset``, else UTF-8."""
    match = _CHARSET.match(body)
    label = charset or (match.group(1).decode("ascii", "replace") if match else "utf-8")
    try:
        return str(web_decode(body, label, errors="replace")[0])
    except LookupError:
        return body.decode("utf-8", "replace")
