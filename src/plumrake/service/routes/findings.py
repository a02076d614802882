"""Findings, their evidence, and the catalogue of checks."""

from __future__ import annotations

import asyncio
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response

from plumrake import models
from plumrake.actions.evidence import content_by_hash
from plumrake.actions.picturing import cut_one
from plumrake.actions.sites import policy_of_site
from plumrake.core.registry import Check, catalogue
from plumrake.outbound.object_store import ObjectStore
from plumrake.records import items, sweeps
from plumrake.records.words import words_filter
from plumrake.service.access import Database, Lender, SignedIn, WaitingReader
from plumrake.service.paging import Cursor, keys_of, next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, site_or_404
from plumrake.service.routes.sweeps import Chosen

router = APIRouter(tags=["findings"])

EVIDENCE_HEADERS = {
    "Cache-Control": "private, max-age=31536000, immutable",
    "Content-Security-Policy": "default-src 'none'; sandbox",
}


def _store(request: Request) -> ObjectStore | None:
    store: ObjectStore | None = request.app.state.store
    return store


Store = Annotated[ObjectStore | None, Depends(_store)]
"""The store for contents of evidence, or None."""


@router.get("/sites/{slug}/findings", operation_id="listFindings")
async def list_findings(
    request: Request,
    slug: str,
    chosen: Chosen,
    database: Database,
    check: Annotated[
        str | None, Query(description="A check's id or an area.", max_length=100)
    ] = None,
    weight: models.WeightName | None = None,
    outcome: models.OutcomeName | None = None,
    path: Annotated[
        str | None, Query(description="Pages whose path begins so.", max_length=2000)
    ] = None,
    cause: Annotated[str | None, Query(max_length=40)] = None,
    at: Annotated[
        str | None, Query(description="The page of exactly this path.", max_length=2000)
    ] = None,
    zone: models.ZoneName | None = None,
    standing: models.StandingName | None = None,
    words: Annotated[
        models.WordsChoice,
        Query(
            description="Words in no dictionary: left out unless a check, a cause or a page is "
            "asked for, listed with all else, or alone."
        ),
    ] = "apart",
    sort: models.FindingSort = "weight",
    after: Cursor = None,
    limit: Limit = 50,
) -> models.Listing[models.Finding]:
    """List the findings of a site's sweep, filtered: the heaviest first and of these the sure, or
    page by page. ``total`` is counted to 10,000."""
    if (
        check is not None
        and check not in catalogue()
        and check not in {known.area for known in catalogue().values()}
    ):
        raise Refusal(422, "not-valid", f"check: no check or area is called '{check}'")
    if chosen is None:
        return models.Listing(items=[], total=0)
    sweep_id = chosen.id
    is_word = words_filter(words, check, cause, at)
    filters = sweeps.FindingFilters(
        check, weight, outcome, path, cause, at, zone, standing, is_word
    )
    place = keys_of(after, tuple[int, int])
    found = await sweeps.findings(database, sweep_id, filters, sort=sort, after=place, limit=limit)
    total = await sweeps.count_findings(database, sweep_id, filters)
    next_part = next_page(
        request, found, limit, lambda last: (last.rank, last.ordinal), sweep=sweep_id
    )
    return models.Listing(
        items=[models.Finding.model_validate(row) for row in found], next=next_part, total=total
    )


@router.get("/findings/{finding_id}", operation_id="showFinding")
async def show_finding(finding_id: int, who: SignedIn, database: Database) -> models.FindingInFull:
    """Show a finding with its page's picture and how far its cause reaches."""
    found = await sweeps.finding_by_id(database, finding_id)
    if found is None:
        raise not_found("finding", finding_id)
    item = await items.item_at(database, found.site, found.environment, found.path)
    shown = models.Item.model_validate(item) if item is not None else None
    site = await site_or_404(database, found.site)
    own = policy_of_site(site).help_for(found.check)
    more = {"item": shown, "own_help": models.OwnHelp.model_validate(own) if own else None}
    return models.FindingInFull.model_validate(found).model_copy(update=more)


@router.get(
    "/findings/{finding_id}/picture", operation_id="showFindingPicture", response_class=Response
)
async def show_finding_picture(
    finding_id: int, who: WaitingReader, lend: Lender, store: Store
) -> Response:
    """Give a picture of the finding's place as WebP, cut from its page's picture."""
    async with lend() as database:
        found = await sweeps.finding_by_id(database, finding_id)
    box = (found.box or found.nearest_box) if found is not None else None
    picture = found.picture if found is not None else None
    return await cut_or_404(lend, store, picture, box, finding_id)


async def cut_or_404(
    lend: Lender, store: Store, picture: str | None, box: list[int] | None, number: int
) -> Response:
    """Give the part of a page's picture around a box (x, y, width, height in CSS px) as WebP.
    Raises a problem where there is no picture or the box lies outside."""
    found = await content_by_hash(lend, store, picture) if picture and box else None
    if found is None or box is None:
        raise not_found("picture", number)
    content = await asyncio.to_thread(cut_one, found.content, box)
    if content is None:
        raise not_found("picture", number)
    return Response(content, media_type="image/webp", headers=EVIDENCE_HEADERS)


@router.get("/evidence/{content_hash}", operation_id="showEvidence", response_class=Response)
async def show_evidence(
    content_hash: str, who: WaitingReader, lend: Lender, store: Store
) -> Response:
    """Give a picture by the hash of its content."""
    found = await content_by_hash(lend, store, content_hash)
    if found is None:
        raise not_found("evidence", content_hash)
    return Response(found.content, media_type=found.media_type, headers=EVIDENCE_HEADERS)


@router.get("/checks", operation_id="listChecks")
async def list_checks(who: SignedIn) -> models.Listing[models.CheckHelp]:
    """List the catalogue of checks with their help pages."""
    return models.Listing(items=[_help(check) for check in catalogue().values()])


@router.get("/checks/{area}/{slug}", operation_id="showCheck")
async def show_check(area: str, slug: str, who: SignedIn) -> models.CheckHelp:
    """Show one check's help page."""
    check = catalogue().get(f"{area}/{slug}")
    if check is None:
        raise not_found("check", f"{area}/{slug}")
    return _help(check)


def _help(check: Check) -> models.CheckHelp:
    return models.CheckHelp(
        id=check.id,
        title=check.title,
        weight=check.weight.value,
        criteria=list(check.criteria),
        needs=sorted(check.needs),
        act_rule=check.act_rule,
        parameters=dict(check.parameters),
        summary=check.help.summary,
        sections=dict(check.help.sections),
    )
