"""A site's words: which are its own, and what may have been meant by one that is in no
dictionary."""

from __future__ import annotations

import asyncio
from collections.abc import Sequence

from plumrake.actions.verdicts import apply_to_newest
from plumrake.records import words
from plumrake.records.queries import Connection
from plumrake.spelling.dictionaries import DictionaryUnreadable, lexicon

_one_at_a_time = asyncio.Semaphore(1)


class NoDictionary(ValueError):
    """There is no dictionary for the language on this machine."""

    code = "no-dictionary"


async def add_words(connection: Connection, site_id: int, new: Sequence[str], by: int) -> int:
    """Make words a site's own; what the newest sweeps found of them is fine at once. Return how
    many are new."""
    async with connection.transaction():
        added = await words.add(connection, site_id, new, by)
        await apply_to_newest(connection, site_id)
    return added


async def drop_word(connection: Connection, site_id: int, word: str) -> bool:
    """Let a word be doubtful again: at once where the newest sweeps found it, elsewhere with the
    next. False where it is not the site's own."""
    async with connection.transaction():
        dropped = await words.drop(connection, site_id, word)
        await apply_to_newest(connection, site_id)
    return dropped


async def suggest(word: str, language: str) -> list[str]:
    """Return up to six words that may have been meant. Raises ``NoDictionary``."""
    known = await asyncio.to_thread(lexicon, language)
    if known is None:
        raise NoDictionary(
            f"language: there is no dictionary for '{language}' on this machine; install "
            "hunspell's, or write another tag"
        )
    async with _one_at_a_time:
        try:
            return await asyncio.to_thread(known.suggest, word)
        except DictionaryUnreadable as error:
            raise NoDictionary(f"language: {error}") from error
