"""Fetching a page's HTML over HTTP under the guard, inside limits of time, bytes and redirects."""

from __future__ import annotations

import asyncio
import ssl
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from email.message import Message
from typing import Any
from urllib.parse import urljoin

import httpcore
import httpx

from plumrake import __version__
from plumrake.net.guard import Guard, origin_of
from plumrake.net.problems import Unreadable
from plumrake.net.rate_limit import seconds_asked

USER_AGENT = f"Mozilla/5.0 (compatible; PlumRake/{__version__})"
_HTML = ("text/html", "application/xhtml+xml")


@dataclass(frozen=True, slots=True)
class Limits:
    """What one reading may cost: seconds in all, bytes and elements of the page, redirects
    followed."""

    seconds: float = 30.0
    bytes: int = 25_000_000
    elements: int = 200_000
    redirects: int = 10


LocalAnswer = tuple[int, str, bytes]
"""Status, content type, body."""
LocalFiles = Callable[[str], LocalAnswer | None]
"""What lies at an address; None where that is not for the files to say."""


@dataclass(frozen=True, slots=True)
class Fetched:
    """A page's HTML as it came: the address it came from in the end, status, headers (small
    letters) and body.

    ``files`` answers for what lies beside a local page: what it gives for an address comes from
    there, and the network is asked only for what it leaves (None).
    """

    address: str
    status: int
    headers: dict[str, str]
    body: bytes
    files: LocalFiles | None = None

    @property
    def is_unmodified(self) -> bool:
        """Whether the server said that the page is still what the request knew (304); there is no
        body then."""
        return self.status == 304

    @property
    def charset(self) -> str | None:
        """The charset that the HTTP header names, or None."""
        message = Message()
        message["content-type"] = self.headers.get("content-type", "")
        value = message.get_param("charset")
        return value if isinstance(value, str) else None


class Busy(Unreadable):
    """The server asks us to come back after ``seconds``."""

    def __init__(self, says: str, seconds: float, http_status: int) -> None:
        super().__init__("http-status", says, http_status)
        self.seconds = seconds


@dataclass(slots=True)
class _GuardedBackend(httpcore.AsyncNetworkBackend):
    """httpcore's way to the network, led through the guard."""

    guard: Guard
    inner: httpcore.AsyncNetworkBackend = field(default_factory=httpcore.AnyIOBackend)

    async def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.AsyncNetworkStream:
        address = await self.guard.resolve(host, port)
        return await self.inner.connect_tcp(address, port, timeout, local_address, socket_options)

    async def sleep(self, seconds: float) -> None:
        await asyncio.sleep(seconds)


def guarded_client(guard: Guard, seconds: float = 30.0) -> httpx.AsyncClient:
    """Return an HTTP client that can reach only what the guard lets through; it follows no redirect
    by itself."""
    transport = httpx.AsyncHTTPTransport(retries=0)
    transport._pool = httpcore.AsyncConnectionPool(
        ssl_context=ssl.create_default_context(),
        network_backend=_GuardedBackend(guard),
        max_connections=20,
        keepalive_expiry=10,
    )
    headers = {
        "user-agent": USER_AGENT,
        "accept": "text/html,application/xhtml+xml;q=0.9,*/*;q=0.1",
    }
    return httpx.AsyncClient(
        transport=transport,
        headers=headers,
        follow_redirects=False,
        timeout=seconds,
        trust_env=False,
    )


@dataclass(frozen=True, slots=True)
class KnownCopy:
    """What is known of a page from an earlier reading: validators for a conditional request (RFC
    9110, 13.1)."""

    etag: str | None = None
    last_modified: str | None = None

    def headers(self) -> dict[str, str]:
        """Return the request's headers."""
        pairs = {"if-none-match": self.etag, "if-modified-since": self.last_modified}
        return {name: value for name, value in pairs.items() if value}


async def fetch_page(
    client: httpx.AsyncClient, address: str, limits: Limits, known: KnownCopy | None = None
) -> Fetched:
    """Return the HTML at ``address``, or that it is unmodified. Raises ``Unreadable``; the whole
    takes at most ``limits.seconds``."""
    try:
        async with asyncio.timeout(limits.seconds):
            return await _follow(
                client, address, limits, known.headers() if known is not None else {}
            )
    except (TimeoutError, httpx.TimeoutException):
        raise Unreadable("timed-out", f"no whole answer within {limits.seconds:g} s") from None
    except httpx.TransportError as error:
        raise transport_problem(error, address) from None
    except (httpx.InvalidURL, UnicodeError):
        raise Unreadable("bad-address", f"'{address}' is no address that can be read") from None


async def _follow(
    client: httpx.AsyncClient, address: str, limits: Limits, conditions: dict[str, str]
) -> Fetched:
    here = address
    for _ in range(limits.redirects + 1):
        origin_of(here)
        async with client.stream("GET", here, headers=conditions) as response:
            location = response.headers.get("location")
            if response.is_redirect and location:
                here = urljoin(here, location)
                continue
            return await _read(response, here, limits)
    raise Unreadable(
        "too-many-redirects", f"more than {limits.redirects} redirects, the last to {here}"
    )


async def _read(response: httpx.Response, address: str, limits: Limits) -> Fetched:
    if response.status_code == 304:
        return Fetched(address, 304, _headers(response), b"")
    if (
        response.status_code in (429, 503)
        and (asked := seconds_asked(response.headers.get("retry-after", ""))) is not None
    ):
        raise Busy(
            f"the server answered {response.status_code} {response.reason_phrase}".rstrip(),
            asked,
            response.status_code,
        )
    if response.status_code >= 400:
        raise Unreadable(
            "http-status",
            f"the server answered {response.status_code} {response.reason_phrase}".rstrip(),
            response.status_code,
        )
    kind = response.headers.get("content-type", "text/html").partition(";")[0].strip().lower()
    if kind not in _HTML:
        raise Unreadable("not-html", f"what came is '{kind}', not an HTML page")
    declared = response.headers.get("content-length", "")
    if declared.isdigit() and int(declared) > limits.bytes:
        raise Unreadable(
            "too-large",
            (
                f"the page has {int(declared):,} bytes, more than the {limits.bytes:,} that may "
                "be read"
            ),
        )
    body = bytearray()
    async for chunk in response.aiter_bytes():
        body += chunk
        if len(body) > limits.bytes:
            raise Unreadable(
                "too-large", f"the page has more than the {limits.bytes:,} bytes that may be read"
            )
    return Fetched(address, response.status_code, _headers(response), bytes(body))


def _headers(response: httpx.Response) -> dict[str, str]:
    return {name.lower(): value for name, value in response.headers.items()}


def transport_problem(error: httpx.TransportError, address: str) -> Unreadable:
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
