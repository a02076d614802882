"""One exchange over HTTP with a stranger: a request, the redirects that follow, one answer.

All of it stays inside one deadline and one limit of bytes. Pages, sitemaps, robots.txt, links and
the files of a page are all fetched so.
"""

from __future__ import annotations

import asyncio
import ssl
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager
from dataclasses import dataclass
from typing import TYPE_CHECKING
from urllib.parse import urljoin

from plumrake import __version__
from plumrake.net.guard import origin_of
from plumrake.net.problems import Unreadable
from plumrake.net.unpacking import BadCoding, TooMuch, unpacker

if TYPE_CHECKING:
    import httpx

_AGAIN = ("GET", "HEAD")
USER_AGENT = f"Mozilla/5.0 (compatible; PlumRake/{__version__})"


@dataclass(frozen=True, slots=True)
class ExchangeBounds:
    """What one exchange may cost: seconds and bytes in all (unpacked), redirects followed."""

    seconds: float
    bytes: int
    redirects: int = 10


@dataclass(frozen=True, slots=True)
class Answer:
    """What came in the end: from where, status, reason, headers (small letters; several of a name
    joined), body. ``is_whole`` is False where the body was not wanted or ends at the limit."""

    address: str
    status: int
    reason: str
    headers: dict[str, str]
    body: bytes = b""
    is_whole: bool = True

    @property
    def words(self) -> str:
        """Status and reason as one reads them: "404 Not Found"."""
        return f"{self.status} {self.reason}".rstrip()

    @property
    def is_success(self) -> bool:
        """Whether the status is 2xx."""
        return 200 <= self.status < 300

    @property
    def leads_to(self) -> str | None:
        """Where a redirect leads to, as a whole address; None where it is none."""
        location = self.headers.get("location")
        if self.status not in (301, 302, 303, 307, 308) or not location:
            return None
        return urljoin(self.address, location)

    @property
    def kind(self) -> str:
        """The media type, in small letters, without parameters; ``""`` where none is said."""
        return self.headers.get("content-type", "").partition(";")[0].strip().lower()


_NO_CONTENT = (204, 304)
"""Statuses whose answers end with their head (RFC 9110, 6.4.1)."""

Wants = Callable[[Answer], bool]
"""Tells from an answer without its body whether the body is wanted; may raise ``Unreadable``."""


def _always(_: Answer) -> bool:
    return True


async def exchange(
    client: httpx.AsyncClient,
    method: str,
    address: str,
    bounds: ExchangeBounds,
    *,
    headers: Mapping[str, str] | None = None,
    content: bytes | None = None,
    wants: Wants = _always,
) -> Answer:
    """Return what an address answers. A body that is larger than may be had ends at the limit.

    Raises ``Unreadable``: timed-out, too-many-redirects, bad-coding, or what the connection gives.
    """
    import httpx  # it takes a sixth of a second to load, and many a page needs no network

    try:
        async with asyncio.timeout(bounds.seconds):
            return await _follow(client, method, address, bounds, headers or {}, content, wants)
    except (TimeoutError, httpx.TimeoutException):
        raise Unreadable("timed-out", f"no whole answer within {bounds.seconds:g} s") from None
    except httpx.TransportError as error:
        raise _transport_problem(error, address) from None
    except BadCoding as problem:
        raise Unreadable("bad-coding", str(problem)) from None
    except (httpx.InvalidURL, UnicodeError):
        raise Unreadable("bad-address", f"'{address}' is no address that can be read") from None


async def _follow(
    client: httpx.AsyncClient,
    method: str,
    address: str,
    bounds: ExchangeBounds,
    headers: Mapping[str, str],
    content: bytes | None,
    wants: Wants,
) -> Answer:
    here = address
    for _ in range(bounds.redirects + 1):
        origin_of(here)
        async with _asked(client, method, here, headers, content) as response:
            answer = Answer(
                here,
                response.status_code,
                response.reason_phrase,
                {name.lower(): value for name, value in response.headers.items()},
                is_whole=False,
            )
            onward = answer.leads_to
            if onward is None or not bounds.redirects:
                # what has no content is read to its end: its connection can be used again
                if wants(answer) or method == "HEAD" or answer.status in _NO_CONTENT:
                    return await _with_body(answer, response, bounds)
                return answer
            here = onward
    raise Unreadable(
        "too-many-redirects", f"more than {bounds.redirects} redirects, the last to {here}"
    )


@asynccontextmanager
async def _asked(
    client: httpx.AsyncClient,
    method: str,
    address: str,
    headers: Mapping[str, str],
    content: bytes | None,
) -> AsyncIterator[httpx.Response]:
    """Ask, and once more where a host closes the connection without a word, as it may one that was
    kept open (RFC 9112, 9.3.1)."""
    import httpx

    for is_last in (method not in _AGAIN, True):
        try:
            request = client.build_request(method, address, headers=headers, content=content)
            response = await client.send(request, stream=True)
        except httpx.RemoteProtocolError:
            if is_last:
                raise
            continue
        try:
            yield response
        finally:
            await response.aclose()
        return


async def _with_body(answer: Answer, response: httpx.Response, bounds: ExchangeBounds) -> Answer:
    unpack = unpacker(answer.headers.get("content-encoding", ""), bounds.bytes)
    body = bytearray()
    is_whole = True
    try:
        async for chunk in response.aiter_raw():
            body += unpack.feed(chunk)
    except TooMuch:
        is_whole = False
    return Answer(
        answer.address, answer.status, answer.reason, answer.headers, bytes(body), is_whole
    )


def _transport_problem(error: httpx.TransportError, address: str) -> Unreadable:
    """Return the problem that a broken connection stands for."""
    cause: BaseException | None = error
    while cause is not None:
        if isinstance(cause, ssl.SSLError):
            return Unreadable(
                "tls-failed",
                f"the encryption of {address} cannot be trusted: {cause.reason or cause}",
            )
        cause = cause.__cause__ or cause.__context__
    return Unreadable("connection-failed", f"{address}: {error or 'the connection broke'}")
