"""Why a page could not be read: one stable code and one sentence each. A problem is a result, not a
crash."""

from __future__ import annotations

from dataclasses import dataclass

GONE: frozenset[int] = frozenset({404, 410})
"""The statuses that say that there is no such page (RFC 9110, 15.5.5 and 15.5.11)."""
CODES: dict[str, str] = {
    "host-unknown": "No host of this name was found.",
    "address-refused": (
        "The address leads into a private network; register the site with leave for it."
    ),
    "connection-failed": "The host does not take the connection.",
    "tls-failed": "The host's certificate or encryption cannot be trusted.",
    "timed-out": "No whole answer came in time.",
    "too-large": "The page is larger than may be read.",
    "too-many-redirects": "The page redirects too often.",
    "http-status": "The server answered with an error.",
    "bad-coding": "What came is packed in a way that is not read, or is not what it says.",
    "not-html": "What came is no HTML page.",
    "script-endless": "A script on the page does not come to an end.",
    "sign-in-wanted": "The page leads to a sign-in instead of showing itself.",
    "leads-elsewhere": "The page sends the browser to another address by itself.",
    "journey-broken": "A step of the journey could not be taken.",
    "too-many-elements": "The page has more elements than may be read.",
    "page-too-hard": "To assess the page took more time or memory than may be taken, twice.",
    "browser-lost": "The browser stopped while it read the page.",
    "reader-failed": (
        "The reading broke off again and again for a reason of the program's own; its log says "
        "more."
    ),
    "file-missing": "There is no such file.",
    "file-unreadable": "The file cannot be opened.",
    "bad-hand-over": "What was handed over is no page as our collector tells of one.",
    "bad-frame": "The fragment cannot be set into its page frame.",
    "source-away": "The system that the page's source is kept in does not answer.",
    "no-source": "There is no source that the page is made from.",
    "bad-address": "This is no address that can be read.",
}
"""Every code with what it means."""


@dataclass(frozen=True, slots=True)
class Problem:
    """A code of ``CODES``, a sentence with the particulars, and what the server answered, where one
    did (RFC 9110, 15)."""

    code: str
    says: str
    http_status: int | None = None


class Unreadable(Exception):
    """Raised inside the lenses where a page cannot be had; carries the problem."""

    def __init__(self, code: str, says: str = "", http_status: int | None = None) -> None:
        assert code in CODES, f"unknown problem code {code}"
        super().__init__(says or CODES[code])
        self.code = code
        self.http_status = http_status

    @property
    def problem(self) -> Problem:
        """The problem as data."""
        return Problem(self.code, str(self), self.http_status)
