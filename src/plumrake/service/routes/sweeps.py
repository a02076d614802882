"""One sweep: its state, its readings, and its progress as server-sent events."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Header, Query, Request
from sse_starlette import EventSourceResponse, ServerSentEvent

from plumrake import models
from plumrake.actions.ports import Connect
from plumrake.actions.sweeps import resume_sweep, stop_sweep
from plumrake.records import sites, sweeps
from plumrake.records.queries import Connection
from plumrake.service.access import Database, Lender, Manager, SignedIn
from plumrake.service.paging import Cursor, keys_of, next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, shaped_sweep, site_or_404

router = APIRouter(tags=["sweeps"])

_LOOK_EVERY = 0.5
_LAST = ("stopped", "done", "failed")


async def sweep_or_404(database: Connection, sweep_id: int) -> sweeps.SweepRow:
    """Return the sweep. Raises a problem where there is none."""
    sweep = await sweeps.sweep_by_id(database, sweep_id)
    if sweep is None:
        raise not_found("sweep", sweep_id)
    return sweep


async def kept_sweep(database: Connection, sweep_id: int) -> sweeps.SweepRow:
    """Return the sweep, of which what it read and found is still kept. Raises a problem where there
    is none, or only its counts are left."""
    sweep = await sweep_or_404(database, sweep_id)
    if sweep.forgotten_at is not None:
        raise Refusal(
            410,
            "sweep-forgotten",
            f"of sweep {sweep_id} only the counts are kept; what it found was forgotten on "
            f"{sweep.forgotten_at:%Y-%m-%d} for its age; look at a newer sweep",
        )
    return sweep


async def chosen_sweep(
    slug: str,
    who: SignedIn,
    database: Database,
    sweep: Annotated[
        int | None, Query(description="This sweep's; default: those of the newest finished one.")
    ] = None,
    environment: models.Environment | None = None,
) -> sweeps.SweepRow | None:
    """Return the sweep that a view is of, None where the site has no finished one. Raises a problem
    for another site's."""
    site = await site_or_404(database, slug)
    sweep_id = (
        sweep if sweep is not None else await sweeps.newest_done(database, site.id, environment)
    )
    if sweep_id is None:
        return None
    found = await kept_sweep(database, sweep_id)
    if found.site_id != site.id:
        raise not_found("sweep", sweep_id)
    return found


Chosen = Annotated[sweeps.SweepRow | None, Depends(chosen_sweep)]


@router.get("/sweeps/{sweep_id}", operation_id="showSweep")
async def show_sweep(sweep_id: int, who: SignedIn, database: Database) -> models.Sweep:
    """Show a sweep and how far it is."""
    return shaped_sweep(await sweep_or_404(database, sweep_id))


@router.post("/sweeps/{sweep_id}/stop", operation_id="stopSweep")
async def stop(sweep_id: int, who: Manager, database: Database) -> models.Sweep:
    """Stop a sweep; what was read stays, and it can go on later."""
    await sweep_or_404(database, sweep_id)
    await stop_sweep(database, sweep_id)
    return shaped_sweep(await sweep_or_404(database, sweep_id))


@router.post("/sweeps/{sweep_id}/resume", operation_id="resumeSweep")
async def resume(request: Request, sweep_id: int, who: Manager, database: Database) -> models.Sweep:
    """Let a stopped sweep read the rest of its pages."""
    sweep = await kept_sweep(database, sweep_id)
    await resume_sweep(
        database,
        request.app.state.enqueue,
        await sites.site_by_id(database, sweep.site_id),
        sweep_id,
    )
    return shaped_sweep(await sweep_or_404(database, sweep_id))


@router.get(
    "/sweeps/{sweep_id}/events",
    operation_id="followSweep",
    response_class=EventSourceResponse,
    response_model=models.Progress,
)
async def follow_sweep(
    sweep_id: int,
    who: SignedIn,
    database: Database,
    lend: Lender,
    last_event_id: Annotated[int, Header(ge=0)] = 0,
) -> EventSourceResponse:
    """Follow a sweep: an event per step, the last one ``done``, ``stopped`` or ``failed``.
    ``Last-Event-ID`` goes on where one stopped."""
    await kept_sweep(database, sweep_id)
    return EventSourceResponse(_events(lend, sweep_id, last_event_id), ping=15)


async def _events(lend: Connect, sweep_id: int, after: int) -> AsyncIterator[ServerSentEvent]:
    while True:
        async with lend() as connection:
            found = await sweeps.events_after(connection, sweep_id, after)
        for event in found:
            after = event.id
            if event.kind == "stopped" and event is not found[-1]:
                continue  # it went on since then, so this is not the end
            progress = models.Progress(id=event.id, kind=event.kind, **event.data)
            yield ServerSentEvent(
                data=progress.model_dump_json(), event="progress", id=str(event.id)
            )
            if event.kind in _LAST:
                return
        await asyncio.sleep(_LOOK_EVERY)


@router.get("/sweeps/{sweep_id}/readings", operation_id="listReadings")
async def list_readings(
    request: Request,
    sweep_id: int,
    who: SignedIn,
    database: Database,
    sort: models.PageSort = "path",
    after: Cursor = None,
    limit: Limit = 100,
    status: Literal["read", "unreadable"] | None = None,
    ready: bool | None = None,
    path: Annotated[
        str | None, Query(description="Pages whose path begins so.", max_length=2000)
    ] = None,
) -> models.Listing[models.Reading]:
    """List the readings of a sweep by path, or by weight: the pages that could not be read, then
    those with the most barriers, obstacles, frictions."""
    await kept_sweep(database, sweep_id)
    found = await sweeps.readings(
        database,
        sweep_id,
        sort=sort,
        after=keys_of(after, tuple[list[int], str]),
        limit=limit,
        status=status,
        ready=ready,
        path=path,
    )
    next_part = next_page(request, found, limit, lambda last: (last.rank, last.path))
    return models.Listing(
        items=[models.Reading.model_validate(reading) for reading in found], next=next_part
    )
