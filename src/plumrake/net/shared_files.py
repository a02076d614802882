"""What the pages of one sweep share on purpose: files that one of them has drawn in already, and
what is known of pictures.

Nothing else of one reading is met by another, and nothing of one sweep by another; a sweep is of
one site.
"""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from plumrake.core.content_hash import hash_of

_MOST_BYTES, _MOST_OF_ONE = 64_000_000, 1_000_000
_MOST_KNOWN = 20_000
_NOT_SHARED = ("no-store", "private")


@dataclass(frozen=True)
class StoredFile:
    """A file as its server gave it: headers as the DevTools protocol has them, body in base64."""

    headers: tuple[dict[str, str], ...]
    body: str

    @cached_property
    def content_hash(self) -> str:
        """What the body is known by."""
        return hash_of(self.body.encode("ascii"))


@dataclass(slots=True)
class SharedFiles:
    """Files by kind and address, hashes of pictures by address, words by what a picture is known
    by. The oldest go where there are too many."""

    hashes: OrderedDict[str, str] = field(default_factory=OrderedDict)
    words: OrderedDict[Any, Any] = field(default_factory=OrderedDict)
    _files: OrderedDict[tuple[str, str], StoredFile] = field(default_factory=OrderedDict)
    _size: int = 0

    def file(self, kind: str, address: str) -> StoredFile | None:
        """Return a file that a page of the sweep drew in."""
        return self._files.get((kind, address))

    def keep(self, kind: str, address: str, stored: StoredFile) -> None:
        """Keep a file for the pages to come."""
        if len(stored.body) > _MOST_OF_ONE or (kind, address) in self._files:
            return
        self._files[kind, address] = stored
        self._size += len(stored.body)
        while self._size > _MOST_BYTES:
            _, dropped = self._files.popitem(last=False)
            self._size -= len(dropped.body)

    def remember(self, known: OrderedDict[Any, Any], key: Any, value: Any) -> None:
        """Keep a hash or the words of a picture."""
        known[key] = value
        while len(known) > _MOST_KNOWN:
            known.popitem(last=False)


def hash_of_data(address: str) -> str | None:
    """Return what a picture is known by that stands in its address (``data:``), None for another
    address."""
    is_data = address.startswith("data:")
    return hashlib.sha256(address.encode()).hexdigest() if is_data else None


def may_be_shared(status: int, headers: dict[str, str]) -> bool:
    """Tell whether every page of a site gets the same file, by the status and the headers (small
    letters) of its answer: nothing private, nothing that depends on who asks, nothing large."""
    kept = headers.get("cache-control", "").lower()
    depends = {one.strip() for one in headers.get("vary", "").lower().split(",")}
    length = headers.get("content-length", "")
    return (
        status == 200
        and not any(word in kept for word in _NOT_SHARED)
        and depends <= {"", "accept-encoding", "origin", "accept"}
        and "set-cookie" not in headers
        and length.isdigit()
        and int(length) <= _MOST_OF_ONE
    )
