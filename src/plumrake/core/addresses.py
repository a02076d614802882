"""Web addresses as they are compared: resolved, and brought into one form (RFC 3986, 6.2).

Two addresses that differ only in the case of scheme and host, a default port, dot segments, or in
how a letter is escaped name the same resource. Whoever compares addresses compares them here.
"""

from __future__ import annotations

import re
from urllib.parse import quote, urljoin, urlsplit, urlunsplit

_DEFAULT_PORTS = {"http": 80, "https": 443, "ws": 80, "wss": 443, "ftp": 21}
_UNRESERVED = frozenset("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-._~")
_ESCAPED = re.compile(r"%([0-9A-Fa-f]{2})")
_SAFE = "/%:@!$&'()*+,;=-._~?"
_TABS_AND_LINES = str.maketrans("", "", "\t\n\r")
_LONGEST = 8000
"""Longer addresses are compared as they are written."""


def origin(address: str) -> str:
    """Return what stands before the path of a web address: scheme, host and port (RFC 6454), as
    they are written."""
    return "/".join(address.split("/", 3)[:3])


def resolved(base: str, written: str) -> str | None:
    """Return the whole address that ``written`` names on a page, normalised; None for what is no
    address.

    White space around it and line breaks within do not count (URL Standard, 4.4).
    """
    try:
        return normalised(urljoin(base, written.strip().translate(_TABS_AND_LINES)))
    except ValueError:
        return None


def normalised(address: str) -> str:
    """Return a whole address in the one form that it is compared in (RFC 3986, 6.2.2 and 6.2.3).

    Raises ``ValueError`` for what is no address.
    """
    if len(address) > _LONGEST:
        return address
    parts = urlsplit(address)
    scheme = parts.scheme.lower()
    if scheme not in _DEFAULT_PORTS:
        return address
    path = _unescaped(_without_dots(parts.path)) or "/"
    query, fragment = _unescaped(parts.query), _unescaped(parts.fragment)
    return urlunsplit((scheme, _host(scheme, parts.netloc, parts.port), path, query, fragment))


def _host(scheme: str, netloc: str, port: int | None) -> str:
    user, separator, host = netloc.rpartition("@")
    name = host.lower()
    if port is not None:
        name = name.rpartition(":")[0]
        if port != _DEFAULT_PORTS[scheme]:
            name = f"{name}:{port}"
    return user + separator + name.removesuffix(":").rstrip(".")


def _without_dots(path: str) -> str:
    """Return a path without its dot segments, escaped ones too (RFC 3986, 5.2.4)."""
    kept: list[str] = []
    steps = path.split("/")
    for at, step in enumerate(steps):
        plain = step.lower().replace("%2e", ".")
        if plain in (".", ".."):
            if plain == ".." and len(kept) > 1:
                kept.pop()
            if at == len(steps) - 1:
                kept.append("")
        else:
            kept.append(step)
    return "/".join(kept)


def _unescaped(text: str) -> str:
    """Return a text with letters escaped only where they have to be, and then in capitals."""

    def plain(found: re.Match[str]) -> str:
        letter = chr(int(found[1], 16))
        return letter if letter in _UNRESERVED else f"%{found[1].upper()}"

    return _ESCAPED.sub(plain, quote(text, safe=_SAFE))
