"""How many requests a minute somebody may make: each person's session or token, and each address
for what comes without one, or with one that is none. Counted by this process alone."""

from __future__ import annotations

import math
import time
from collections.abc import Mapping
from types import MappingProxyType

from limits import RateLimitItem, RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import SlidingWindowCounterRateLimiter
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from plumrake.actions.secret_hashes import secret_hash
from plumrake.service import problems
from plumrake.service.access import address_of, is_signed_in, session_cookie

_OF_AN_ADDRESS = 5
"""What comes from an address without a session or token is this part of what somebody may."""
_KNOWN_SECONDS = 600


class Paced:
    """Refuses what is too much for a minute, and says on each answer how much there is left
    (draft-ietf-httpapi-ratelimit-headers)."""

    def __init__(self, app: ASGIApp, *, a_minute: int) -> None:
        self._app = app
        self._storage = MemoryStorage()
        self._limiter = SlidingWindowCounterRateLimiter(self._storage)
        self._rules: Mapping[str, RateLimitItem] = MappingProxyType(
            {
                "person": RateLimitItemPerMinute(a_minute, namespace="person"),
                "address": RateLimitItemPerMinute(
                    max(1, a_minute // _OF_AN_ADDRESS), namespace="address"
                ),
            }
        )

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Count the request; pass it on, or refuse it."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self._app(scope, receive, send)
            return
        request = Request(scope)
        address, credential = address_of(request), _credential(request)
        person = secret_hash(credential).hex()
        if credential and (self._is_known(person) or self._has_room(address)):
            name, whose = "person", person
        else:
            name, whose = "address", address
        if not self._limiter.hit(self._rules[name], whose):
            await self._refusal(request, name, whose)(scope, receive, send)
            return

        async def told(message: Message) -> None:
            if message["type"] == "http.response.start":
                if name == "person" and is_signed_in(request):
                    self._storage.incr(f"known/{person}", _KNOWN_SECONDS)
                elif name == "person":
                    self._limiter.hit(self._rules["address"], address)
                message["headers"] = [
                    *message["headers"],
                    *(
                        (key.lower().encode(), value.encode())
                        for key, value in self._told(name, whose).items()
                    ),
                ]
            await send(message)

        await self._app(scope, receive, told)

    def _is_known(self, person: str) -> bool:
        """Tell whether a session or token was good lately: whoever has it is not kept out by others
        who try wrong ones from the same address."""
        return self._storage.get(f"known/{person}") > 0

    def _has_room(self, address: str) -> bool:
        return self._limiter.test(self._rules["address"], address)

    def _told(self, name: str, whose: str) -> dict[str, str]:
        rule = self._rules[name]
        left = self._limiter.get_window_stats(rule, whose)
        return {
            "RateLimit-Policy": f'"{name}";q={rule.amount};w={rule.get_expiry()}',
            "RateLimit": f'"{name}";r={left.remaining};t={_seconds(left.reset_time)}',
        }

    def _refusal(self, request: Request, name: str, whose: str) -> ASGIApp:
        rule = self._rules[name]
        wait = _seconds(self._limiter.get_window_stats(rule, whose).reset_time)
        whom = "one session or token" if name == "person" else "one address without signing in"
        return problems.problem(
            request,
            429,
            "too-many-requests",
            f"{rule.amount} requests a minute are let in from {whom}; wait {wait} s",
            {"Retry-After": str(wait), **self._told(name, whose)},
        )


def _credential(request: Request) -> str:
    _, _, token = request.headers.get("authorization", "").partition(" ")
    return token.strip() or session_cookie(request) or ""


def _seconds(moment: float) -> int:
    return max(1, math.ceil(moment - time.time()))
