"""Evidence and where its content is: in the database, where it is kept with what it shows, and
later, where there is one, in a store beside it.

Contents are carried there by a worker some time after they were kept, so that what is kept is kept
in one transaction, and a store that is away keeps nobody from reading pages.
"""

from __future__ import annotations

import asyncio
import secrets
from dataclasses import dataclass
from itertools import groupby

from plumrake.actions.picturing import cut_all, keep_cuts
from plumrake.actions.ports import Connect
from plumrake.outbound.object_store import ObjectStore, StoreAway
from plumrake.records import causes, evidence
from plumrake.records.causes import PlaceToPictureRow

CARRIED_AFTER_SECONDS = 3600.0
"""So long contents stay in the database: sweeps under way cut pictures out of them."""
DROPPED_AFTER_DAYS = 30
"""So long the store keeps what nothing shows any more: for copies of the database that do."""
_BATCH, _MOST_BATCHES = 32, 200
_DROPPED_AT_ONCE = 500
_TRIED = b"Plum Rake was here"


@dataclass(frozen=True, slots=True)
class Content:
    """A piece of evidence with its content."""

    media_type: str
    content: bytes


async def content_by_hash(
    connect: Connect, store: ObjectStore | None, content_hash: str
) -> Content | None:
    """Return a piece of evidence from wherever its content is, or None. No connection is kept
    while the store is asked. Raises ``StoreAway``."""
    async with connect() as connection:
        row = await evidence.by_hash(connection, content_hash)
    if row is None:
        return None
    if row.content is not None:
        return Content(row.media_type, row.content)
    if store is None:
        raise StoreAway("this picture is in a store; set PLUMRAKE_EVIDENCE_STORE")
    content = await store.get(content_hash)
    return Content(row.media_type, content) if content is not None else None


async def carry(
    connect: Connect, store: ObjectStore, *, after_seconds: float = CARRIED_AFTER_SECONDS
) -> int:
    """Carry contents into the store that have been here for a while, and let go there what has not
    been shown for long; return how many were carried. Raises ``StoreAway``.

    Whatever breaks off is done again the next time: a content goes here only when it is there. Two
    may do it at once: what is put twice is the same, and what comes back stays here for longer than
    it takes to drop it.
    """
    number = 0
    for _ in range(_MOST_BATCHES):
        async with connect() as connection:
            rows = await evidence.to_carry(connection, seconds=after_seconds, limit=_BATCH)
        if not rows:
            break
        contents = [(row.hash, row.media_type, row.content) for row in rows]
        await asyncio.gather(
            *(
                store.put(content_hash, media_type, content)
                for content_hash, media_type, content in contents
                if content is not None
            )
        )
        async with connect() as connection:
            await evidence.mark_carried(connection, [row.hash for row in rows])
        number += len(rows)
    await _drop(connect, store)
    return number


async def _drop(connect: Connect, store: ObjectStore) -> None:
    async with connect() as connection:
        hashes = await evidence.to_drop(connection, days=DROPPED_AFTER_DAYS, limit=_DROPPED_AT_ONCE)
        shown = await evidence.still_shown(connection, hashes)
    gone = [one for one in hashes if one not in shown]
    if gone:
        await store.drop(gone)
    async with connect() as connection:
        await evidence.mark_dropped(connection, hashes)


async def bring_back(connect: Connect, store: ObjectStore) -> tuple[int, list[str]]:
    """Bring every content back into the database; return how many came, and the hashes of those
    that the store does not have. Raises ``StoreAway``."""
    number, after = 0, ""
    missing: list[str] = []
    while True:
        async with connect() as connection:
            hashes = await evidence.carried(connection, after=after, limit=_BATCH)
        if not hashes:
            return number, missing
        contents = await asyncio.gather(*(store.get(one) for one in hashes))
        async with connect() as connection:
            for content_hash, content in zip(hashes, contents, strict=True):
                if content is None:
                    missing.append(content_hash)
                    continue
                await evidence.bring_back(connection, content_hash, content)
                number += 1
        after = hashes[-1]


async def look_at_store(store: ObjectStore) -> str:
    """Return what is wrong with a store, empty where it takes, gives and drops."""
    name = f"tried-{secrets.token_hex(8)}"
    try:
        await store.put(name, "text/plain", _TRIED)
        found = await store.get(name)
        await store.drop([name])
    except StoreAway as problem:
        return str(problem)
    return "" if found == _TRIED else f"the store {store.address} gives back something else"


async def picture_from_store(connect: Connect, store: ObjectStore) -> None:
    """Cut the pictures of causes that wait for contents in the store. Raises ``StoreAway``."""
    async with connect() as connection:
        waiting = await causes.pictured_later(connection)
    for sweep_id in waiting:
        tried: set[tuple[str, int]] = set()
        while wanted := await _still_to_picture(connect, sweep_id, tried):
            tried |= {(place.key, place.finding) for place in wanted}
            for picture, group in groupby(wanted, key=lambda place: place.picture):
                found = await content_by_hash(connect, store, picture)
                if found is not None:
                    places = list(group)
                    cuts = await asyncio.to_thread(cut_all, found.content, places)
                    async with connect() as connection, connection.transaction():
                        await keep_cuts(connection, sweep_id, places, cuts)


async def _still_to_picture(
    connect: Connect, sweep_id: int, tried: set[tuple[str, int]]
) -> list[PlaceToPictureRow]:
    """Return the places of a sweep that nobody tried yet. Where there are none the sweep waits no
    more: in one transaction, so that none begins to wait in between."""
    async with connect() as connection, connection.transaction():
        await causes.hold_to_picture(connection, sweep_id)
        places = await causes.places_to_picture(connection, sweep_id)
        wanted = [place for place in places if (place.key, place.finding) not in tried]
        if not wanted:
            await causes.mark_pictured(connection, sweep_id)
        return wanted
