"""Single readings: a page over time, the ways to look at it, what of it counts; and finding anything by its words."""

from __future__ import annotations

import hashlib
import json
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from plumrake.core.inventory import Ways
from plumrake.records.queries import Connection, load, row_or_none, rows, run, with_fragment

_QUERIES = with_fragment(load("readings"), "reading")
_OF_INVENTORY = ("pictures", "links", "colours")
WAYS: tuple[str, ...] = (*Ways.__slots__, *_OF_INVENTORY)
"""The names of the ways to look that are kept."""


@dataclass(frozen=True, slots=True)
class ReadingFields:
    """What is shown of every reading of a page."""

    id: int
    page_id: int
    path: str
    address: str
    lens: str
    status: str
    problem_code: str | None
    problem_says: str | None
    title: str
    language: str
    content_hash: str | None
    ready: bool
    picture: str | None
    seconds: float
    read_at: datetime
    untested: list[dict[str, str]]
    kept: bool
    left_out: int
    failed: int


@dataclass(frozen=True, slots=True)
class ReadingInFull(ReadingFields):
    """A reading with its sweep and site; ``has_ways`` tells whether the ways to look at it are still kept."""

    sweep_id: int
    edition: str
    site: str
    site_name: str
    scope: str
    has_ways: bool
    elements: int
    doubtful: int


@dataclass(frozen=True, slots=True)
class HeldPage:
    """A page of a sweep with what of it counts, as pairs ``check weight``."""

    path: str
    status: str
    ready: bool
    counts: list[str]


@dataclass(frozen=True, slots=True)
class FoundPage:
    """A page found by its words."""

    path: str
    title: str


@dataclass(frozen=True, slots=True)
class FoundCause:
    """A cause found by its words."""

    key: str
    says: str
    check: str
    weight: str
    pages: int
    path: str


@dataclass(frozen=True, slots=True)
class FoundFix:
    """A fix found by its words or number."""

    id: int
    says: str
    state: str
    path: str


@dataclass(frozen=True, slots=True)
class _Ways:
    content: bytes | None
    pictures: list[dict[str, Any]] | None
    links: list[dict[str, Any]] | None
    colours: list[dict[str, Any]] | None


async def keep_ways(connection: Connection, ways: Ways) -> str:
    """Keep the ways to look at a page; return what they are known by."""
    content = json.dumps({name: getattr(ways, name) for name in Ways.__slots__}, ensure_ascii=False, sort_keys=True).encode("utf-8", "replace")
    known_by = hashlib.sha256(content).hexdigest()
    await run(connection, _QUERIES["keep_ways"], hash=known_by, content=zlib.compress(content, 6))
    return known_by


async def ways_of(connection: Connection, reading_id: int) -> Mapping[str, list[dict[str, Any]]]:
    """Return the ways to look at the page of a reading by name; those that are not kept any more are left out."""
    found = await row_or_none(connection, _QUERIES["ways"], _Ways, id=reading_id)
    if found is None:
        return {}
    kept = json.loads(zlib.decompress(found.content)) if found.content is not None else {}
    return kept | {name: rows_of for name in _OF_INVENTORY if (rows_of := getattr(found, name)) is not None}


async def reading_by_id(connection: Connection, reading_id: int) -> ReadingInFull | None:
    """Return a reading, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], ReadingInFull, id=reading_id)


async def readings_of_page(
    connection: Connection, site_id: int, path: str, *, edition: str | None, before: int | None, limit: int
) -> list[ReadingInFull]:
    """Return a page's readings, the newest first."""
    values = {"site_id": site_id, "path": path, "edition": edition, "before": before, "limit": limit}
    return await rows(connection, _QUERIES["of_page"], ReadingInFull, **values)


async def held_pages(connection: Connection, sweep_id: int) -> list[HeldPage]:
    """Return the pages of a sweep with what of each counts."""
    return await rows(connection, _QUERIES["held"], HeldPage, sweep_id=sweep_id)


def _like(words: str) -> dict[str, str]:
    safe = words.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return {"like": f"%{safe}%", "begins": f"{safe}%"}


async def find_pages(connection: Connection, sweep_id: int, words: str, limit: int) -> list[FoundPage]:
    """Return pages of a sweep whose path or title holds the words."""
    return await rows(connection, _QUERIES["find_pages"], FoundPage, sweep_id=sweep_id, limit=limit, **_like(words))


async def find_causes(connection: Connection, sweep_id: int, words: str, limit: int) -> list[FoundCause]:
    """Return causes of a sweep whose words, check or markup hold the words."""
    return await rows(connection, _QUERIES["find_causes"], FoundCause, sweep_id=sweep_id, limit=limit, like=_like(words)["like"])


async def find_fixes(connection: Connection, site_id: int, words: str, limit: int) -> list[FoundFix]:
    """Return fixes of a site by number or words."""
    like = _like(words)["like"]
    return await rows(connection, _QUERIES["find_fixes"], FoundFix, site_id=site_id, limit=limit, like=like, words=words.strip())
