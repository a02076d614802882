"""Fingerprints of what a page draws in (style sheets, scripts, pictures): whether they changed,
asked once each."""

from __future__ import annotations

import asyncio
import hashlib
from typing import TYPE_CHECKING

from plumrake.net.exchange import ExchangeBounds, exchange
from plumrake.net.problems import Unreadable

if TYPE_CHECKING:
    import httpx

_BOUNDS = ExchangeBounds(15.0, 10_000_000)
_MOST_PARALLEL = 8


class Fingerprints:
    """What files are known by, each asked for once in the life of this object; cheap for servers
    that name an ETag or a date."""

    def __init__(self, client: httpx.AsyncClient) -> None:
        self._client = client
        self._known: dict[str, asyncio.Task[str]] = {}
        self._turn = asyncio.Semaphore(_MOST_PARALLEL)

    async def of(self, address: str) -> str:
        """Return the fingerprint of the file at an address; an answer that is none, such as an
        error, has one too."""
        if address not in self._known:
            self._known[address] = asyncio.create_task(self._ask(address))
        return await asyncio.shield(self._known[address])

    async def of_all(self, addresses: tuple[str, ...]) -> dict[str, str]:
        """Return the fingerprints of several files by their addresses."""
        return dict(zip(addresses, await asyncio.gather(*map(self.of, addresses)), strict=True))

    async def _ask(self, address: str) -> str:
        try:
            async with self._turn:
                head = await exchange(self._client, "HEAD", address, _BOUNDS)
                marks = [
                    head.headers.get(name, "")
                    for name in ("etag", "last-modified", "content-length")
                ]
                if head.status == 200 and any(marks[:2]):
                    return _digest("marks", *marks)
                answer = await exchange(self._client, "GET", address, _BOUNDS)
        except Unreadable as problem:
            return _digest("problem", problem.code)
        content = await asyncio.to_thread(hashlib.sha256, answer.body)
        return _digest("content", str(answer.status), content.hexdigest())


def _digest(*parts: str) -> str:
    return hashlib.sha256("\x1f".join(parts).encode()).hexdigest()[:20]
