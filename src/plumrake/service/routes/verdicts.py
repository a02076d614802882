"""Waivers and judgements: what people decided about findings."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from plumrake import models
from plumrake.actions import verdicts as actions
from plumrake.actions.deciding import judge_causes, waive_causes
from plumrake.actions.fixes import Actor
from plumrake.records import sweeps, verdicts
from plumrake.records.queries import Connection
from plumrake.records.sweeps import FindingInFullRow
from plumrake.reports.as_csv import to_csv
from plumrake.service.access import Database, Manager, SignedIn, Worker
from plumrake.service.idempotency import repeatable
from plumrake.service.paging import next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, site_or_404
from plumrake.service.routes.sweeps import kept_sweep

router = APIRouter(tags=["decisions"])

_After = Annotated[int | None, Query(ge=1)]
_MOST_EXPORTED = 100_000


async def _finding_or_404(database: Connection, finding_id: int) -> FindingInFullRow:
    finding = await sweeps.finding_by_id(database, finding_id)
    if finding is None:
        raise not_found("finding", finding_id)
    return finding


@router.post("/findings/{finding_id}/waiver", operation_id="grantWaiver", status_code=201)
@repeatable
async def grant_waiver(
    finding_id: int, body: models.NewWaiver, who: Worker, database: Database
) -> models.Waiver:
    """Accept a finding, or all like it, until a day. Who may do so is for the site's policy to
    say."""
    finding = await _finding_or_404(database, finding_id)
    site = await site_or_404(database, finding.site)
    grant = actions.Grant(body.scope, body.reason, body.ends_on, body.pattern)
    waiver_id = await actions.grant_waiver(
        database, site, finding, grant, Actor(who.id, who.role), datetime.now(UTC).date()
    )
    return models.Waiver.model_validate(await verdicts.waiver_by_id(database, site.id, waiver_id))


@router.post("/sites/{slug}/decisions", operation_id="decideCauses", status_code=201)
@repeatable
async def decide_causes(
    slug: str, body: models.NewDecisions, who: Worker, database: Database
) -> models.Decided:
    """Waive several causes of a sweep wherever they occur (with ``ends_on``), or judge all their
    doubtful places (with ``answer``). All or none."""
    site = await site_or_404(database, slug)
    sweep = await kept_sweep(database, body.sweep)
    if sweep.site_id != site.id:
        raise not_found("sweep", body.sweep)
    actor = Actor(who.id, who.role)
    if body.answer is not None:
        return models.Decided(
            waivers=[],
            judgements=await judge_causes(
                database, site, sweep, body.causes, body.answer, body.reason, actor
            ),
        )
    if body.ends_on is None:
        raise Refusal(
            422, "not-valid", "ends_on: a waiver needs its last day (or give 'answer' to judge)"
        )
    grant = actions.Grant("cause", body.reason, body.ends_on)
    made = await waive_causes(
        database, site, sweep, body.causes, grant, actor, datetime.now(UTC).date()
    )
    return models.Decided(waivers=made, judgements=[])


@router.get("/sites/{slug}/waivers", operation_id="listWaivers")
async def list_waivers(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    in_force: bool | None = None,
    after: _After = None,
    limit: Limit = 50,
) -> models.Listing[models.Waiver]:
    """List a site's waivers, the newest first."""
    site = await site_or_404(database, slug)
    found = await verdicts.waivers(database, site.id, in_force=in_force, before=after, limit=limit)
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.Waiver.model_validate(waiver) for waiver in found], next=next_part
    )


@router.get("/sites/{slug}/waivers.csv", operation_id="exportWaivers", response_class=Response)
async def export_waivers(slug: str, who: SignedIn, database: Database) -> Response:
    """Give all of a site's waivers as CSV (RFC 4180)."""
    site = await site_or_404(database, slug)
    found = await verdicts.waivers(database, site.id, limit=_MOST_EXPORTED)
    names = list(models.Waiver.model_fields)
    text = to_csv(names, ([getattr(waiver, name) for name in names] for waiver in found))
    headers = {"Content-Disposition": f'attachment; filename="{slug}-waivers.csv"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)


@router.delete("/sites/{slug}/waivers/{waiver_id}", operation_id="endWaiver", status_code=204)
async def end_waiver(slug: str, waiver_id: int, who: Manager, database: Database) -> None:
    """End a waiver before its day: what it covered counts again, and its fixes are open again."""
    site = await site_or_404(database, slug)
    known = await verdicts.waiver_by_id(database, site.id, waiver_id)
    if known is None or not await actions.end_waiver(
        database, site.id, waiver_id, Actor(who.id, who.role), "the waiver was ended"
    ):
        raise not_found("waiver", waiver_id)


@router.post("/findings/{finding_id}/judgement", operation_id="judge", status_code=201)
@repeatable
async def judge(
    finding_id: int, body: models.NewJudgement, who: Worker, database: Database
) -> models.Judgement:
    """Answer a doubtful finding: it is a fault, or it is fine. The answer lapses when the element
    or what is around it changes."""
    finding = await _finding_or_404(database, finding_id)
    site = await site_or_404(database, finding.site)
    judgement_id = await actions.judge(
        database, site.id, finding, body.answer, body.note, Actor(who.id, who.role)
    )
    return models.Judgement.model_validate(
        await verdicts.judgement_by_id(database, site.id, judgement_id)
    )


@router.get("/sites/{slug}/judgements", operation_id="listJudgements")
async def list_judgements(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    lapsed: bool | None = None,
    after: _After = None,
    limit: Limit = 50,
) -> models.Listing[models.Judgement]:
    """List a site's judgements, the newest first; ``lapsed`` ones have to be answered again."""
    site = await site_or_404(database, slug)
    found = await verdicts.judgements(database, site.id, lapsed=lapsed, before=after, limit=limit)
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.Judgement.model_validate(judgement) for judgement in found], next=next_part
    )


@router.delete(
    "/sites/{slug}/judgements/{judgement_id}", operation_id="endJudgement", status_code=204
)
async def end_judgement(slug: str, judgement_id: int, who: Worker, database: Database) -> None:
    """Take a judgement back: its finding is doubtful again."""
    site = await site_or_404(database, slug)
    known = await verdicts.judgement_by_id(database, site.id, judgement_id)
    if known is None or not await actions.end_judgement(database, site.id, judgement_id):
        raise not_found("judgement", judgement_id)
