"""Sweeps as reports in open formats."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterator
from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import StreamingResponse
from starlette.concurrency import iterate_in_threadpool

from plumrake import models
from plumrake.actions.accounting import account_of
from plumrake.actions.exporting import exported
from plumrake.records import log, sites
from plumrake.reports.account import ACCOUNT_MEDIA_TYPES, Account, account_as
from plumrake.reports.report import FILE_ENDS, MEDIA_TYPES
from plumrake.service.access import Database, Lender, SignedIn, WaitingReader, address_of
from plumrake.service.problems import Refusal
from plumrake.service.routes.sites import site_or_404
from plumrake.service.routes.sweeps import chosen_sweep

router = APIRouter(tags=["exports"])

DOCUMENT_HEADERS = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; sandbox",
    "Cache-Control": "no-store",
}
"""What a document of ours is sent with: it runs nothing, fetches nothing, and is not kept."""
_turns = asyncio.Semaphore(2)
"""So many reports are written at once; who comes later waits."""


@router.get(
    "/sites/{slug}/export",
    operation_id="exportSweep",
    response_class=StreamingResponse,
)
async def export_sweep(
    request: Request,
    slug: str,
    who: WaitingReader,
    lend: Lender,
    form: Annotated[models.ReportForm, Query(alias="as")],
    sweep: Annotated[
        int | None, Query(description="This sweep; default: the newest finished one.")
    ] = None,
    environment: models.Environment | None = None,
) -> StreamingResponse:
    """Return a sweep as a report: every page that counts, with what was found there, what was
    waived, and what is new since the sweep before."""
    async with lend() as database:
        site = await site_or_404(database, slug)
        chosen = await chosen_sweep(slug, who, database, sweep, environment)
    if chosen is None:
        raise Refusal(409, "nothing-swept", "the site has no finished sweep; start one first")
    if chosen.state != "done":
        raise Refusal(409, "not-done", f"sweep {chosen.id} is not done; wait for its end")
    async with lend() as database:
        await log.note(
            database,
            "export.made",
            by_id=who.id,
            site_id=site.id,
            about=form,
            from_address=address_of(request),
            after={"sweep": chosen.id},
        )
    pieces = exported(request.app.state.settings.database, who.id, chosen, site.name, form)
    name = f"{slug}-sweep-{chosen.id}.{FILE_ENDS[form]}"
    headers = {**DOCUMENT_HEADERS, "Content-Disposition": f'attachment; filename="{name}"'}
    return StreamingResponse(_in_turn(pieces), media_type=MEDIA_TYPES[form], headers=headers)


@router.get("/sites/{slug}/account", operation_id="accountOfSite", response_class=Response)
async def account_of_site(
    slug: str,
    who: SignedIn,
    database: Database,
    form: Annotated[models.AccountForm, Query(alias="as")] = "html",
    environment: models.Environment = "live",
) -> Response:
    """Give the account of a site for its head and for auditors: figures over time, what is open and
    with whom, what was tested by machine and by eye, what was not, waivers, method and sample."""
    site = await site_or_404(database, slug)
    account = await account_of(database, site, environment, datetime.now(UTC).date())
    return _account(form, [account], f"{slug}-account")


@router.get("/account", operation_id="accountOfAll", response_class=Response)
async def account_of_all(
    who: SignedIn,
    database: Database,
    form: Annotated[models.AccountForm, Query(alias="as")] = "html",
    environment: models.Environment = "live",
) -> Response:
    """Give the account of all sites that one is in."""
    today = datetime.now(UTC).date()
    accounts = [
        await account_of(database, site, environment, today)
        for site in await sites.sites_of(database, who.id)
    ]
    if not accounts:
        raise Refusal(409, "no-sites", "no site is registered; register one first")
    return _account(form, accounts, "account")


def _account(form: models.AccountForm, accounts: list[Account], name: str) -> Response:
    shown = "inline" if form == "html" else "attachment"
    headers = {**DOCUMENT_HEADERS, "Content-Disposition": f'{shown}; filename="{name}.{form}"'}
    text = account_as(form, accounts)
    return Response(text, media_type=ACCOUNT_MEDIA_TYPES[form], headers=headers)


async def _in_turn(pieces: Iterator[str]) -> AsyncIterator[str]:
    async with _turns:
        async for piece in iterate_in_threadpool(_gathered(pieces)):
            yield piece


def _gathered(pieces: Iterator[str]) -> Iterator[str]:
    """Yield pieces in portions that are worth sending."""
    held: list[str] = []
    size = 0
    for piece in pieces:
        held.append(piece)
        size += len(piece)
        if size > 65_536:
            yield "".join(held)
            held, size = [], 0
    yield "".join(held)
