"""What every connector does: read what a page is made from, and write it if it is still that."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import Protocol

from plumrake.connectors.page_files import is_markdown
from plumrake.lenses.sources import SourceForm


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
    form: SourceForm = "page"
    file: str = ""
    """The name of its file, below what the connection gives, where it is a file."""
    number: str = ""
    """What the system knows the item by, where it has items."""
    shown_at: str | None = None
    """Where the page that it makes is shown as it would go out, where the system says so; else the
    page is at its own address."""

    @classmethod
    def whole(cls, body: bytes, version: str, charset: str | None = None) -> SourceItem:
        """Return a source that is all of its page."""
        return cls(body, version, 0, len(body), charset)

    @classmethod
    def of_file(cls, body: bytes, version: str, name: str) -> SourceItem:
        """Return a file as a source: Markdown that the page is built of, by its name, or the
        page."""
        item = cls.whole(body, version)
        if is_markdown(name):
            return replace(item, file=name, form="markdown", charset="utf-8")
        return replace(item, file=name)


@dataclass(frozen=True, slots=True)
class ListedItem:
    """An item of a content system as it lists it: who wrote it, when it was changed last, where it
    is opened for editing; ``status`` is draft, pending, future (``due_at`` then) or publish; the
    path is the one that it has, or will have."""

    number: str
    kind: str
    status: str
    path: str
    title: str
    author: str
    email: str
    edit: str
    changed_at: datetime
    due_at: datetime | None = None
    version: str = ""
    """What the system asks the gate about it by, as it is now; where it was asked for by itself."""
    shown_at: str = ""
    """Where it is shown as it would go out; where it was asked for by itself."""


class Connector(Protocol):
    """One kind of system that sources are kept in."""

    async def read(self, path: str) -> SourceItem:
        """Return what the page at a path is made from. Raises ``Unreadable``."""

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Put what is the page's own, if it is still of that version. Raises ``SourceChanged``,
        ``CannotWrite``, ``Unreadable``."""

    async def check(self) -> list[str]:
        """Return what works, one sentence each. Raises ``BadConnection``, ``Unreadable``."""
