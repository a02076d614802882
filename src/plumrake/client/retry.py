"""When a request is worth repeating, and after how long."""

from __future__ import annotations

import random

import httpx

TRIES = 4
_REPEATABLE = frozenset({"GET", "HEAD", "DELETE", "PUT"})
_PASSING = frozenset({429, 502, 503, 504})


def is_safe(method: str, headers: dict[str, str]) -> bool:
    """Tell whether sending the request twice does no more than sending it once."""
    return method in _REPEATABLE or "Idempotency-Key" in headers


def passes(response: httpx.Response) -> bool:
    """Tell whether the answer says "not now"."""
    return response.status_code in _PASSING


def pause(attempt: int, response: httpx.Response | None = None) -> float:
    """Return the seconds to wait before try ``attempt`` + 1: what the service asks for, else
    doubling with jitter."""
    asked = response.headers.get("retry-after", "") if response is not None else ""
    if asked.isdigit():
        return min(float(asked), 30.0)
    return random.uniform(0.5, 1.0) * 0.25 * float(2**attempt)  # noqa: S311
