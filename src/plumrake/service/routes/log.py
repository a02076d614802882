"""What was done: of a site for its managers, of everything for who runs the service."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.records import log
from plumrake.records.log import LogEntryRow
from plumrake.service.access import Database, Manager, Operator
from plumrake.service.paging import next_page
from plumrake.service.routes.sites import site_or_404

router = APIRouter(tags=["log"])

_Kind = Annotated[
    str | None,
    Query(pattern=r"^[a-z.-]{1,40}$", description="Kinds that begin so, as 'sign-in' or 'site.'."),
]
_After = Annotated[int | None, Query(description="Take it from 'next' of the listing.")]
_Since = Annotated[int | None, Query(description="Only what came after the entry of this number.")]
_Limit = Annotated[int, Query(ge=1, le=500)]


@router.get("/sites/{slug}/log", operation_id="listLogOfSite")
async def list_log_of_site(
    request: Request,
    slug: str,
    who: Manager,
    database: Database,
    kind: _Kind = None,
    after: _After = None,
    since: _Since = None,
    limit: _Limit = 100,
) -> models.Listing[models.LogEntry]:
    """List what was done in a site, the newest first."""
    site = await site_or_404(database, slug)
    found = await log.entries(
        database, site_id=site.id, kind=kind, after=after, since=since, limit=limit
    )
    return _listing(request, found, limit)


@router.get("/log", operation_id="listLog")
async def list_log(
    request: Request,
    who: Operator,
    database: Database,
    kind: _Kind = None,
    after: _After = None,
    since: _Since = None,
    limit: _Limit = 100,
) -> models.Listing[models.LogEntry]:
    """List what was done anywhere, the newest first."""
    found = await log.entries(database, kind=kind, after=after, since=since, limit=limit)
    return _listing(request, found, limit)


@router.get("/log/state", operation_id="checkLog")
async def check_log(who: Operator, database: Database) -> models.LogState:
    """Say whether the log is whole: each entry hangs on the one before it."""
    return models.LogState.model_validate(await log.check(database))


def _listing(
    request: Request, found: list[LogEntryRow], limit: int
) -> models.Listing[models.LogEntry]:
    return models.Listing(
        items=[models.LogEntry.model_validate(one) for one in found],
        next=next_page(request, found, limit, lambda one: one.id),
    )
