"""Items of content systems: what is going out, and who its authors are here."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions import items as actions
from plumrake.actions.sites import policy_of_site
from plumrake.core.decisions import Standing
from plumrake.records import items, members, sweeps
from plumrake.service.access import Database, Manager, SignedIn, Worker
from plumrake.service.problems import not_found
from plumrake.service.routes.sites import site_or_404

router = APIRouter(tags=["items"])

_MOST = 2_000
_MOST_HERE = 100
_SHOWN_HERE = (Standing.COUNTS, Standing.DOUBTFUL)
_Path = Annotated[str, Query(max_length=2000)]


@router.get("/sites/{slug}/going-out", operation_id="listGoingOut")
async def list_going_out(
    slug: str, who: SignedIn, database: Database, mine: bool = False
) -> models.Listing[models.GoingOut]:
    """List what is not public yet: drafts, in review, scheduled, each with the newest answer about
    it as it would go out. An editor sees her own."""
    site = await site_or_404(database, slug)
    environment = await actions.environment_with_items(database, site)
    person_id = actions.own_items(who.role, who.id, mine=mine)
    found = await items.going_out(database, site.id, environment, person_id, _MOST)
    return models.Listing(items=[models.GoingOut.model_validate(one) for one in found])


@router.post("/sites/{slug}/going-out/list", operation_id="syncItems", status_code=202)
async def sync_items(request: Request, slug: str, who: Worker, database: Database) -> None:
    """Have the items listed anew now; they are every few minutes by themselves."""
    site = await site_or_404(database, slug)
    environment = await actions.environment_with_items(database, site)
    await actions.ask_to_sync(database, request.app.state.enqueue, site.id, environment)


@router.post("/sites/{slug}/items/changed", operation_id="tellItemChanged", status_code=202)
async def tell_item_changed(
    request: Request, slug: str, body: models.ItemChanged, who: Worker, database: Database
) -> None:
    """Say that an item was changed: it is read as it would go out."""
    site = await site_or_404(database, slug)
    environment = await actions.environment_with_items(database, site)
    await actions.ask_to_read(database, request.app.state.enqueue, site.id, environment, body.item)


@router.get("/sites/{slug}/found", operation_id="showFound")
async def show_found(
    slug: str,
    path: _Path,
    who: Worker,
    database: Database,
    environment: models.Environment = "live",
) -> models.PageFound:
    """Say what counts or is doubtful on a page of the site, for whoever looks at it there."""
    site = await site_or_404(database, slug)
    sweep_id = await sweeps.newest_done(database, site.id, environment)
    if sweep_id is None:
        return models.PageFound(path=path, sweep_id=None, findings=[])
    policy = policy_of_site(site)
    shown: list[models.FoundHere] = []
    filters = sweeps.FindingFilters(at=path)
    found = await sweeps.findings(
        database, sweep_id, filters, sort="page", after=None, limit=_MOST_HERE
    )
    for one in (one for one in found if one.standing in _SHOWN_HERE):
        whole = await sweeps.finding_by_id(database, one.id)
        own = policy.help_for(one.check)
        here = models.FoundHere(
            id=one.id,
            check=one.check,
            weight=one.weight,
            outcome=one.outcome,
            says=one.says,
            selector=one.selector,
            visible=one.visible,
            nearest_visible=one.nearest_visible,
            where=one.where,
            in_editor=one.in_editor,
            own_help=models.OwnHelp.model_validate(own) if own is not None else None,
            fix_id=whole.fix_id if whole is not None else None,
        )
        shown.append(here)
    return models.PageFound(path=path, sweep_id=sweep_id, findings=shown)


@router.get("/sites/{slug}/authors", operation_id="listAuthors")
async def list_authors(
    slug: str, who: SignedIn, database: Database
) -> models.Listing[models.ItemAuthor]:
    """List the authors of a site's items, and who they are here."""
    site = await site_or_404(database, slug)
    found = await items.authors(database, site.id)
    return models.Listing(items=[models.ItemAuthor.model_validate(one) for one in found])


@router.put("/sites/{slug}/authors", operation_id="setAuthor", status_code=204)
async def set_author(
    slug: str, body: models.AuthorChoice, who: Manager, database: Database
) -> None:
    """Say who an author is here, where the e-mail addresses differ."""
    site = await site_or_404(database, slug)
    if body.person_id is None:
        await items.drop_author(database, site.id, body.email)
        return
    if await members.role_in(database, body.person_id, site.id) is None:
        raise not_found("person", body.person_id)
    await items.set_author(database, site.id, body.email, body.person_id)
