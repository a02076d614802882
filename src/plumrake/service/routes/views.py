"""Views over all pages of a sweep: causes, what changed, sections, pictures, colours, links,
titles.

Each is that of one sweep: the one asked for, else the newest finished one of the environment.
"""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions.deciding import offer_text
from plumrake.actions.fixes import Actor
from plumrake.actions.links import begin_link_check
from plumrake.actions.sites import policy_of_site
from plumrake.core.findings import weights_from
from plumrake.records import causes, changes, links, sweeps, views
from plumrake.records.queries import Connection
from plumrake.records.words import words_filter
from plumrake.service.access import Database, Manager, SignedIn, Worker
from plumrake.service.paging import Cursor, keys_of, next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, site_or_404
from plumrake.service.routes.sweeps import Chosen, kept_sweep

router = APIRouter(tags=["views"])

_Text = Annotated[str | None, Query(max_length=2000)]
_FAULTY = ["dead", "no-part", "only-in-staging", "unknown"]


@router.get("/sites/{slug}/causes", operation_id="listCauses")
async def list_causes(
    request: Request,
    slug: str,
    chosen: Chosen,
    database: Database,
    check: _Text = None,
    weight: models.WeightName | None = None,
    outcome: models.OutcomeName | None = None,
    zone: models.ZoneName | None = None,
    by_template: bool | None = None,
    handed_out: bool | None = None,
    words: Annotated[
        models.WordsChoice,
        Query(
            description="Words in no dictionary: left out unless a check is asked for, "
            "listed with all else, or alone."
        ),
    ] = "apart",
    holding: Annotated[
        bool, Query(description="Only what keeps pages from being ready, by the site's policy.")
    ] = False,
    sort: models.CauseSort = "weight",
    after: Cursor = None,
    limit: Limit = 50,
) -> models.Listing[models.Cause]:
    """List a sweep's causes: the heaviest first and of these the sure and the widest, or those of
    the widest reach whatever their weight, or those that were seen first the shortest time ago."""
    if chosen is None:
        return models.Listing(items=[], total=0)
    policy = policy_of_site(await site_or_404(database, slug))
    filters = causes.CauseFilters(
        check,
        weight,
        outcome,
        zone,
        by_template,
        handed_out,
        words_filter(words, check),
        list(weights_from(policy.hold)) if holding else None,
    )
    place = keys_of(after, tuple[int, int])
    found = await causes.causes_of(
        database, chosen.id, filters, sort=sort, after=place, limit=limit
    )
    total = await causes.count_causes(database, chosen.id, filters)
    next_part = next_page(
        request, found, limit, lambda last: (last.rank, last.position), sweep=chosen.id
    )
    return models.Listing(
        items=[models.Cause.model_validate(row) for row in found], next=next_part, total=total
    )


@router.get("/sites/{slug}/causes/{key}", operation_id="showCause")
async def show_cause(slug: str, key: str, chosen: Chosen, database: Database) -> models.Cause:
    """Show one cause of a sweep; its places are the findings with ``cause`` set to its key."""
    found = await causes.cause_by_key(database, chosen.id, key) if chosen is not None else None
    if found is None:
        raise not_found("cause", key)
    return models.Cause.model_validate(found)


async def _base_of(
    database: Connection, sweep: sweeps.SweepRow, against: int | None
) -> sweeps.SweepRow:
    """Return the sweep to compare with. Raises a problem where there is none of the site."""
    base_id = against if against is not None else sweep.base_id
    if base_id is None:
        raise Refusal(
            409,
            "nothing-to-compare",
            f"sweep {sweep.id} has no earlier one of its environment to be compared with; "
            "name another sweep with 'against'",
        )
    base = await kept_sweep(database, base_id)
    if base.site_id != sweep.site_id:
        raise not_found("sweep", base_id)
    return base


_Against = Annotated[
    int | None,
    Query(description="The older sweep, of any environment; default: the one before it."),
]


@router.get("/sweeps/{sweep_id}/changes", operation_id="showChanges")
async def show_changes(
    sweep_id: int, who: SignedIn, database: Database, against: _Against = None
) -> models.Changes:
    """Say what changed since another sweep: findings by kind and weight, pages, causes."""
    sweep = await kept_sweep(database, sweep_id)
    base = await _base_of(database, sweep, against)
    return models.Changes(
        sweep_id=sweep_id,
        base_id=base.id,
        figures=[
            models.ChangeFigure.model_validate(row)
            for row in await changes.figures(database, sweep_id, base.id)
        ],
        pages=[
            models.PageChange.model_validate(row)
            for row in await changes.pages(database, sweep_id, base.id)
        ],
        causes=[
            models.CauseChange.model_validate(row)
            for row in await changes.causes(database, sweep_id, base.id)
        ],
    )


@router.get("/sweeps/{sweep_id}/changes/findings", operation_id="listChangedFindings")
async def list_changed_findings(
    request: Request,
    sweep_id: int,
    kind: models.ChangeKind,
    who: SignedIn,
    database: Database,
    against: _Against = None,
    cause: _Text = None,
    path: _Text = None,
    after: Annotated[int, Query(ge=0)] = 0,
    limit: Limit = 50,
) -> models.Listing[models.Finding]:
    """List the findings of one kind of change; those that are gone are the older sweep's."""
    sweep = await kept_sweep(database, sweep_id)
    base = await _base_of(database, sweep, against)
    found = await changes.findings(
        database, sweep_id, base.id, kind, cause=cause, path=path, after=after, limit=limit
    )
    next_part = next_page(request, found, limit, lambda last: last.ordinal, against=base.id)
    return models.Listing(
        items=[models.Finding.model_validate(row) for row in found], next=next_part
    )


@router.get("/sites/{slug}/sections", operation_id="listSections")
async def list_sections(
    chosen: Chosen,
    database: Database,
    under: Annotated[str, Query(pattern=r"^/(.*/)?$", max_length=2000)] = "/",
) -> models.Listing[models.Section]:
    """List the sections and pages directly below a path that ends with '/', with their figures."""
    found = await views.sections(database, chosen.id, under) if chosen is not None else []
    return models.Listing(items=[models.Section.model_validate(row) for row in found])


@router.get("/sites/{slug}/pictures", operation_id="listPictures")
async def list_pictures(
    request: Request,
    slug: str,
    chosen: Chosen,
    database: Database,
    contradictory: bool = False,
    without_text: bool = False,
    after: Cursor = None,
    limit: Limit = 50,
) -> models.Listing[models.PictureFile]:
    """List a site's pictures by file: every text in use, contradictions, uses without text."""
    if chosen is None:
        return models.Listing(items=[])
    found = await views.pictures(
        database,
        chosen.id,
        contradictory=contradictory,
        without_text=without_text,
        after=keys_of(after, tuple[int, str]),
        limit=limit,
    )
    next_part = next_page(
        request, found, limit, lambda last: (last.uses, last.key), sweep=chosen.id
    )
    return models.Listing(
        items=[models.PictureFile.model_validate(row) for row in found], next=next_part
    )


@router.get("/sites/{slug}/picture-uses", operation_id="listPictureUses")
async def list_picture_uses(
    chosen: Chosen, database: Database, key: Annotated[str, Query(max_length=4000)]
) -> models.Listing[models.PictureUse]:
    """List where one picture is used, with the text it has there."""
    found = await views.picture_uses(database, chosen.id, key) if chosen is not None else []
    return models.Listing(items=[models.PictureUse.model_validate(row) for row in found])


@router.post("/sites/{slug}/picture-texts", operation_id="offerPictureText")
async def offer_picture_text(
    body: models.PictureText, who: Manager, chosen: Chosen, database: Database
) -> models.Offered:
    """Make one text the proposal of every fix of a fault of a picture; causes without a fix are
    handed out. An empty text marks it as decorative."""
    if chosen is None:
        raise Refusal(409, "nothing-swept", "the site has no finished sweep; start one first")
    fixes, places = await offer_text(database, chosen, body.key, body.text, Actor(who.id, who.role))
    return models.Offered(fixes=fixes, places=places)


@router.get("/sites/{slug}/colours", operation_id="listColours")
async def list_colours(chosen: Chosen, database: Database) -> models.Listing[models.ColourPair]:
    """List a site's pairs of text and background colour, those that fail first."""
    found = await views.colours(database, chosen.id) if chosen is not None else []
    return models.Listing(items=[models.ColourPair.model_validate(row) for row in found])


@router.get("/sites/{slug}/links", operation_id="listLinks")
async def list_links(
    request: Request,
    slug: str,
    chosen: Chosen,
    database: Database,
    text: _Text = None,
    target: _Text = None,
    state: models.LinkStateName | None = None,
    faulty: Annotated[
        bool,
        Query(
            description=(
                "Only those that do not lead where they should, or of which that cannot be told."
            )
        ),
    ] = False,
    after: Cursor = None,
    limit: Limit = 50,
) -> models.Listing[models.LinkText]:
    """List a site's links by text and address, the most used first, with what each was found to
    lead to when it was asked last."""
    if chosen is None:
        return models.Listing(items=[])
    states = [state] if state is not None else _FAULTY if faulty else None
    found = await views.links(
        database,
        chosen,
        text=text,
        target=target,
        states=states,
        after=keys_of(after, tuple[int, str, str]),
        limit=limit,
    )
    next_part = next_page(
        request, found, limit, lambda last: (last.uses, last.text, last.address), sweep=chosen.id
    )
    return models.Listing(
        items=[models.LinkText.model_validate(row) for row in found], next=next_part
    )


@router.post("/sites/{slug}/links/check", operation_id="followLinks", status_code=202)
async def follow_links(
    request: Request,
    slug: str,
    who: Worker,
    database: Database,
    environment: models.Environment | None = None,
) -> models.LinkCheck:
    """Have every address that the pages of a site's newest sweep lead to asked, in live and where
    need be in staging."""
    site = await site_or_404(database, slug)
    await begin_link_check(database, request.app.state.enqueue, site, environment, who.id)
    return models.LinkCheck.model_validate(await links.last_round(database, site.id))


@router.get("/sites/{slug}/links/check", operation_id="showLinkCheck")
async def show_link_check(slug: str, who: SignedIn, database: Database) -> models.LinkCheck | None:
    """Say when a site's links were followed last, and how far that is; nothing where they never
    were."""
    found = await links.last_round(database, (await site_or_404(database, slug)).id)
    return models.LinkCheck.model_validate(found) if found is not None else None


@router.get("/sites/{slug}/titles", operation_id="listTitles")
async def list_titles(
    request: Request,
    slug: str,
    chosen: Chosen,
    database: Database,
    after: Cursor = None,
    limit: Limit = 50,
) -> models.Listing[models.TitleShared]:
    """List the titles of a site's pages, the most shared first."""
    if chosen is None:
        return models.Listing(items=[])
    place = keys_of(after, tuple[int, str])
    found = await views.titles(database, chosen.id, after=place, limit=limit)
    next_part = next_page(
        request, found, limit, lambda last: (last.pages, last.title), sweep=chosen.id
    )
    return models.Listing(
        items=[models.TitleShared.model_validate(row) for row in found], next=next_part
    )
