"""Views over all pages of a sweep: sections, pictures, colour pairs, links, titles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from plumrake.records.queries import Connection, load, rows
from plumrake.records.sweeps import SweepRow

_QUERIES = load("views")
_ALL = 2**31 - 1
_LAST = "\U0010ffff"


@dataclass(frozen=True, slots=True)
class SectionRow:
    """A step of the site's tree of addresses: a section (its path ends with ``/``) or a page, with
    figures."""

    path: str
    pages: int
    ready: int
    unreadable: int
    barriers: int
    obstacles: int
    frictions: int
    has_more: bool


@dataclass(frozen=True, slots=True)
class PictureFileRow:
    """A picture by the content of its file (by its address where the lens has no content), with all
    its uses counted."""

    key: str
    file: str
    source: str
    uses: int
    pages: int
    as_decorative: int
    without_text: int
    texts: list[str]
    first_path: str
    cut: dict[str, Any] | None
    contradictory: bool


@dataclass(frozen=True, slots=True)
class PictureUseRow:
    """One use of a picture."""

    path: str
    selector: str
    text: str
    decorative: bool
    cut: dict[str, Any] | None


@dataclass(frozen=True, slots=True)
class _Key:
    key: str


@dataclass(frozen=True, slots=True)
class ColourPairRow:
    """A pair of text and background colour; ``passes`` where all its uses do."""

    text: str
    background: str
    ratio: float
    required: float
    passes: bool
    uses: int
    pages: int
    first_path: str


@dataclass(frozen=True, slots=True)
class LinkRow:
    """Links of one text to one address, how that is written first, and what it was found to lead
    to, if it was asked."""

    text: str
    target: str
    address: str
    uses: int
    pages: int
    first_path: str
    state: str | None
    says: str | None
    status: int | None
    chain: list[str] | None
    asked_at: datetime | None


@dataclass(frozen=True, slots=True)
class TitleSharedRow:
    """A title, how many pages have it, and up to ten of them."""

    title: str
    pages: int
    paths: list[str]


async def sections(connection: Connection, sweep_id: int, under: str) -> list[SectionRow]:
    """Return what lies directly below a path that ends with ``/``."""
    return await rows(connection, _QUERIES["sections"], SectionRow, sweep_id=sweep_id, under=under)


async def pictures(
    connection: Connection,
    sweep_id: int,
    *,
    contradictory: bool,
    without_text: bool,
    after: tuple[int, str] | None,
    limit: int,
) -> list[PictureFileRow]:
    """Return the pictures, the most used first, those after a number of uses and a key."""
    uses, key = after or (_ALL, _LAST)
    values = {
        "after_uses": uses,
        "after_key": key,
        "contradictory": contradictory,
        "without_text": without_text,
        "limit": limit,
    }
    return await rows(connection, _QUERIES["pictures"], PictureFileRow, sweep_id=sweep_id, **values)


async def picture_uses(connection: Connection, sweep_id: int, key: str) -> list[PictureUseRow]:
    """Return the uses of one picture, up to a thousand."""
    return await rows(
        connection, _QUERIES["picture_uses"], PictureUseRow, sweep_id=sweep_id, key=key
    )


async def picture_causes(connection: Connection, sweep_id: int, key: str) -> list[str]:
    """Return the keys of the causes of the faults that one picture's places have."""
    return [
        found.key
        for found in await rows(
            connection, _QUERIES["picture_causes"], _Key, sweep_id=sweep_id, key=key
        )
    ]


async def colours(
    connection: Connection, sweep_id: int, *, limit: int = 1000
) -> list[ColourPairRow]:
    """Return the colour pairs, those that fail first."""
    return await rows(
        connection, _QUERIES["colours"], ColourPairRow, sweep_id=sweep_id, limit=limit
    )


async def links(
    connection: Connection,
    sweep: SweepRow,
    *,
    text: str | None,
    target: str | None,
    states: Sequence[str] | None,
    after: tuple[int, str, str] | None,
    limit: int,
) -> list[LinkRow]:
    """Return the links by text and address, the most used first, those after a number of uses, a
    text and an address."""
    uses, after_text, after_target = after or (_ALL, _LAST, _LAST)
    values: dict[str, object] = {
        "text": text,
        "target": target,
        "site_id": sweep.site_id,
        "states": states,
    }
    values |= {
        "after_uses": uses,
        "after_text": after_text,
        "after_target": after_target,
        "limit": limit,
    }
    return await rows(connection, _QUERIES["links"], LinkRow, sweep_id=sweep.id, **values)


async def titles(
    connection: Connection, sweep_id: int, *, after: tuple[int, str] | None, limit: int
) -> list[TitleSharedRow]:
    """Return the titles, the most shared first, those after a number of pages and a title."""
    pages, title = after or (_ALL, _LAST)
    return await rows(
        connection,
        _QUERIES["titles"],
        TitleSharedRow,
        sweep_id=sweep_id,
        after_pages=pages,
        after_title=title,
        limit=limit,
    )
