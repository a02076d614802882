"""Sites and their sweeps."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions.sweeps import start_sweep
from plumrake.records import sites, sweeps
from plumrake.records.queries import Connection
from plumrake.service.access import Database, Manager, SignedIn
from plumrake.service.idempotency import Key, once
from plumrake.service.problems import Refusal, not_found

router = APIRouter(tags=["sites"])

Limit = Annotated[int, Query(ge=1, le=200)]


async def site_or_404(database: Connection, slug: str) -> sites.Site:
    """Return the site. Raises a problem where there is none."""
    site = await sites.site_by_slug(database, slug)
    if site is None:
        raise not_found("site", slug)
    return site


async def _shaped(database: Connection, found: list[sites.Site]) -> list[models.Site]:
    figures = await sites.figures(database, found[0].id if len(found) == 1 else None)
    by_site: dict[int, list[models.Figures]] = {}
    for figure in figures:
        by_site.setdefault(figure.site_id, []).append(models.Figures.model_validate(figure))
    return [
        models.Site(
            slug=site.slug, name=site.name, live_address=site.live_address, staging_address=site.staging_address,
            found_by=site.found_by, private_leave=site.private_leave, created_at=site.created_at, figures=by_site.get(site.id, []),
        )
        for site in found
    ]  # fmt: skip


@router.get("/sites", operation_id="listSites")
async def list_sites(who: SignedIn, database: Database) -> models.Listing[models.Site]:
    """List every registered site with the figures of its last sweeps."""
    return models.Listing(items=await _shaped(database, await sites.all_sites(database)))


@router.post("/sites", operation_id="addSite", status_code=201)
async def add_site(request: Request, body: models.NewSite, who: Manager, database: Database, key: Key = None) -> models.Site:
    """Register a site."""

    async def act() -> models.Site:
        if body.found_by == "list" and not body.listed_paths:
            raise Refusal(422, "not-valid", "listed_paths: a site found by 'list' needs at least one path")
        site = await sites.add_site(database, sites.NewSite(**body.model_dump(), policy={}))
        if site is None:
            raise Refusal(409, "slug-taken", f"a site is called '{body.slug}' already; choose another slug")
        return (await _shaped(database, [site]))[0]

    return await once(request, database, who, key, models.Site, act)


@router.get("/sites/{slug}", operation_id="showSite")
async def show_site(slug: str, who: SignedIn, database: Database) -> models.Site:
    """Show a site with the figures of its last sweeps."""
    return (await _shaped(database, [await site_or_404(database, slug)]))[0]


@router.post("/sites/{slug}/sweeps", operation_id="startSweep", status_code=202)
async def start(request: Request, slug: str, body: models.NewSweep, who: Manager, database: Database, key: Key = None) -> models.Sweep:
    """Start reading the pages of a site's edition, all or those of one section."""

    async def act() -> models.Sweep:
        site = await site_or_404(database, slug)
        sweep_id = await start_sweep(
            database, site, request.app.state.enqueue, edition=body.edition, lens=body.lens, section=body.section, asked_by=who.id
        )
        return models.Sweep.model_validate(await sweeps.sweep_by_id(database, sweep_id))

    return await once(request, database, who, key, models.Sweep, act)


@router.get("/sites/{slug}/sweeps", operation_id="listSweeps")
async def list_sweeps(
    slug: str, who: SignedIn, database: Database, after: Annotated[int | None, Query(ge=1)] = None, limit: Limit = 50
) -> models.Listing[models.Sweep]:
    """List a site's sweeps, the newest first."""
    site = await site_or_404(database, slug)
    found = await sweeps.sweeps_of(database, site.id, before=after, limit=limit)
    following = f"/api/v1/sites/{slug}/sweeps?after={found[-1].id}&limit={limit}" if len(found) == limit else None
    return models.Listing(items=[models.Sweep.model_validate(sweep) for sweep in found], next=following)
