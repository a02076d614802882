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
from collections.abc import Awaitable, Callable, Coroutine, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeVar
from urllib.parse import unquote, urlsplit

from selectolax.lexbor import LexborHTMLParser

from plumrake.core.addresses import normalised, origin
from plumrake.core.evidence import LinkState, Network
from plumrake.core.probes import PageLink
from plumrake.net.exchange import Answer, ExchangeBounds, exchange
from plumrake.net.problems import Unreadable
from plumrake.net.rate_limit import RateLimits, seconds_asked

if TYPE_CHECKING:
    import httpx

Ask = Callable[[str], Awaitable[LinkState | None]]
"""Tell what a whole address leads to; None for what is no address to ask."""
_AGE_SECONDS = 600.0
_MOST_KEPT = 20_000
_REDIRECTS = 10
_SECONDS_EACH = 8.0
_BOUNDS = ExchangeBounds(_SECONDS_EACH, 1_000_000, redirects=0)
"""Of one request; where it leads to is asked by a request of its own, in the turn of its host."""
_LONGEST_WAIT = 5.0
_NOT_FOR_HEAD = frozenset({400, 403, 404, 405, 406, 410, 500, 501, 503})
"""Answers to HEAD after which GET is tried: many servers know no HEAD, or answer it wrongly."""
_RESERVED = ("example", "invalid", "localhost", "test")
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
    is_name: bool = False
    """Whether it is about the host's name alone, which nobody could look up."""

    @property
    def is_one(self) -> bool:
        """Whether anything answered that is worth remembering: a name that could not be looked up
        is looked up anew, since it may be known in a moment."""
        return self.status is not None or (self.state != "unknown" and not self.is_name)


_Key = TypeVar("_Key")
Asked = tuple[float, asyncio.Task[Answered]]
"""When an address was asked, and what comes of it."""


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
        self._known: dict[tuple[str, bool], Asked] = {}
        """When an address was asked, by address and whether its text was wanted."""
        self._excuses: dict[str, Asked] = {}
        """What a host answers to addresses that cannot exist, by its origin."""
        self._knows_names = False
        """Whether a host of the outside answered, so that names can be looked up."""

    async def look(
        self,
        links: Sequence[PageLink],
        environments: Environments,
        seconds: float,
        ask: Ask | None = None,
    ) -> Network:
        """Return what a page's links lead to, as ``ask`` tells it; what is not answered within
        ``seconds`` cannot be told."""

        async def asked(address: str) -> LinkState | None:
            return await self.state_of(address, environments)

        wanted = {
            link.index: asyncio.ensure_future((ask or asked)(link.target))
            for link in links
            if link.state is None
        }
        if wanted:
            await asyncio.wait(wanted.values(), timeout=seconds)
        states: dict[int, LinkState] = {}
        for link in links:
            task = wanted.get(link.index)
            if task is None:
                states[link.index] = link.state or LinkState("unknown")
            elif not task.done():
                task.cancel()
                states[link.index] = LinkState("unknown", f"no answer came within {seconds:g} s")
            elif (state := task.result()) is not None:
                states[link.index] = state
        return Network(states, (environments.staging,) if environments.staging else ())

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
            known = _remember(self._known, key, now, self._find_out(address, wants_text))
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
        except (TimeoutError, Unreadable) as problem:
            if isinstance(problem, TimeoutError) or problem.code == "timed-out":
                return Answered("unknown", f"no answer came within {_SECONDS_EACH:g} s")
            if problem.code == "bad-address":
                return Answered("dead", "it is no address")
            if problem.code == "host-unknown":
                return self._without_name(address, str(problem))
            return Answered("unknown", str(problem))

    def _without_name(self, address: str, says: str) -> Answered:
        """Return what it means that a host's name is not known: that there is no such host, unless
        no name of the outside could be looked up yet (RFC 6761, 6: some names never can)."""
        host = urlsplit(address).hostname or ""
        is_reserved = host.rpartition(".")[2] in _RESERVED
        if is_reserved or self._knows_names:
            return Answered("dead", says, is_name=True)
        return Answered(
            "unknown", "no name of the outside could be looked up from here", is_name=True
        )

    async def _visit(self, address: str, wants_text: bool) -> Answered:
        """Ask an address, following its redirects: by HEAD, and by GET where that is refused or the
        text is wanted."""
        here = address
        chain: list[str] = []
        waited = False
        for _ in range(_REDIRECTS + 1):
            answer = await self._request("GET" if wants_text else "HEAD", here)
            if not wants_text and (
                answer.status in _NOT_FOR_HEAD or (chain and answer.is_success)
            ):  # where did it lead to: a sign-in?
                answer = await self._request("GET", here)
            if answer.leads_to is not None:
                here = answer.leads_to.partition("#")[0]
                if here in chain or here == address:
                    return Answered(
                        "dead",
                        "its redirects lead round in a circle",
                        answer.status,
                        (*chain, here),
                    )
                chain.append(here)
                continue
            pause = (
                seconds_asked(answer.headers.get("retry-after", ""))
                if answer.status in (429, 503)
                else None
            )
            if pause is not None and pause <= _LONGEST_WAIT and not waited:
                waited = True
                self._rate_limits.of(urlsplit(here).netloc.lower()).wait(pause)
                continue
            return await asyncio.to_thread(_judged, answer, tuple(chain))
        return Answered("dead", f"it redirects more than {_REDIRECTS} times", None, tuple(chain))

    async def _request(self, method: str, address: str) -> Answer:
        async with self._rate_limits.of(urlsplit(address).netloc.lower()).turn():
            answer = await exchange(self._client, method, address, _BOUNDS, wants=_is_text)
        self._knows_names = self._knows_names or _is_outside(urlsplit(address).hostname or "")
        return answer

    async def _answers_everything(self, address: str) -> bool:
        return (await self._missing(address)).state == "works"

    async def _missing(self, address: str) -> Answered:
        """Return what a host answers to an address that cannot exist, asked once for a host."""
        home, now = origin(address), time.monotonic()
        known = self._excuses.get(home)
        if known is None or now - known[0] > self._age:
            made_up = f"{home}/{secrets.token_hex(12)}"
            known = _remember(self._excuses, home, now, self._visit(made_up, wants_text=True))
        return await asyncio.shield(known[1])


def _remember(
    known: dict[_Key, Asked], key: _Key, now: float, asking: Coroutine[Any, Any, Answered]
) -> Asked:
    """Begin to ask and remember it; what is not answered in the end is forgotten, so that it is
    asked again."""
    while len(known) >= _MOST_KEPT:
        known.pop(next(iter(known)))
    task = asyncio.ensure_future(asking)
    known[key] = (now, task)

    def forget(done: asyncio.Task[Answered]) -> None:
        unanswered = done.cancelled() or done.exception() is not None or not done.result().is_one
        if unanswered and known.get(key) == (now, done):
            del known[key]

    task.add_done_callback(forget)
    return now, task


def _is_outside(host: str) -> bool:
    """Tell whether a host is known by a name that had to be looked up outside."""
    return "." in host and host.rpartition(".")[2].isalpha() and not host.endswith(".localhost")


def _is_text(answer: Answer) -> bool:
    return answer.leads_to is None and "html" in answer.kind


def _judged(answer: Answer, chain: tuple[str, ...]) -> Answered:
    status, words = answer.status, answer.words
    if status in _GONE:
        return Answered("dead", f"there is no such page ({words})", status, chain)
    if status in (401, 403):
        return Answered("unknown", f"it is closed to strangers ({words})", status, chain)
    if status >= 400:
        return Answered("unknown", f"the server answered {words}", status, chain)
    if not answer.body:
        return Answered("works", "", status, chain)
    parser = LexborHTMLParser(answer.body)
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
