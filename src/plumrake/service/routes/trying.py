"""Trying things before they are done: two colours, a policy; and filters that somebody saves."""

from __future__ import annotations

import asyncio
from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query

from plumrake import models
from plumrake.actions.sites import policy_of_site
from plumrake.core.colours import NotAColour, contrast, parse, truncated
from plumrake.core.decisions import DecidedFinding
from plumrake.core.policy import BESIDE_READING, BadPolicy, Policy, policy_from
from plumrake.core.policy_fields import FIELDS, GATE_FIELDS, PageCounts, try_policy
from plumrake.core.style.nearest import proposals
from plumrake.records import people, readings, sweeps
from plumrake.records.readings import HeldPageRow
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import SweepRow
from plumrake.service.access import Database, Lender, SignedIn, WaitingManager
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import site_or_404

router = APIRouter(tags=["trying"])

_MOST_FILTERS = 100
_Colour = Annotated[str, Query(max_length=60)]


@router.get("/colours", operation_id="tryColours")
async def try_colours(
    who: SignedIn,
    text: _Colour,
    background: _Colour,
    required: Annotated[float, Query(ge=1, le=21)] = 4.5,
) -> models.ColourAdvice:
    """Say the contrast of two colours and the nearest ones that reach ``required``:1 (WCAG
    1.4.3)."""
    try:
        below = parse(background)
        above = parse(text).over(below)
    except NotAColour as error:
        raise Refusal(422, "not-valid", str(error)) from None
    ratio = contrast(above, below)
    offers = [] if ratio >= required else proposals(above, below, required)
    shown = [
        models.ColourProposal.model_validate(
            {"change": one.change, "colour": one.colour, "ratio": truncated(one.ratio)}
        )
        for one in offers
    ]
    return models.ColourAdvice(
        text=above.hex(),
        background=below.hex(),
        ratio=truncated(ratio),
        required=required,
        passes=ratio >= required,
        proposals=shown,
    )


@router.get("/policy/fields", operation_id="listPolicyFields")
async def list_policy_fields(
    who: SignedIn, table: models.PolicyTableName = "policy"
) -> models.Listing[models.PolicyField]:
    """List the fields of a policy, or of its rules of the gate, each explained, with its
    default."""
    fields = FIELDS if table == "policy" else GATE_FIELDS
    return models.Listing(
        items=[
            models.PolicyField.model_validate(
                {
                    "name": one.name,
                    "title": one.title,
                    "says": one.says,
                    "kind": one.kind,
                    "choices": list(one.choices),
                    "value": one.default,
                }
            )
            for one in fields
        ]
    )


@router.post("/sites/{slug}/policy/trial", operation_id="tryPolicy")
async def try_site_policy(
    slug: str, body: models.PolicyToTry, who: WaitingManager, lend: Lender
) -> models.PolicyTrial:
    """Say what a policy would make of the newest finished sweep, before it is saved."""
    async with lend() as database:
        site = await site_or_404(database, slug)
        sweep_id = await sweeps.newest_done(database, site.id, body.environment)
        sweep = await sweeps.sweep_by_id(database, sweep_id) if sweep_id is not None else None
        held = await readings.held_pages(database, sweep.id) if sweep is not None else []
    try:
        after = policy_from(body.policy)
    except BadPolicy as error:
        raise Refusal(422, "not-valid", f"policy: {error}") from None
    if sweep is None:
        return models.PolicyTrial(
            sweep_id=None, pages=0, ready_before=0, ready_after=0, held=[], freed=[], needs_sweep=[]
        )
    return await asyncio.to_thread(_tried, site, sweep, held, after)


def _tried(
    site: SiteRow, sweep: SweepRow, held: Sequence[HeldPageRow], after: Policy
) -> models.PolicyTrial:
    """Return what a policy makes of the pages of a sweep."""
    pages = [
        PageCounts(
            page.path,
            page.kind,
            page.status == "read",
            page.ready,
            tuple(DecidedFinding(**one) for one in page.findings),
        )
        for page in held
    ]
    now = policy_of_site(site)
    read_with = policy_from(sweep.policy).changed(
        **{name: getattr(now, name) for name in BESIDE_READING}
    )
    trial = try_policy(pages, read_with, after)
    return models.PolicyTrial(
        sweep_id=sweep.id,
        pages=trial.pages,
        ready_before=trial.ready_before,
        ready_after=trial.ready_after,
        held=list(trial.held),
        freed=list(trial.freed),
        needs_sweep=list(trial.needs_sweep),
    )


@router.get("/sites/{slug}/filters", operation_id="listFilters")
async def list_filters(
    slug: str, who: SignedIn, database: Database
) -> models.Listing[models.SavedFilter]:
    """List the filters that one has saved of a site's views."""
    site = await site_or_404(database, slug)
    return models.Listing(
        items=[
            models.SavedFilter.model_validate(one)
            for one in await people.saved_filters(database, who.id, site.id)
        ]
    )


@router.post("/sites/{slug}/filters", operation_id="saveFilter", status_code=201)
async def save_filter(
    slug: str, body: models.NewFilter, who: SignedIn, database: Database
) -> models.SavedFilter:
    """Save a filter under a name; one of the same view and name is replaced."""
    site = await site_or_404(database, slug)
    if await people.count_filters(database, who.id, site.id) >= _MOST_FILTERS:
        raise Refusal(
            409,
            "too-many-filters",
            f"you have saved {_MOST_FILTERS} filters of this site; drop one first",
        )
    return models.SavedFilter.model_validate(
        await people.save_filter(database, who.id, site.id, body.view, body.name, body.query)
    )


@router.delete("/sites/{slug}/filters/{filter_id}", operation_id="dropFilter", status_code=204)
async def drop_filter(slug: str, filter_id: int, who: SignedIn, database: Database) -> None:
    """Forget a filter that one has saved."""
    site = await site_or_404(database, slug)
    if not await people.drop_filter(database, who.id, site.id, filter_id):
        raise not_found("filter", filter_id)
