"""The words of a site: its own, and the doubtful ones of a sweep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from plumrake.records.queries import Connection, load, number, rows, run, texts

_QUERIES = load("words")


def words_filter(choice: str, *named: str | None) -> bool | None:
    """Return what a list lets through of the words in no dictionary: all of them (None), nothing
    else (True), or none (False). ``apart`` leaves them out of every list but one about a check, a
    cause or a page that was named: there they may be what is asked for."""
    if choice == "apart":
        return None if any(named) else False
    return True if choice == "only" else None


@dataclass(frozen=True, slots=True)
class SiteWordRow:
    """A word that is right on a site, and who added it."""

    id: int
    word: str
    added_by: str
    added_at: datetime


@dataclass(frozen=True, slots=True)
class DoubtfulWordRow:
    """A word of a sweep that is in no dictionary: on how many pages, in how many places, and where
    first."""

    word: str
    language: str
    places: int
    pages: int
    finding: int
    path: str
    excerpt: str
    cause: str


async def add(connection: Connection, site_id: int, words: Sequence[str], by: int) -> int:
    """Keep words; return how many are new."""
    return await run(connection, _QUERIES["add"], site_id=site_id, words=list(words), added_by=by)


async def drop(connection: Connection, site_id: int, word: str) -> bool:
    """Forget a word, and let the pages that were read with it be read again. False where there is
    no such word."""
    if not await run(connection, _QUERIES["drop"], site_id=site_id, word=word):
        return False
    await run(connection, _QUERIES["count_drop"], site_id=site_id)
    return True


async def of_site(
    connection: Connection, site_id: int, *, after: str = "", limit: int = 200
) -> list[SiteWordRow]:
    """Return a part of a site's words in the order of the alphabet, those after a word in small
    letters."""
    return await rows(
        connection, _QUERIES["of_site"], SiteWordRow, site_id=site_id, after=after, limit=limit
    )


async def count(connection: Connection, site_id: int) -> int:
    """Return how many words a site has."""
    return await number(connection, _QUERIES["count"], site_id=site_id)


async def all_of(connection: Connection, site_id: int) -> list[str]:
    """Return all words of a site."""
    return await texts(connection, _QUERIES["all"], site_id=site_id)


async def apply(connection: Connection, site_id: int, sweep_id: int) -> None:
    """Let a sweep's doubtful words that are the site's own be fine."""
    await run(connection, _QUERIES["apply"], site_id=site_id, sweep_id=sweep_id)


async def doubtful(
    connection: Connection, sweep_id: int, *, path: str | None = None, limit: int = 500
) -> list[DoubtfulWordRow]:
    """Return the doubtful words of a sweep, or of one page of it, those on most pages first."""
    return await rows(
        connection, _QUERIES["doubtful"], DoubtfulWordRow, sweep_id=sweep_id, path=path, limit=limit
    )
