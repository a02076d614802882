"""What is new on a site, as server-sent events, for whoever has it open."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator

from fastapi import APIRouter
from sse_starlette import EventSourceResponse, ServerSentEvent

from plumrake import models
from plumrake.actions.ports import Connect
from plumrake.records.live import Watch
from plumrake.records.sign_ins import CallerRow
from plumrake.service.access import Database, Lender, SignedIn
from plumrake.service.routes.sites import site_or_404

router = APIRouter(tags=["live"])

_LOOK_EVERY = 1.0
_LONGEST_SECONDS = 600
"""After that the stream ends and the browser asks again, so that somebody who was locked out hears
no more."""


@router.get(
    "/sites/{slug}/live",
    operation_id="watchSite",
    response_class=EventSourceResponse,
    response_model=models.LiveEvent,
)
async def watch_site(
    slug: str, who: SignedIn, database: Database, lend: Lender
) -> EventSourceResponse:
    """Watch a site: fixes that are moved, sweeps that come further, notifications of one's own.
    What came before is not told."""
    site = await site_or_404(database, slug)
    return EventSourceResponse(_news(lend, site.id, who), ping=15)


async def _news(lend: Connect, site_id: int, who: CallerRow) -> AsyncIterator[ServerSentEvent]:
    watch = Watch(site_id, who.id)
    async with lend() as connection:
        await watch.begin(connection)
    yield _event(models.LiveEvent(kind="hello", unread=watch.unread))
    for _ in range(int(_LONGEST_SECONDS / _LOOK_EVERY)):
        await asyncio.sleep(_LOOK_EVERY)
        async with lend() as connection:
            moved, swept, told = await watch.look(connection)
        if moved:
            yield _event(
                models.LiveEvent(kind="fixes", fixes=sorted({one.fix_id for one in moved}))
            )
        for sweep_id in sorted({step.sweep_id for step in swept}):
            last = [step for step in swept if step.sweep_id == sweep_id][-1]
            yield _event(
                models.LiveEvent(
                    kind="sweep", sweep=sweep_id, state=last.kind, read=last.read, total=last.total
                )
            )
        if told:
            yield _event(models.LiveEvent(kind="notifications", unread=watch.unread))


def _event(event: models.LiveEvent) -> ServerSentEvent:
    return ServerSentEvent(data=event.model_dump_json(exclude_none=True), event="live")
