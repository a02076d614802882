"""Evidence: pictures, each content once, here or in the store beside the database."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from plumrake.records.queries import Connection, load, one, row_or_none, rows, run, texts

_QUERIES = load("evidence")


@dataclass(frozen=True, slots=True)
class EvidenceRow:
    """A piece of evidence by the hash of its content; ``content`` is None where it was carried
    into the store."""

    hash: str
    media_type: str
    content: bytes | None


@dataclass(frozen=True, slots=True)
class EvidenceFiguresRow:
    """How many contents are in the database, and how many were carried into the store."""

    here: int
    carried: int


async def keep(connection: Connection, content_hash: str, media_type: str, content: bytes) -> None:
    """Keep a picture, once per content."""
    await run(
        connection, _QUERIES["keep"], hash=content_hash, media_type=media_type, content=content
    )


async def by_hash(connection: Connection, content_hash: str) -> EvidenceRow | None:
    """Return a piece of evidence, or None."""
    return await row_or_none(connection, _QUERIES["by_hash"], EvidenceRow, hash=content_hash)


async def forget(connection: Connection, *, older_than_days: int, kept_sweeps: int) -> int:
    """Forget page pictures of old sweeps and whatever nothing shows any more; return how many
    pieces of evidence went."""
    await run(
        connection, _QUERIES["release_pictures"], days=older_than_days, kept_sweeps=kept_sweeps
    )
    await run(connection, _QUERIES["release_page_pictures"], days=older_than_days)
    await run(connection, _QUERIES["release_correction_pictures"], days=older_than_days)
    await run(connection, _QUERIES["forget_inventories"])
    await run(connection, _QUERIES["forget_ways"])
    await run(connection, _QUERIES["forget_shown"])
    return await run(connection, _QUERIES["forget"])


async def to_carry(connection: Connection, *, seconds: float, limit: int) -> list[EvidenceRow]:
    """Return contents that have been here for so many seconds, the oldest first."""
    return await rows(connection, _QUERIES["to_carry"], EvidenceRow, seconds=seconds, limit=limit)


async def mark_carried(connection: Connection, hashes: Sequence[str]) -> None:
    """Let contents go that are in the store."""
    await run(connection, _QUERIES["mark_carried"], names=list(hashes))


async def to_drop(connection: Connection, *, days: int, limit: int) -> list[str]:
    """Return the hashes of contents in the store that went here so many days ago."""
    return await texts(connection, _QUERIES["to_drop"], days=days, limit=limit)


async def still_shown(connection: Connection, hashes: Sequence[str]) -> set[str]:
    """Return those of some contents that came back meanwhile."""
    return set(await texts(connection, _QUERIES["still_shown"], names=list(hashes)))


async def mark_dropped(connection: Connection, hashes: Sequence[str]) -> None:
    """Note that the store need not be told to drop these any more."""
    await run(connection, _QUERIES["mark_dropped"], names=list(hashes))


async def carried(connection: Connection, *, after: str, limit: int) -> list[str]:
    """Return hashes of contents that are in the store, those after one."""
    return await texts(connection, _QUERIES["carried"], after=after, limit=limit)


async def bring_back(connection: Connection, content_hash: str, content: bytes) -> None:
    """Keep a content here again."""
    await run(connection, _QUERIES["bring_back"], hash=content_hash, content=content)


async def figures(connection: Connection) -> EvidenceFiguresRow:
    """Return how many contents are where."""
    return await one(connection, _QUERIES["figures"], EvidenceFiguresRow)
