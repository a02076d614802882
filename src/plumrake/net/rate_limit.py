"""RateLimits towards a host: how many requests at once, the pause between them, and waiting where
it asks for it (RFC 9110, 10.2.3)."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime

MOST_SECONDS = 120.0
"""How long a host may ask us to wait."""


class Host:
    """One host: a turn at it is taken with ``turn()``."""

    def __init__(self, parallel: int, pause: float) -> None:
        self.parallel = parallel
        self.pause = pause
        self._free = asyncio.Semaphore(parallel)
        self._next = 0.0

    @contextlib.asynccontextmanager
    async def turn(self) -> AsyncIterator[None]:
        """Wait for a free place, for the pause since the last one began, and for what the host
        asked for."""
        async with self._free:
            now = asyncio.get_running_loop().time()
            begin = max(now, self._next)
            self._next = begin + self.pause
            if begin > now:
                await asyncio.sleep(begin - now)
            yield

    def wait(self, seconds: float) -> None:
        """Begin no further request before so many seconds have passed."""
        self._next = max(self._next, asyncio.get_running_loop().time() + seconds)


class RateLimits:
    """The hosts of one reader."""

    def __init__(self) -> None:
        self._hosts: dict[str, Host] = {}

    def of(self, host: str) -> Host:
        """Return a host; one that nobody set up is asked by up to 8 at once without a pause."""
        return self._hosts.setdefault(host, Host(8, 0.0))

    def set_up(self, host: str, parallel: int, pause: float) -> None:
        """Set how a host is to be asked; requests under way are not touched."""
        known = self._hosts.get(host)
        if known is None or (known.parallel, known.pause) != (parallel, pause):
            self._hosts[host] = Host(parallel, pause)


def seconds_asked(retry_after: str) -> float | None:
    """Return what a ``Retry-After`` asks for in seconds, from 0 to ``MOST_SECONDS``; None where it
    cannot be read or asks for more."""
    value = retry_after.strip()
    if value.isdigit():
        seconds = float(value)
    else:
        try:
            seconds = max(0.0, (parsedate_to_datetime(value) - datetime.now(UTC)).total_seconds())
        except (ValueError, TypeError):
            return None
    return seconds if seconds <= MOST_SECONDS else None
