"""Pictures of places: cut out of the pages' pictures."""

from __future__ import annotations

import asyncio
import io
from collections.abc import Sequence
from itertools import groupby

from PIL import Image

from plumrake.core.content_hash import hash_of
from plumrake.records import causes, evidence
from plumrake.records.causes import PlaceToPictureRow
from plumrake.records.queries import Connection

MARGIN = 24
LEAST, MOST = (320, 120), (1280, 800)
_AT_ONCE = 2
"""So many pages' pictures are cut at once: one may be 100 MB when it is opened."""


async def picture_causes(connection: Connection, sweep_id: int, check: str | None = None) -> None:
    """Cut pictures of the causes, or of those of one check, out of the pages' pictures, of which
    each is opened once; where such a picture was carried into the store, a worker cuts out of it
    soon after."""
    wanted = await causes.places_to_picture(connection, sweep_id, check)
    groups = [list(group) for _, group in groupby(wanted, key=lambda place: place.picture)]
    for at in range(0, len(groups), _AT_ONCE):
        some = groups[at : at + _AT_ONCE]
        cuts = await asyncio.gather(*(_cuts_of(connection, sweep_id, places) for places in some))
        for places, those in zip(some, cuts, strict=True):
            await keep_cuts(connection, sweep_id, places, those)


async def _cuts_of(
    connection: Connection, sweep_id: int, places: Sequence[PlaceToPictureRow]
) -> list[bytes | None]:
    """Return what is cut out of one page's picture; None for each place where it is not at hand."""
    found = await evidence.by_hash(connection, places[0].picture)
    if found is not None and found.content is not None:
        return await asyncio.to_thread(cut_all, found.content, places)
    if found is not None:
        await causes.picture_later(connection, sweep_id)
    return [None] * len(places)


async def keep_cuts(
    connection: Connection,
    sweep_id: int,
    places: Sequence[PlaceToPictureRow],
    cuts: Sequence[bytes | None],
) -> None:
    """Keep what was cut out for places of causes of a sweep; None where a place is not in the
    picture."""
    for place, content in zip(places, cuts, strict=True):
        if content is not None:
            content_hash = hash_of(content)
            await evidence.keep(connection, content_hash, "image/webp", content)
            await causes.keep_picture(connection, sweep_id, place, content_hash)


def cut_all(picture: bytes, places: Sequence[PlaceToPictureRow]) -> list[bytes | None]:
    """Return the parts of a page's picture around places; see ``cut``."""
    with Image.open(io.BytesIO(picture)) as whole:
        whole.load()
        return [cut(whole, place.box) for place in places]


def cut_one(picture: bytes, box: list[int]) -> bytes | None:
    """Return the part of a page's picture around a box; see ``cut``."""
    with Image.open(io.BytesIO(picture)) as whole:
        whole.load()
        return cut(whole, box)


def cut(whole: Image.Image, box: list[int]) -> bytes | None:
    """Return the part of a page's picture around a box (x, y, width, height in CSS px) as WebP;
    None where it lies outside.

    There is a margin around it, a little context where it is small, and no more than 1280×800 px of
    it.
    """
    x, y, width, height = box
    if x >= whole.width or y >= whole.height or x + width <= 0 or y + height <= 0:
        return None
    wide = min(max(width + 2 * MARGIN, LEAST[0]), MOST[0], whole.width)
    high = min(max(height + 2 * MARGIN, LEAST[1]), MOST[1], whole.height)
    left = max(
        0,
        min(
            x - MARGIN if width + 2 * MARGIN >= LEAST[0] else x + width // 2 - wide // 2,
            whole.width - wide,
        ),
    )
    top = max(
        0,
        min(
            y - MARGIN if height + 2 * MARGIN >= LEAST[1] else y + height // 2 - high // 2,
            whole.height - high,
        ),
    )
    out = io.BytesIO()
    part = whole.crop((left, top, left + wide, top + high)).convert("RGB")
    part.save(out, "WEBP", quality=70, method=2)  # a third of the usual time, a little larger
    return out.getvalue()
