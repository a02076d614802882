"""Addresses of one site's pages: brought into one form, so that a page is met once; traps told from
pages."""

from __future__ import annotations

import mimetypes
import re
from collections import Counter
from urllib.parse import parse_qsl, quote, urlencode, urljoin, urlsplit

_LONGEST = 2000
_MOST_VARIANTS = 50
_MOST_REPEATS = 3
_MOST_STEPS = 25
_OF_SESSIONS = re.compile(r"(utm_\w+|phpsessid|jsessionid|sessionid|sid)", re.IGNORECASE)
_SESSION_IN_PATH = re.compile(r";jsessionid=[^/?]*", re.IGNORECASE)
_PAGE_TYPES = frozenset(["text/html", "application/xhtml+xml", None])
_SAFE = "/%:@!$&'()*+,;=-._~"


def page_path(base: str, href: str, origin: str) -> str | None:
    """Return the path with query that ``href`` on the page ``base`` leads to; None where that is no
    page of ``origin``.

    Fragments, session numbers and campaign marks are dropped; what is not allowed in an address is
    escaped (RFC 3986, 6.2.2).
    """
    try:
        parts = urlsplit(urljoin(base, href.strip()))
        here = urlsplit(origin)
        same = (parts.scheme, parts.hostname, parts.port or _usual(parts.scheme)) == (
            here.scheme,
            here.hostname,
            here.port or _usual(here.scheme),
        )
    except ValueError:
        return None
    if not same:
        return None
    path = quote(_SESSION_IN_PATH.sub("", parts.path) or "/", safe=_SAFE)
    kind, packed = mimetypes.guess_type(path)
    if kind not in _PAGE_TYPES or packed is not None:
        return None
    pairs = [
        (name, value)
        for name, value in parse_qsl(parts.query, keep_blank_values=True)
        if not _OF_SESSIONS.fullmatch(name)
    ]
    kept = (
        parts.query
        if len(pairs) == len(parse_qsl(parts.query, keep_blank_values=True))
        else urlencode(pairs)
    )
    whole = path + (f"?{quote(kept, safe=_SAFE + '?')}" if kept else "")
    return whole if len(whole) <= _LONGEST else None


def _usual(scheme: str) -> int | None:
    return {"http": 80, "https": 443}.get(scheme)


class Traps:
    """Tells addresses that a site makes without end: steps that repeat, very deep paths, queries in
    ever new variants."""

    def __init__(self) -> None:
        self._variants: Counter[str] = Counter()

    def is_one(self, path: str) -> bool:
        """Tell whether the address looks like one of an endless row; each new address is asked
        about once."""
        way, _, query = path.partition("?")
        steps = [step for step in way.split("/") if step]
        if len(steps) > _MOST_STEPS or any(
            count > _MOST_REPEATS for count in Counter(steps).values()
        ):
            return True
        if not query:
            return False
        self._variants[way] += 1
        return self._variants[way] > _MOST_VARIANTS
