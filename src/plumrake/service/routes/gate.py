"""The gate: asking before a publication, releases, overruling, using a clearance, and trying other
rules."""

from __future__ import annotations

import asyncio
from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from plumrake import models
from plumrake.actions import gate as actions
from plumrake.actions.fixes import Actor
from plumrake.actions.sites import policy_of_site
from plumrake.core.gate import GateStanding, Tally, together, would_hold
from plumrake.core.gate_rules import GateRules, Holds
from plumrake.core.policy import BadPolicy, gate_rules_from
from plumrake.records import gate, sites, sweeps
from plumrake.records.gate import ClearanceRow
from plumrake.records.queries import Connection
from plumrake.service.access import (
    Database,
    Lender,
    SignedIn,
    WaitingManager,
    WaitingWorker,
    Worker,
)
from plumrake.service.idempotency import repeatable
from plumrake.service.paging import next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, shaped_sweep, site_or_404
from plumrake.service.waiting import until

router = APIRouter(tags=["gate"])


async def _clearance_or_404(database: Connection, clearance_id: int) -> ClearanceRow:
    found = await gate.clearance_by_id(database, clearance_id)
    if found is None:
        raise not_found("clearance", clearance_id)
    return found


async def _shaped(database: Connection, clearance: ClearanceRow) -> models.Clearance:
    shown = models.Clearance.model_validate(clearance)
    return shown.model_copy(update={"seal": await actions.seal_of(database, clearance)})


@router.post(
    "/sites/{slug}/gate",
    operation_id="askGate",
    status_code=201,
    responses={202: {"model": models.Clearance}},
)
async def ask_gate(
    request: Request,
    response: Response,
    slug: str,
    body: models.NewQuestion,
    who: WaitingWorker,
    lend: Lender,
) -> models.Clearance:
    """Ask whether a content may be published. 202 where the answer takes longer than ``wait``: look
    at the clearance later, or hear of it by webhook."""
    async with lend() as database:
        site = await site_or_404(database, slug)
        acted = body.asked_for
        if acted is not None and "gate" not in who.scopes:
            raise Refusal(
                403,
                "scope-missing",
                "asked_for: naming somebody else needs a token with the scope 'gate'",
            )
        question = actions.Question(
            **body.model_dump(exclude={"wait", "asked_for"}),
            asked_for=actions.Acted(acted.name, acted.email) if acted is not None else None,
        )
        clearance_id = await actions.ask(
            database, request.app.state.enqueue, site, question, Actor(who.id, who.role)
        )

    async def look() -> models.Clearance | None:
        async with lend() as database:
            clearance = await _clearance_or_404(database, clearance_id)
            return await _shaped(database, clearance) if clearance.state == "answered" else None

    answered = await until(look, body.wait)
    if answered is not None:
        return answered
    response.status_code = 202
    response.headers["Retry-After"] = "2"
    async with lend() as database:
        return models.Clearance.model_validate(await _clearance_or_404(database, clearance_id))


@router.get("/sites/{slug}/gate", operation_id="showGate")
async def show_gate(slug: str, who: Worker, database: Database) -> models.GateState:
    """Say what holds a publication of a site, for whoever sets a content system up."""
    site = await site_or_404(database, slug)
    policy = policy_of_site(site)
    holds = policy.gate.holds or policy.hold
    doubt = f", and doubtful ones of {', '.join(policy.gate.doubtful)}" * bool(policy.gate.doubtful)
    counts = "that a change brings" if policy.gate.counts == "change" else "that a page has"
    return models.GateState(
        site=site.slug,
        name=site.name,
        live_address=site.live_address,
        holds=holds,
        says="Nothing holds a publication."
        if holds == "none"
        else f"A publication is held by findings {counts}, from {holds} on{doubt}.",
    )


@router.get("/sites/{slug}/clearances", operation_id="listClearances")
async def list_clearances(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    decision: models.DecisionName | None = None,
    path: Annotated[str | None, Query(max_length=2000)] = None,
    overruled: bool | None = None,
    release: int | None = None,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.Clearance]:
    """List a site's clearances, the newest first."""
    site = await site_or_404(database, slug)
    found = await gate.clearances(
        database,
        site.id,
        before=after,
        limit=limit,
        decision=decision,
        path=path,
        release_id=release,
        overruled=overruled,
    )
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.Clearance.model_validate(one) for one in found], next=next_part
    )


@router.get("/clearances/{clearance_id}", operation_id="showClearance")
async def show_clearance(clearance_id: int, who: SignedIn, database: Database) -> models.Clearance:
    """Show a clearance with all that was found, and, to whoever may write, its seal where one may
    publish on it."""
    found = await _clearance_or_404(database, clearance_id)
    return (
        models.Clearance.model_validate(found)
        if who.role == "reader"
        else await _shaped(database, found)
    )


@router.post("/clearances/{clearance_id}/overruling", operation_id="overruleGate", status_code=201)
@repeatable
async def overrule(
    clearance_id: int, body: models.Overruling, who: Worker, database: Database
) -> models.Clearance:
    """Let a held content be published all the same, with a reason. Who may is for the site's policy
    to say."""
    clearance = await _clearance_or_404(database, clearance_id)
    site = await sites.site_by_id(database, clearance.site_id)
    await actions.overrule(database, site, clearance, body.why, Actor(who.id, who.role))
    return await _shaped(database, await _clearance_or_404(database, clearance_id))


@router.post("/clearances/{clearance_id}/use", operation_id="useClearance", status_code=201)
async def use_clearance(
    clearance_id: int, body: models.ClearanceUse, who: Worker, database: Database
) -> models.Clearance:
    """Use a clearance for the very content that is about to be published, once."""
    await actions.use(
        database,
        await _clearance_or_404(database, clearance_id),
        body.path,
        body.content_hash,
        body.seal,
    )
    return models.Clearance.model_validate(await _clearance_or_404(database, clearance_id))


@router.post("/sites/{slug}/published", operation_id="tellPublished", status_code=202)
async def tell_published(
    request: Request, slug: str, body: models.Published, who: Worker, database: Database
) -> models.Sweep:
    """Say that a page was published: it is read again on the live site, which proves its fixes."""
    site = await site_or_404(database, slug)
    sweep_id = await actions.published(
        database, request.app.state.enqueue, site, body.path, Actor(who.id, who.role)
    )
    return shaped_sweep(await sweeps.sweep_by_id(database, sweep_id))


@router.post("/sites/{slug}/releases", operation_id="askRelease", status_code=202)
@repeatable
async def ask_release(
    request: Request, slug: str, body: models.NewRelease, who: Worker, database: Database
) -> models.Release:
    """Ask what publishing pages of staging together would bring and mend; the answer comes page by
    page, and by webhook when it is whole."""
    site = await site_or_404(database, slug)
    release_id = await actions.ask_release(
        database,
        request.app.state.enqueue,
        site,
        body.name,
        body.paths,
        body.section,
        body.lens,
        Actor(who.id, who.role),
    )
    return await _release(database, release_id)


@router.get("/releases/{release_id}", operation_id="showRelease")
async def show_release(release_id: int, who: SignedIn, database: Database) -> models.Release:
    """Show a release: in all, per section, per page."""
    return await _release(database, release_id)


async def _release(database: Connection, release_id: int) -> models.Release:
    release = await gate.release_by_id(database, release_id)
    if release is None:
        raise not_found("release", release_id)
    found = [(one, actions.tally_of(one)) for one in await gate.of_release(database, release_id)]
    by_section: dict[str, list[Tally]] = {}
    for one, tally in found:
        parts = one.path.split("/")
        by_section.setdefault(f"/{parts[1]}/" if len(parts) > 2 else "/", []).append(tally)
    whole = together([tally for _, tally in found])
    return models.Release(
        id=release.id,
        site=release.site,
        name=release.name,
        asked_by=release.asked_by,
        asked_at=release.asked_at,
        answered_at=release.answered_at,
        decision=whole.decision.value if whole.decision is not None else None,
        waiting=whole.waiting,
        held=whole.held,
        brought=whole.brought,
        mended=whole.mended,
        before=whole.before,
        pages=[_page(one, tally) for one, tally in found],
        sections=[_section(section, together(tallies)) for section, tallies in by_section.items()],
    )


def _section(section: str, inside: Tally) -> models.ReleaseSection:
    return models.ReleaseSection(
        section=section,
        pages=inside.pages,
        held=inside.held,
        brought=inside.brought,
        mended=inside.mended,
    )


def _page(one: ClearanceRow, tally: Tally) -> models.ReleasePage:
    return models.ReleasePage.model_validate(
        {
            "clearance": one.id,
            "path": one.path,
            "state": one.state,
            "decision": one.decision,
            "reason": one.reason,
            "before": tally.before,
            "brought": tally.brought,
            "mended": tally.mended,
            "holding": sum(found["standing"] == GateStanding.HOLDS for found in one.judged),
        }
    )


@router.post("/sites/{slug}/gate/trial", operation_id="tryGate")
async def try_gate(
    slug: str, body: models.GateToTry, who: WaitingManager, lend: Lender
) -> models.GateTrial:
    """Say what other rules would have answered to what was asked in the last days."""
    async with lend() as database:
        site = await site_or_404(database, slug)
        found = await gate.clearances_since(database, site.id, body.days)
    try:
        rules = gate_rules_from(body.gate)
    except BadPolicy as error:
        raise Refusal(422, "not-valid", f"gate: {error}") from None
    return await asyncio.to_thread(_tried, found, rules, policy_of_site(site).hold, body.days)


def _tried(
    found: Sequence[ClearanceRow], rules: GateRules, hold: Holds, days: int
) -> models.GateTrial:
    """Return what rules make of what was asked."""
    newly_held: list[models.Clearance] = []
    newly_clear: list[models.Clearance] = []
    for one in found:
        stored = [actions.stored_facts(item) for item in one.judged]
        untested = [item["check"] for item in one.untested]
        held = one.problem_code is not None or would_hold(
            stored, untested, one.path, rules, hold, one.asked_at.date()
        )
        if held != (one.decision == "held"):
            (newly_held if held else newly_clear).append(models.Clearance.model_validate(one))
    before = sum(one.decision == "held" for one in found)
    return models.GateTrial(
        days=days,
        publications=len(found),
        held_before=before,
        held_after=before + len(newly_held) - len(newly_clear),
        newly_held=newly_held[:100],
        newly_clear=newly_clear[:100],
    )
