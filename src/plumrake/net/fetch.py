"""Fetching a page's HTML: what is a page, and what is known of it from before."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from email.message import Message
from typing import TYPE_CHECKING

from plumrake.net.exchange import Answer, ExchangeBounds, exchange
from plumrake.net.problems import Unreadable
from plumrake.net.rate_limit import seconds_asked

if TYPE_CHECKING:
    import httpx

_UNMODIFIED = 304
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
    there. What it leaves (None) is the network's, if the page ``has_network``. ``is_fragment``:
    the body is a part of a page.
    """

    address: str
    status: int
    headers: dict[str, str]
    body: bytes
    files: LocalFiles | None = None
    has_network: bool = True
    is_fragment: bool = False

    @property
    def is_unmodified(self) -> bool:
        """Whether the server said that the page is still what the request knew (304); there is no
        body then."""
        return self.status == _UNMODIFIED

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
    client: httpx.AsyncClient,
    address: str,
    limits: Limits,
    known: KnownCopy | None = None,
    headers: Mapping[str, str] | None = None,
) -> Fetched:
    """Return the HTML at ``address``, asked for with further ``headers``, or that it is unmodified.
    Raises ``Unreadable``; the whole takes at most ``limits.seconds``."""

    def is_page(answer: Answer) -> bool:
        _look_at_head(answer, limits)
        return True

    answer = await exchange(
        client,
        "GET",
        address,
        ExchangeBounds(limits.seconds, limits.bytes, limits.redirects),
        headers={**(headers or {}), **(known.headers() if known is not None else {})},
        wants=is_page,
    )
    if not answer.is_whole:
        raise Unreadable(
            "too-large", f"the page has more than the {limits.bytes:,} bytes that may be read"
        )
    return Fetched(answer.address, answer.status, answer.headers, answer.body)


def _look_at_head(answer: Answer, limits: Limits) -> None:
    """Raise ``Unreadable`` where an answer is no page that can be read, by its head alone."""
    if answer.status == _UNMODIFIED:
        return
    if answer.status >= 400:
        says = f"the server answered {answer.words}"
        asked = seconds_asked(answer.headers.get("retry-after", ""))
        if answer.status in (429, 503) and asked is not None:
            raise Busy(says, asked, answer.status)
        raise Unreadable("http-status", says, answer.status)
    kind = answer.kind or "text/html"
    if kind not in _HTML:
        raise Unreadable("not-html", f"what came is '{kind}', not an HTML page")
    declared = answer.headers.get("content-length", "")
    if declared.isdigit() and int(declared) > limits.bytes:
        raise Unreadable(
            "too-large",
            f"the page has {int(declared):,} bytes, more than the {limits.bytes:,} that may be "
            "read",
        )
