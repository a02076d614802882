"""Single readings: a page over time, the views of it, what of it counts; and finding anything by
its words."""

from __future__ import annotations

import hashlib
import json
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from plumrake.core.inventory import PageViews
from plumrake.records.members import with_example
from plumrake.records.queries import Connection, load, row_or_none, rows, run, with_fragment

_QUERIES = with_fragment(load("readings"), "reading")
_OF_INVENTORY = ("pictures", "links", "colours")
PAGE_VIEWS: tuple[str, ...] = (*PageViews.__slots__, *_OF_INVENTORY)
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
    unchanged: bool
    left_out: int
    failed: int


@dataclass(frozen=True, slots=True)
class ReadingInFullRow(ReadingFields):
    """A reading with its sweep and site; ``has_views`` tells whether the views of it are still
    stored."""

    sweep_id: int
    environment: str
    site: str
    site_name: str
    scope: str
    has_views: bool
    elements: int
    doubtful: int


@dataclass(frozen=True, slots=True)
class HeldPageRow:
    """A page of a sweep with its findings as fields of ``DecidedFinding``, each kind once."""

    path: str
    kind: str
    status: str
    ready: bool
    findings: list[dict[str, Any]]


@dataclass(frozen=True, slots=True)
class MatchingPageRow:
    """A page found by its words."""

    path: str
    title: str


@dataclass(frozen=True, slots=True)
class MatchingCauseRow:
    """A cause found by its words."""

    key: str
    says: str
    check: str
    weight: str
    pages: int
    path: str


@dataclass(frozen=True, slots=True)
class MatchingFixRow:
    """A fix found by its words or number."""

    id: int
    says: str
    state: str
    path: str


@dataclass(frozen=True, slots=True)
class _PageViews:
    content: bytes | None
    pictures: list[dict[str, Any]] | None
    links: list[dict[str, Any]] | None
    colours: list[dict[str, Any]] | None


async def store_page_views(connection: Connection, page_views: PageViews) -> str:
    """Keep the views of a page; return what they are known by."""
    content = json.dumps(
        {name: getattr(page_views, name) for name in PageViews.__slots__},
        ensure_ascii=False,
        sort_keys=True,
    ).encode("utf-8", "replace")
    known_by = hashlib.sha256(content).hexdigest()
    await run(
        connection, _QUERIES["store_page_views"], hash=known_by, content=zlib.compress(content, 6)
    )
    return known_by


async def page_views_of(
    connection: Connection, reading_id: int
) -> Mapping[str, list[dict[str, Any]]]:
    """Return the views of the page of a reading by name; those that are not kept any more are left
    out."""
    found = await row_or_none(connection, _QUERIES["page_views"], _PageViews, id=reading_id)
    if found is None:
        return {}
    kept = json.loads(zlib.decompress(found.content)) if found.content is not None else {}
    return kept | {
        name: rows_of for name in _OF_INVENTORY if (rows_of := getattr(found, name)) is not None
    }


async def reading_by_id(connection: Connection, reading_id: int) -> ReadingInFullRow | None:
    """Return a reading, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], ReadingInFullRow, id=reading_id)


async def readings_of_page(
    connection: Connection,
    site_id: int,
    path: str,
    *,
    environment: str | None,
    before: int | None,
    limit: int,
) -> list[ReadingInFullRow]:
    """Return a page's readings, the newest first."""
    values = {
        "site_id": site_id,
        "path": path,
        "environment": environment,
        "before": before,
        "limit": limit,
    }
    return await rows(connection, _QUERIES["of_page"], ReadingInFullRow, **values)


async def held_pages(connection: Connection, sweep_id: int) -> list[HeldPageRow]:
    """Return the pages of a sweep with what of each counts."""
    return await rows(connection, _QUERIES["held"], HeldPageRow, sweep_id=sweep_id)


def _like(words: str) -> dict[str, str]:
    safe = words.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return {"like": f"%{safe}%", "begins": f"{safe}%"}


async def find_pages(
    connection: Connection, sweep_id: int, words: str, limit: int
) -> list[MatchingPageRow]:
    """Return pages of a sweep whose path or title holds the words."""
    return await rows(
        connection,
        _QUERIES["find_pages"],
        MatchingPageRow,
        sweep_id=sweep_id,
        limit=limit,
        **_like(words),
    )


async def find_causes(
    connection: Connection, sweep_id: int, words: str, limit: int
) -> list[MatchingCauseRow]:
    """Return causes of a sweep whose words, check or markup hold the words."""
    query = await with_example(connection, _QUERIES["find_causes"])
    return await rows(
        connection,
        query,
        MatchingCauseRow,
        sweep_id=sweep_id,
        limit=limit,
        like=_like(words)["like"],
    )


async def find_fixes(
    connection: Connection, site_id: int, words: str, limit: int
) -> list[MatchingFixRow]:
    """Return fixes of a site by number or words."""
    like = _like(words)["like"]
    return await rows(
        connection,
        _QUERIES["find_fixes"],
        MatchingFixRow,
        site_id=site_id,
        limit=limit,
        like=like,
        words=words.strip(),
    )
