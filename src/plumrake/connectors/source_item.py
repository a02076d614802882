"""What every connector does: read what a page is made from, and write it if it is still that."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol


class SourceChanged(RuntimeError):
    """The source is not the one any more that was read; nothing was written."""

    code = "source-changed"


class CannotWrite(RuntimeError):
    """The source cannot be written; nothing was."""

    code = "not-writable"


class BadConnection(ValueError):
    """The settings of a connection are not what they have to be."""

    code = "bad-connection"


@dataclass(frozen=True, slots=True)
class SourceItem:
    """What a page is made from: the ``body`` of the page, of which the bytes from ``own_start`` to
    ``own_end`` are the page's own; around it is its template. ``version`` is what a writer has to
    name."""

    body: bytes
    version: str
    own_start: int
    own_end: int
    charset: str | None = None

    @classmethod
    def whole(cls, body: bytes, version: str, charset: str | None = None) -> SourceItem:
        """Return a source that makes all of its page."""
        return cls(body, version, 0, len(body), charset)


class Connector(Protocol):
    """One kind of system that sources are kept in."""

    async def read(self, path: str) -> SourceItem:
        """Return what the page at a path is made from. Raises ``Unreadable``."""

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Put what is the page's own, if it is still of that version. Raises ``SourceChanged``,
        ``CannotWrite``, ``Unreadable``."""

    async def check(self) -> list[str]:
        """Return what works, one sentence each. Raises ``BadConnection``, ``Unreadable``."""
