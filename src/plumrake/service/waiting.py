"""Waiting a moment for what a worker does, within one request."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Awaitable, Callable
from typing import TypeVar

Found = TypeVar("Found")

_LOOK_EVERY = (0.03, *[0.015] * 16, 0.04, 0.08)
"""Seconds: what a worker does at once, as answering the gate for what it knows, is seen at once."""


async def until(look: Callable[[], Awaitable[Found | None]], seconds: float) -> Found | None:
    """Look again and again until there is something, or the time is over."""
    end, tries = time.monotonic() + seconds, 0
    while True:
        found = await look()
        if found is not None or time.monotonic() >= end:
            return found
        await asyncio.sleep(_LOOK_EVERY[min(tries, len(_LOOK_EVERY) - 1)])
        tries += 1
