"""Sites and their sweeps."""

from __future__ import annotations

from collections import defaultdict
from typing import Annotated

from croniter import croniter
from fastapi import APIRouter, Header, Query, Request

from plumrake import models
from plumrake.actions.archives import keep_archive
from plumrake.actions.sweeps import SweepRequest, figures_of, start_sweep
from plumrake.actions.verdicts import change_site as apply_settings
from plumrake.core.journeys import BadJourneys, states_of
from plumrake.core.policy import BadPolicy, policy_from
from plumrake.records import members, sites, sweeps
from plumrake.records.handed_over import HandedOverRow
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow
from plumrake.service.access import Database, Manager, Operator, SignedIn, is_operator
from plumrake.service.idempotency import repeatable
from plumrake.service.paging import next_page
from plumrake.service.problems import Refusal, not_found

router = APIRouter(tags=["sites"])

_MOST_ARCHIVE_BYTES = 200_000_000
Limit = Annotated[int, Query(ge=1, le=200)]
IfMatch = Annotated[str | None, Header(max_length=100)]


async def site_or_404(database: Connection, slug: str) -> sites.SiteRow:
    """Return the site. Raises a problem where there is none."""
    site = await sites.site_by_slug(database, slug)
    if site is None:
        raise not_found("site", slug)
    return site


async def site_for(database: Connection, who: CallerRow, slug: str) -> sites.SiteRow:
    """Return a site that a request names elsewhere than in its address. Raises a problem where it
    is not there for who asks."""
    site = await site_or_404(database, slug)
    if await members.role_in(database, who.id, site.id) is None:
        raise not_found("site", slug)
    return site


async def _shaped(database: Connection, found: list[sites.SiteRow]) -> list[models.Site]:
    only = found[0].id if len(found) == 1 else None
    figures = defaultdict(list)
    for figure in await sites.figures(database, only):
        figures[figure.site_id].append(models.Figures.model_validate(figure))
    under_way = defaultdict(list)
    for sweep in await sites.under_way(database, only):
        under_way[sweep.site_id].append(models.UnderWay.model_validate(sweep))
    return [
        models.Site(
            **{name: getattr(site, name) for name in _SHOWN},
            tag=tag_of(site),
            figures=figures[site.id],
            under_way=under_way[site.id],
        )
        for site in found
    ]


_SHOWN = (
    "slug",
    "name",
    "live_address",
    "staging_address",
    "found_by",
    "private_leave",
    "most_pages",
    "crawl_depth",
    "parallel",
    "pause_ms",
    "schedule",
    "schedule_environment",
    "policy",
    "journeys",
    "second_factor_roles",
    "created_at",
)


def tag_of(site: sites.SiteRow) -> str:
    """Return the entity tag of a site's settings (RFC 9110, 8.8.3)."""
    return f'"{int(site.changed_at.timestamp() * 1_000_000):x}"'


def _checked(new: sites.NewSite) -> sites.NewSite:
    """Return a site's settings. Raises a problem where they do not fit together."""
    if new.found_by == "list" and not new.listed_paths:
        raise Refusal(
            422, "not-valid", "listed_paths: a site found by 'list' needs at least one path"
        )
    if new.schedule is not None and not croniter.is_valid(new.schedule):
        raise Refusal(
            422,
            "not-valid",
            f"schedule: '{new.schedule}' is no cron pattern; write for example '0 4 * * 1-5'",
        )
    try:
        policy_from(new.policy)
    except BadPolicy as error:
        raise Refusal(422, "not-valid", f"policy: {error}") from None
    try:
        states_of(new.journeys)
    except BadJourneys as error:
        raise Refusal(422, "not-valid", f"journeys: {error}") from None
    return new


def shaped_sweep(sweep: sweeps.SweepRow | None) -> models.Sweep:
    """Return a sweep as it is answered, with its rate and the seconds left."""
    assert sweep is not None
    figures = figures_of(sweep)
    shown = models.Sweep.model_validate(sweep)
    return shown.model_copy(
        update={
            "rate": figures["rate"],
            "seconds_left": figures["seconds_left"] if sweep.state == "running" else None,
        }
    )


@router.get("/sites", operation_id="listSites")
async def list_sites(who: SignedIn, database: Database) -> models.Listing[models.Site]:
    """List the sites that one is in, with the figures of their last sweeps and those under way."""
    return models.Listing(items=await _shaped(database, await sites.sites_of(database, who.id)))


@router.post("/sites", operation_id="addSite", status_code=201)
@repeatable
async def add_site(body: models.NewSite, who: Operator, database: Database) -> models.Site:
    """Register a site."""

    site = await sites.add_site(database, _checked(sites.NewSite(**body.model_dump())))
    if site is None:
        raise Refusal(
            409, "slug-taken", f"a site is called '{body.slug}' already; choose another slug"
        )
    return (await _shaped(database, [site]))[0]


@router.get("/sites/{slug}", operation_id="showSite")
async def show_site(slug: str, who: SignedIn, database: Database) -> models.Site:
    """Show a site with the figures of its last sweeps and those under way."""
    return (await _shaped(database, [await site_or_404(database, slug)]))[0]


@router.patch("/sites/{slug}", operation_id="changeSite")
async def change_site(
    slug: str, body: models.SiteChange, who: Manager, database: Database, if_match: IfMatch = None
) -> models.Site:
    """Change a site's settings. ``If-Match`` with the tag that was read keeps two people from
    overwriting each other."""
    site = await site_or_404(database, slug)
    if if_match is not None and if_match not in ("*", tag_of(site)):
        raise Refusal(
            412,
            "changed-meanwhile",
            f"somebody changed '{slug}' meanwhile; look at it again, then change it",
        )
    known = {name: getattr(site, name) for name in sites.NewSite.__slots__}
    await _check_private(database, who, site, body)
    changed = await apply_settings(
        database, site, _checked(sites.NewSite(**{**known, **body.model_dump(exclude_unset=True)}))
    )
    if changed is None:
        raise Refusal(
            412,
            "changed-meanwhile",
            f"somebody changed '{slug}' meanwhile; look at it again, then change it",
        )
    return (await _shaped(database, [changed]))[0]


async def check_reach(database: Connection, who: CallerRow) -> None:
    """Let through who runs the service, and nobody else: for addresses that may be private, since
    the site has leave for such. Raises a problem."""
    if not await is_operator(database, who):
        raise Refusal(
            403,
            "role-missing",
            "the site may be read in a private network: addresses for it are given by who runs the "
            "service, a manager of every site",
        )


async def _check_private(
    database: Connection, who: CallerRow, site: sites.SiteRow, body: models.SiteChange
) -> None:
    """Let nobody but who runs the service say which private addresses are read. Raises a
    problem."""
    given = body.model_dump(exclude_unset=True)
    leave = given.get("private_leave", site.private_leave)
    moved = any(
        name in given and given[name] != getattr(site, name)
        for name in ("private_leave", "live_address", "staging_address")
    )
    if leave and moved:
        await check_reach(database, who)


@router.put("/sites/{slug}/archive", operation_id="giveArchive", max_body_size=_MOST_ARCHIVE_BYTES)
async def give_archive(
    request: Request,
    slug: str,
    who: Manager,
    database: Database,
    name: Annotated[str, Query(min_length=5, max_length=200)],
) -> models.Site:
    """Hand over a .zip or WARC as the body: the site's pages come from it from now on."""
    return (
        await _shaped(
            database,
            [
                await keep_archive(
                    database, await site_or_404(database, slug), name, await request.body()
                )
            ],
        )
    )[0]


@router.delete("/sites/{slug}", operation_id="dropSite", status_code=204)
async def drop_site(slug: str, who: Manager, database: Database) -> None:
    """Forget a site with its sweeps and all that was found."""
    await sites.drop_site(database, (await site_or_404(database, slug)).id)


@router.post("/sites/{slug}/sweeps", operation_id="startSweep", status_code=202)
@repeatable
async def start(
    request: Request,
    slug: str,
    body: models.NewSweep,
    who: Manager,
    database: Database,
) -> models.Sweep:
    """Start reading the pages of a site's environment, all, those of one section, or given ones."""

    site = await site_or_404(database, slug)
    scope = "given" if body.paths else "changed" if body.changed else "all"
    asked = SweepRequest(
        body.environment, body.lens, body.section, scope, tuple(body.paths), body.fresh
    )
    sweep_id = await start_sweep(database, site, request.app.state.enqueue, asked, who.id)
    return shaped_sweep(await sweeps.sweep_by_id(database, sweep_id))


@router.post("/sites/{slug}/readings", operation_id="handOver", status_code=202)
@repeatable
async def hand_over(
    request: Request, slug: str, body: models.NewReadings, who: Manager, database: Database
) -> models.Sweep:
    """Hand pages over that a test's browser has open, instead of having them fetched: a sweep of
    them alone reads them by the site's policy, without keys, other layouts and pixels."""
    site = await site_or_404(database, slug)
    pages = {one.path: HandedOverRow(one.path, one.source, one.answer) for one in body.states}
    asked = SweepRequest(
        body.environment,
        scope="given",
        paths=tuple(pages),
        fresh=True,
        handed_over=tuple(pages.values()),
    )
    sweep_id = await start_sweep(database, site, request.app.state.enqueue, asked, who.id)
    return shaped_sweep(await sweeps.sweep_by_id(database, sweep_id))


@router.get("/sites/{slug}/sweeps", operation_id="listSweeps")
async def list_sweeps(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    given: Annotated[
        bool,
        Query(description="Also those of a few given pages: proofs of fixes, pages read again."),
    ] = False,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.Sweep]:
    """List a site's sweeps of all pages or of a section, the newest first."""
    site = await site_or_404(database, slug)
    found = await sweeps.sweeps_of(database, site.id, given=given, before=after, limit=limit)
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(items=[shaped_sweep(sweep) for sweep in found], next=next_part)
