"""Finishing a sweep whose pages are all read: what shows only over all of them, causes, what came
back, pictures of causes."""

from __future__ import annotations

import asyncio

from plumrake.actions.corrections import settle_corrections
from plumrake.actions.fixes import settle
from plumrake.actions.notifying import tell_done
from plumrake.actions.picturing import picture_causes
from plumrake.actions.ports import Connect, Enqueue
from plumrake.actions.reviews import note_review, seen_on, show_seen
from plumrake.actions.sweeps import figures_of, kept_finding, policy_of
from plumrake.actions.swept_links import close_link_check
from plumrake.actions.verdicts import apply_to_sweep, note_mended
from plumrake.core.causes import gather
from plumrake.core.decisions import finding_holds
from plumrake.core.registry import PageFacts
from plumrake.core.sitewide import assess_site
from plumrake.records import causes, sweeps
from plumrake.records.handed_over import forget_handed_over
from plumrake.records.queries import Connection
from plumrake.records.sweeps import SweepRow


async def finish_sweep(connect: Connect, enqueue: Enqueue, sweep_id: int) -> None:
    """Finish a running sweep once every planned page has its reading; before, and after, nothing
    happens."""
    async with connect() as connection:
        waiting = await sweeps.sweep_by_id(connection, sweep_id)
        if waiting is not None and waiting.state == "running":
            await sweeps.know(connection, waiting)
    async with connect() as connection, connection.transaction():
        await sweeps.lock_sweep(connection, sweep_id)
        if not await sweeps.finish_if_complete(connection, sweep_id):
            return
        sweep = await sweeps.sweep_by_id(connection, sweep_id)
        assert sweep is not None
        await note_review(connection, sweep)
        await _look_across(connection, sweep)
        places = await causes.places(connection, sweep_id)
        known = await causes.known_by_template(connection, sweep.base_id)
        found = await asyncio.to_thread(
            gather, places, await causes.census(connection, sweep_id), known
        )
        await causes.keep_causes(connection, sweep, found)
        await picture_causes(connection, sweep_id)
        await apply_to_sweep(connection, sweep.site_id, sweep_id)
        if not sweep.is_whole:
            await note_mended(connection, sweep)
            await _show_seen_in_newest(connection, sweep)
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
    seen = await seen_on(connection, sweep)
    pages = [PageFacts(one.path, one.title, seen.get(one.path, ())) for one in titles]
    found = assess_site(pages, policy_of(sweep))
    for number, extra in found.items():
        held = any(finding_holds(finding, policy_of(sweep).hold) for finding in extra)
        shaped = [kept_finding(finding) for finding in extra]
        await sweeps.add_site_findings(
            connection, sweep.id, titles[number].reading_id, shaped, held=held
        )


async def _show_seen_in_newest(connection: Connection, sweep: SweepRow) -> None:
    """Answers may have lapsed, or hold again, by a sweep of some pages: the newest of all pages
    shows that at once."""
    newest = await sweeps.newest_done(connection, sweep.site_id, sweep.environment)
    whole = await sweeps.sweep_by_id(connection, newest) if newest is not None else None
    if whole is not None:
        await show_seen(connection, whole)
