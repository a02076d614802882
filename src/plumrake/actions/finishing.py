"""Finishing a sweep whose pages are all read: what shows only over all of them, causes, what came
back, pictures of causes."""

from __future__ import annotations

import asyncio
import io
from itertools import groupby

from PIL import Image

from plumrake.actions.corrections import settle_corrections
from plumrake.actions.fixes import settle
from plumrake.actions.notifying import tell_done
from plumrake.actions.ports import Connect, Enqueue
from plumrake.actions.sweeps import figures_of, kept_finding, policy_of
from plumrake.actions.swept_links import close_link_check
from plumrake.actions.verdicts import apply_to_sweep, note_mended
from plumrake.core.causes import gather
from plumrake.core.content_hash import hash_of
from plumrake.core.decisions import finding_holds
from plumrake.core.registry import PageFacts
from plumrake.core.sitewide import assess_site
from plumrake.records import causes, sweeps
from plumrake.records.causes import PlaceToPictureRow
from plumrake.records.handed_over import forget_handed_over
from plumrake.records.queries import Connection
from plumrake.records.sweeps import SweepRow

MARGIN = 24
LEAST, MOST = (320, 120), (1280, 800)


async def finish_sweep(connect: Connect, enqueue: Enqueue, sweep_id: int) -> None:
    """Finish a running sweep once every planned page has its reading; before, and after, nothing
    happens."""
    async with connect() as connection, connection.transaction():
        await sweeps.lock_sweep(connection, sweep_id)
        if not await sweeps.finish_if_complete(connection, sweep_id):
            return
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        assert sweep is not None
        await _look_across(connection, sweep)
        places = await causes.places(connection, sweep_id)
        known = await causes.known_by_template(connection, sweep.base_id)
        found = await asyncio.to_thread(
            gather, places, await causes.census(connection, sweep_id), known
        )
        await causes.keep_causes(connection, sweep, found)
        await _picture_causes(connection, sweep_id)
        await apply_to_sweep(connection, sweep.site_id, sweep_id)
        if not sweep.is_whole:
            await note_mended(connection, sweep)
        if policy_of(sweep).sweeps_follow_links and sweep.is_whole:
            await close_link_check(connection, sweep.site_id, sweep_id)
        await settle(connection, enqueue, sweep)
        await settle_corrections(connection, sweep)
        await forget_handed_over(connection, sweep_id)
        done = await sweeps.sweep_by_id(connection, sweep_id)
        assert done is not None
        await sweeps.add_event(connection, sweep_id, "done", figures_of(done))
        await tell_done(connection, done)


async def _look_across(connection: Connection, sweep: SweepRow) -> None:
    """Add what shows only over all pages of the sweep together."""
    titles = await sweeps.titles(connection, sweep.id)
    found = assess_site([PageFacts(one.path, one.title) for one in titles], policy_of(sweep))
    for number, extra in found.items():
        held = any(finding_holds(finding, policy_of(sweep).hold) for finding in extra)
        shaped = [kept_finding(finding) for finding in extra]
        await sweeps.add_site_findings(connection, titles[number].reading_id, shaped, held=held)


async def _picture_causes(connection: Connection, sweep_id: int) -> None:
    """Cut pictures of the causes out of the pages' pictures, each of which is opened once."""
    wanted = await causes.places_to_picture(connection, sweep_id)
    for picture, group in groupby(wanted, key=lambda place: place.picture):
        evidence = await sweeps.evidence_by_hash(connection, picture)
        if evidence is None:
            continue
        places = list(group)
        for place, content in zip(
            places, await asyncio.to_thread(_cut_all, evidence.content, places), strict=True
        ):
            if content is not None:
                content_hash = hash_of(content)
                await sweeps.keep_evidence(connection, content_hash, "image/webp", content)
                await causes.keep_picture(connection, sweep_id, place, content_hash)


def _cut_all(picture: bytes, places: list[PlaceToPictureRow]) -> list[bytes | None]:
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
    whole.crop((left, top, left + wide, top + high)).convert("RGB").save(out, "WEBP", quality=70)
    return out.getvalue()
