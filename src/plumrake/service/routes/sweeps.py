"""One sweep: its state, its readings, and its progress as server-sent events."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from typing import Annotated, Any, Literal
from urllib.parse import urlencode

from fastapi import APIRouter, Header, Request
from sse_starlette import EventSourceResponse, ServerSentEvent

from plumrake import models
from plumrake.records import sweeps
from plumrake.records.queries import Connection
from plumrake.service.access import Database, SignedIn
from plumrake.service.problems import not_found
from plumrake.service.routes.sites import Limit

router = APIRouter(tags=["sweeps"])

_LOOK_EVERY = 0.5
_LAST = ("done", "failed")


async def sweep_or_404(database: Connection, sweep_id: int) -> sweeps.Sweep:
    """Return the sweep. Raises a problem where there is none."""
    sweep = await sweeps.sweep_by_id(database, sweep_id)
    if sweep is None:
        raise not_found("sweep", sweep_id)
    return sweep


@router.get("/sweeps/{sweep_id}", operation_id="showSweep")
async def show_sweep(sweep_id: int, who: SignedIn, database: Database) -> models.Sweep:
    """Show a sweep and how far it is."""
    return models.Sweep.model_validate(await sweep_or_404(database, sweep_id))


@router.get("/sweeps/{sweep_id}/events", operation_id="followSweep", response_class=EventSourceResponse, response_model=models.Progress)
async def follow_sweep(
    request: Request, sweep_id: int, who: SignedIn, database: Database, last_event_id: Annotated[int, Header(ge=0)] = 0
) -> EventSourceResponse:
    """Follow a sweep: an event per step, the last one ``done`` or ``failed``. ``Last-Event-ID`` goes on where one stopped."""
    await sweep_or_404(database, sweep_id)
    return EventSourceResponse(_events(request.app.state.pool, sweep_id, last_event_id), ping=15)


async def _events(pool: Any, sweep_id: int, after: int) -> AsyncIterator[ServerSentEvent]:
    while True:
        async with pool.connection() as connection:
            found = await sweeps.events_after(connection, sweep_id, after)
        for event in found:
            after = event.id
            progress = models.Progress(id=event.id, kind=event.kind, **event.data)
            yield ServerSentEvent(data=progress.model_dump_json(), event="progress", id=str(event.id))
            if event.kind in _LAST:
                return
        await asyncio.sleep(_LOOK_EVERY)


@router.get("/sweeps/{sweep_id}/readings", operation_id="listReadings")
async def list_readings(
    sweep_id: int, who: SignedIn, database: Database, after: str = "", limit: Limit = 100,
    status: Literal["read", "unreadable"] | None = None, ready: bool | None = None,
) -> models.Listing[models.Reading]:  # fmt: skip
    """List the readings of a sweep by path."""
    await sweep_or_404(database, sweep_id)
    found = await sweeps.readings(database, sweep_id, after=after, limit=limit, status=status, ready=ready)
    rest = {"status": status, "ready": str(ready).lower() if ready is not None else None}
    query = urlencode({name: value for name, value in rest.items() if value} | {"after": found[-1].path if found else "", "limit": limit})
    following = f"/api/v1/sweeps/{sweep_id}/readings?{query}" if len(found) == limit else None
    return models.Listing(items=[models.Reading.model_validate(reading) for reading in found], next=following)
