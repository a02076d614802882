"""What links lead to: each address asked once in a while, politely (HEAD first, then GET), under
the address guard.

What cannot be told is not called dead: sign-ins, limits, errors and slowness of the other side,
pages that answer everything with 200.
"""

from __future__ import annotations

import asyncio
import re
import secrets
import time
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from urllib.parse import unquote, urljoin, urlsplit

import httpx
from selectolax.lexbor import LexborHTMLParser

from plumrake.core.addresses import normalised, origin
from plumrake.core.dom import Element
from plumrake.core.evidence import LinkState, Network
from plumrake.core.page import Page
from plumrake.net.fetch import transport_problem
from plumrake.net.problems import Unreadable
from plumrake.net.rate_limit import RateLimits, seconds_asked

Ask = Callable[[str], Awaitable[LinkState | None]]
"""Tell what a whole address leads to; None for what is no address to ask."""
_AGE_SECONDS = 600.0
_MOST_KEPT = 20_000
MOST_LINKS = 1_000
_MOST_BYTES = 1_000_000
_REDIRECTS = 10
_SECONDS_EACH = 8.0
_LONGEST_WAIT = 5.0
_NOT_FOR_HEAD = frozenset({400, 403, 404, 405, 406, 410, 500, 501, 503})
"""Answers to HEAD after which GET is tried: many servers know no HEAD, or answer it wrongly."""
_GONE = frozenset({404, 410})
_MAIL = re.compile(
    r"mailto:(\?.+|[^\s@?,]+@[^\s@?,]+\.[^\s@?,]+(,[^\s@?,]+@[^\s@?,]+\.[^\s@?,]+)*(\?.*)?)",
    re.IGNORECASE,
)
"""RFC 6068; a letter may be begun without saying to whom ("share by e-mail")."""
_PHONE = re.compile(r"tel:\+?[\d().\- ]*\d[\d().\- ]*(;.*)?", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Answered:
    """What an address answered: ``state`` as of ``LinkState``; the page's ids and title where its
    text was read."""

    state: str
    says: str = ""
    status: int | None = None
    chain: tuple[str, ...] = ()
    ids: frozenset[str] | None = None
    has_scripts: bool = False
    title: str = ""


@dataclass(frozen=True, slots=True)
class Environments:
    """The origins of a site: live, and staging where there is one."""

    live: str
    staging: str | None = None


class LinkProber:
    """Asks addresses and remembers the answers for a while; shared by all pages of one reader."""

    def __init__(
        self, client: httpx.AsyncClient, rate_limits: RateLimits, age_seconds: float = _AGE_SECONDS
    ) -> None:
        self._client = client
        self._rate_limits = rate_limits
        self._age = age_seconds
        self._known: dict[tuple[str, bool], tuple[float, asyncio.Task[Answered]]] = {}
        """When an address was asked, by address and whether its text was wanted."""
        self._excuses: dict[str, tuple[float, asyncio.Task[Answered]]] = {}
        """What a host answers to addresses that cannot exist, by its origin."""

    async def look(
        self, page: Page, environments: Environments, seconds: float, ask: Ask | None = None
    ) -> Network:
        """Return what the page's links lead to, as ``ask`` tells it; what is not answered within
        ``seconds`` cannot be told."""

        async def asked(address: str) -> LinkState | None:
            return await self.state_of(address, environments)

        links = [link for link in page.exposed(role="link") if link.has("href")][:MOST_LINKS]
        wanted = {
            link.index: asyncio.ensure_future(self._state(page, link, ask or asked))
            for link in links
        }
        if wanted:
            await asyncio.wait(wanted.values(), timeout=seconds)
        states: dict[int, LinkState] = {}
        for index, task in wanted.items():
            if not task.done():
                task.cancel()
                states[index] = LinkState("unknown", f"no answer came within {seconds:g} s")
            elif (state := task.result()) is not None:
                states[index] = state
        return Network(states, (environments.staging,) if environments.staging else ())

    @staticmethod
    async def _state(page: Page, link: Element, ask: Ask) -> LinkState | None:
        """Return what one link leads to; None for what is no address to ask."""
        written = link.get("href").strip()
        if written in ("", "#"):
            return None
        full = page.resolved(written)
        if full is None:
            return LinkState("dead", "it is no address")
        address, _, fragment = full.partition("#")
        if address == page.here:
            return LinkState("works", fragment=page.has_part(fragment))
        return await ask(full)

    async def state_of(
        self, full: str, environments: Environments, age: float = _AGE_SECONDS
    ) -> LinkState | None:
        """Return what a whole address leads to, asked in live and, where it is not there, in
        staging; None for what is no address to ask.

        What was asked no more than ``age`` seconds ago is not asked again.
        """
        scheme = full.partition(":")[0].casefold()
        if scheme in ("mailto", "tel"):
            return _written(full, scheme)
        if scheme not in ("http", "https"):
            return None
        try:
            full = normalised(full)
        except ValueError:
            return LinkState("dead", "it is no address")
        fragment = unquote(full.partition("#")[2])
        address = full.partition("#")[0]
        asked = "" if fragment.casefold() == "top" else fragment
        here = origin(address)
        if here not in (environments.live, environments.staging):
            return self._shown(await self._ask(address, bool(asked), age), asked)
        rest = address[len(here) :]
        live = await self._ask(environments.live + rest, bool(asked), age)
        if live.state == "dead" and environments.staging is not None:
            staging = await self._ask(environments.staging + rest, bool(asked), age)
            if staging.state == "works":
                return LinkState("only-in-staging", live.says, live.status, live.chain)
        return self._shown(live, asked)

    @staticmethod
    def _shown(answered: Answered, fragment: str) -> LinkState:
        there = None
        if fragment and answered.state == "works" and answered.ids is not None:
            there = fragment in answered.ids or (None if answered.has_scripts else False)
        return LinkState(answered.state, answered.says, answered.status, answered.chain, there)

    async def _ask(self, address: str, wants_text: bool, age: float) -> Answered:
        """Return what an address answers, from memory while that is fresh; several that ask at once
        wait for the one answer."""
        key, now = (address, wants_text), time.monotonic()
        known = self._known.get(key)
        if known is None or now - known[0] > min(age, self._age):
            while len(self._known) >= _MOST_KEPT:
                self._known.pop(next(iter(self._known)))
            known = self._known[key] = (
                now,
                asyncio.ensure_future(self._find_out(address, wants_text)),
            )
        return await asyncio.shield(known[1])

    async def _find_out(self, address: str, wants_text: bool) -> Answered:
        try:
            async with asyncio.timeout(_SECONDS_EACH):
                answered = await self._visit(address, wants_text)
                if (
                    answered.state == "works"
                    and not wants_text
                    and await self._answers_everything(
                        answered.chain[-1] if answered.chain else address
                    )
                ):
                    whole = await self._visit(address, wants_text=True)
                    missing = await self._missing(whole.chain[-1] if whole.chain else address)
                    if whole.title and whole.title == missing.title:
                        return Answered(
                            "unknown",
                            (
                                "the server answers addresses that do not exist as if they did, "
                                "and this page looks like its excuse"
                            ),
                            200,
                            whole.chain,
                        )
                return answered
        except (TimeoutError, httpx.TimeoutException):
            return Answered("unknown", f"no answer came within {_SECONDS_EACH:g} s")
        except Unreadable as problem:
            return Answered("dead" if problem.code == "host-unknown" else "unknown", str(problem))
        except httpx.TransportError as error:
            return Answered("unknown", str(transport_problem(error, address)))
        except (httpx.InvalidURL, UnicodeError):
            return Answered("dead", "it is no address")

    async def _visit(self, address: str, wants_text: bool) -> Answered:
        """Ask an address, following its redirects: by HEAD, and by GET where that is refused or the
        text is wanted."""
        here = address
        chain: list[str] = []
        waited = False
        for _ in range(_REDIRECTS + 1):
            response, body = await self._request("GET" if wants_text else "HEAD", here)
            if not wants_text and (
                response.status_code in _NOT_FOR_HEAD or (chain and response.is_success)
            ):  # where did it lead to: a sign-in?
                response, body = await self._request("GET", here)
            location = response.headers.get("location")
            if response.is_redirect and location:
                here = urljoin(here, location).partition("#")[0]
                if here in chain or here == address:
                    return Answered(
                        "dead",
                        "its redirects lead round in a circle",
                        response.status_code,
                        (*chain, here),
                    )
                chain.append(here)
                continue
            pause = (
                seconds_asked(response.headers.get("retry-after", ""))
                if response.status_code in (429, 503)
                else None
            )
            if pause is not None and pause <= _LONGEST_WAIT and not waited:
                waited = True
                self._rate_limits.of(urlsplit(here).netloc.lower()).wait(pause)
                continue
            return _judged(response, body, here, tuple(chain))
        return Answered("dead", f"it redirects more than {_REDIRECTS} times", None, tuple(chain))

    async def _request(self, method: str, address: str) -> tuple[httpx.Response, bytes]:
        async with (
            self._rate_limits.of(urlsplit(address).netloc.lower()).turn(),
            self._client.stream(method, address) as response,
        ):
            body = bytearray()
            if (
                method == "GET"
                and not response.is_redirect
                and "html" in response.headers.get("content-type", "")
            ):
                async for chunk in response.aiter_bytes():
                    body += chunk
                    if len(body) > _MOST_BYTES:
                        break
            return response, bytes(body)

    async def _answers_everything(self, address: str) -> bool:
        return (await self._missing(address)).state == "works"

    async def _missing(self, address: str) -> Answered:
        """Return what a host answers to an address that cannot exist, asked once for a host."""
        home, now = origin(address), time.monotonic()
        known = self._excuses.get(home)
        if known is None or now - known[0] > self._age:
            while len(self._excuses) >= _MOST_KEPT:
                self._excuses.pop(next(iter(self._excuses)))
            made_up = f"{home}/{secrets.token_hex(12)}"
            visit = asyncio.ensure_future(self._visit(made_up, wants_text=True))
            known = self._excuses[home] = (now, visit)
        return await asyncio.shield(known[1])


def _judged(
    response: httpx.Response, body: bytes, address: str, chain: tuple[str, ...]
) -> Answered:
    status = response.status_code
    words = f"{status} {response.reason_phrase}".rstrip()
    if status in _GONE:
        return Answered("dead", f"there is no such page ({words})", status, chain)
    if status in (401, 403):
        return Answered("unknown", f"it is closed to strangers ({words})", status, chain)
    if status >= 400:
        return Answered("unknown", f"the server answered {words}", status, chain)
    if not body:
        return Answered("works", "", status, chain)
    parser = LexborHTMLParser(body)
    if chain and parser.css_first("input[type=password i]") is not None:
        return Answered("unknown", "it leads to a sign-in", status, chain)
    title = parser.css_first("title")
    ids = {value for node in parser.css("[id]") if (value := node.attributes.get("id"))}
    ids |= {value for node in parser.css("a[name]") if (value := node.attributes.get("name"))}
    return Answered(
        "works",
        "",
        status,
        chain,
        frozenset(ids),
        parser.css_first("script") is not None,
        title.text(strip=True) if title is not None else "",
    )


def _written(address: str, scheme: str) -> LinkState:
    fits = (_MAIL if scheme == "mailto" else _PHONE).fullmatch(address)
    return (
        LinkState("works")
        if fits
        else LinkState(
            "dead",
            f"what is written is no {'e-mail address' if scheme == 'mailto' else 'phone number'}",
        )
    )
