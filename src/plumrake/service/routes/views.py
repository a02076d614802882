"""Views over all pages of a sweep: causes, what changed, sections, pictures, colours, links, titles.

Each is that of one sweep: the one asked for, else the newest finished one of the edition.
"""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions.deciding import offer_text
from plumrake.actions.fixes import Actor
from plumrake.actions.links import begin_round
from plumrake.records import causes, changes, links, sweeps, views
from plumrake.records.queries import Connection
from plumrake.service.access import Database, Manager, SignedIn, Worker
from plumrake.service.paging import following
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, site_or_404
from plumrake.service.routes.sweeps import Chosen, sweep_or_404

router = APIRouter(tags=["views"])

_Text = Annotated[str | None, Query(max_length=2000)]
_Count = Annotated[int | None, Query(ge=0)]
_FAULTY = ["dead", "no-part", "only-in-staging", "unknown"]


@router.get("/sites/{slug}/causes", operation_id="listCauses")
async def list_causes(
    slug: str, chosen: Chosen, database: Database, check: _Text = None, weight: models.WeightName | None = None,
    outcome: models.OutcomeName | None = None, region: _Text = None, by_template: bool | None = None,
    handed_out: bool | None = None, sort: models.CauseSort = "reach", after: _Count = None, after_rank: int = 0, limit: Limit = 50,
) -> models.Listing[models.Cause]:  # fmt: skip
    """List a sweep's causes: the widest reach first, or first the heaviest, or those that were seen first the shortest time ago."""
    if chosen is None:
        return models.Listing(items=[], total=0)
    filters = causes.CauseFilters(check, weight, outcome, region, by_template, handed_out)
    place = {"after": (after_rank, after)} if after is not None else {}
    found = await causes.causes_of(database, chosen.id, filters, sort=sort, limit=limit, **place)
    total = await causes.count_causes(database, chosen.id, filters)
    last = {"after": found[-1].position, "after_rank": found[-1].rank} if found else {}
    given = {"sweep": chosen.id, **filters.as_values(), "sort": sort, "limit": limit, **last}
    next_part = following(f"/sites/{slug}/causes", given, more=len(found) == limit)
    return models.Listing(items=[models.Cause.model_validate(row) for row in found], next=next_part, total=total)


@router.get("/sites/{slug}/causes/{key}", operation_id="showCause")
async def show_cause(slug: str, key: str, chosen: Chosen, database: Database) -> models.Cause:
    """Show one cause of a sweep; its places are the findings with ``cause`` set to its key."""
    found = await causes.cause_by_key(database, chosen.id, key) if chosen is not None else None
    if found is None:
        raise not_found("cause", key)
    return models.Cause.model_validate(found)


async def _base_of(database: Connection, sweep: sweeps.Sweep, against: int | None) -> sweeps.Sweep:
    """Return the sweep to compare with. Raises a problem where there is none, or it is another site's."""
    base_id = against if against is not None else sweep.base_id
    if base_id is None:
        raise Refusal(409, "nothing-to-compare", f"sweep {sweep.id} is the first of its edition; name another sweep with 'against'")
    base = await sweep_or_404(database, base_id)
    if base.site_id != sweep.site_id:
        raise Refusal(422, "not-valid", f"against: sweep {base_id} is of another site")
    return base


_Against = Annotated[int | None, Query(description="The older sweep, of any edition; default: the one before it.")]


@router.get("/sweeps/{sweep_id}/changes", operation_id="showChanges")
async def show_changes(sweep_id: int, who: SignedIn, database: Database, against: _Against = None) -> models.Changes:
    """Say what changed since another sweep: findings by kind and weight, pages, causes."""
    sweep = await sweep_or_404(database, sweep_id)
    base = await _base_of(database, sweep, against)
    return models.Changes(
        sweep_id=sweep_id, base_id=base.id,
        figures=[models.ChangeFigure.model_validate(row) for row in await changes.figures(database, sweep_id, base.id)],
        pages=[models.PageChange.model_validate(row) for row in await changes.pages(database, sweep_id, base.id)],
        causes=[models.CauseChange.model_validate(row) for row in await changes.causes(database, sweep_id, base.id)],
    )  # fmt: skip


@router.get("/sweeps/{sweep_id}/changes/findings", operation_id="listChangedFindings")
async def list_changed_findings(
    sweep_id: int, kind: models.ChangeKind, who: SignedIn, database: Database, against: _Against = None, cause: _Text = None, path: _Text = None,
    after: Annotated[int, Query(ge=0)] = 0, limit: Limit = 50,
) -> models.Listing[models.Finding]:  # fmt: skip
    """List the findings of one kind of change; those that are gone are the older sweep's."""
    sweep = await sweep_or_404(database, sweep_id)
    base = await _base_of(database, sweep, against)
    found = await changes.findings(database, sweep_id, base.id, kind, cause=cause, path=path, after=after, limit=limit)
    given = {"kind": kind, "against": base.id, "cause": cause, "path": path, "limit": limit, "after": found[-1].ordinal if found else None}
    next_part = following(f"/sweeps/{sweep_id}/changes/findings", given, more=len(found) == limit)
    return models.Listing(items=[models.Finding.model_validate(row) for row in found], next=next_part)


@router.get("/sites/{slug}/sections", operation_id="listSections")
async def list_sections(
    chosen: Chosen, database: Database, under: Annotated[str, Query(pattern=r"^/(.*/)?$", max_length=2000)] = "/"
) -> models.Listing[models.Section]:
    """List the sections and pages directly below a path that ends with '/', with their figures."""
    found = await views.sections(database, chosen.id, under) if chosen is not None else []
    return models.Listing(items=[models.Section.model_validate(row) for row in found])


@router.get("/sites/{slug}/pictures", operation_id="listPictures")
async def list_pictures(
    slug: str, chosen: Chosen, database: Database, contradictory: bool = False, without_text: bool = False,
    after: _Count = None, after_key: Annotated[str, Query(max_length=4000)] = "", limit: Limit = 50,
) -> models.Listing[models.PictureFile]:  # fmt: skip
    """List a site's pictures by file: every text in use, contradictions, uses without text."""
    place = (after, after_key) if after is not None else None
    options = {"contradictory": contradictory, "without_text": without_text, "limit": limit}
    found = await views.pictures(database, chosen.id, after=place, **options) if chosen is not None else []  # type: ignore[arg-type]
    given = {"sweep": chosen.id, **options, "after": found[-1].uses, "after_key": found[-1].key} if chosen and found else {}
    next_part = following(f"/sites/{slug}/pictures", given, more=len(found) == limit)
    return models.Listing(items=[models.PictureFile.model_validate(row) for row in found], next=next_part)


@router.get("/sites/{slug}/picture-uses", operation_id="listPictureUses")
async def list_picture_uses(
    chosen: Chosen, database: Database, key: Annotated[str, Query(max_length=4000)]
) -> models.Listing[models.PictureUse]:
    """List where one picture is used, with the text it has there."""
    found = await views.picture_uses(database, chosen.id, key) if chosen is not None else []
    return models.Listing(items=[models.PictureUse.model_validate(row) for row in found])


@router.post("/sites/{slug}/picture-texts", operation_id="offerPictureText")
async def offer_picture_text(body: models.PictureText, who: Manager, chosen: Chosen, database: Database) -> models.Offered:
    """Make one text the proposal of every fix of a fault of a picture; causes without a fix are handed out. An empty text marks an ornament."""
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
    slug: str, chosen: Chosen, database: Database, text: _Text = None, target: _Text = None, state: models.LinkStateName | None = None,
    faulty: Annotated[bool, Query(description="Only those that do not lead where they should, or of which that cannot be told.")] = False, after: _Count = None,
    after_text: Annotated[str, Query(max_length=4000)] = "", after_target: Annotated[str, Query(max_length=4000)] = "", limit: Limit = 50,
) -> models.Listing[models.LinkText]:  # fmt: skip
    """List a site's links by text and address, the most used first, with what each was found to lead to when it was asked last."""
    place = (after, after_text, after_target) if after is not None else None
    states = [state] if state is not None else _FAULTY if faulty else None
    found = await views.links(database, chosen, text=text, target=target, states=states, after=place, limit=limit) if chosen is not None else []
    given: dict[str, object] = {}
    if chosen and found:
        last = found[-1]
        given = {"sweep": chosen.id, "text": text, "target": target, "state": state, "faulty": faulty or None}
        given |= {"after": last.uses, "after_text": last.text, "after_target": last.address}
    next_part = following(f"/sites/{slug}/links", given | {"limit": limit}, more=len(found) == limit)
    return models.Listing(items=[models.LinkText.model_validate(row) for row in found], next=next_part)


@router.post("/sites/{slug}/links/round", operation_id="followLinks", status_code=202)
async def follow_links(request: Request, slug: str, who: Worker, database: Database, edition: models.Edition | None = None) -> models.LinkRound:
    """Have every address that the pages of a site's newest sweep lead to asked, in live and where need be in staging."""
    site = await site_or_404(database, slug)
    await begin_round(database, request.app.state.enqueue, site, edition, who.id)
    return models.LinkRound.model_validate(await links.last_round(database, site.id))


@router.get("/sites/{slug}/links/round", operation_id="showLinkRound")
async def show_link_round(slug: str, who: SignedIn, database: Database) -> models.LinkRound | None:
    """Say when a site's links were followed last, and how far that is; nothing where they never were."""
    found = await links.last_round(database, (await site_or_404(database, slug)).id)
    return models.LinkRound.model_validate(found) if found is not None else None


@router.get("/sites/{slug}/titles", operation_id="listTitles")
async def list_titles(
    slug: str,
    chosen: Chosen,
    database: Database,
    after: _Count = None,
    after_title: Annotated[str, Query(max_length=4000)] = "",
    limit: Limit = 50,
) -> models.Listing[models.TitleShared]:
    """List the titles of a site's pages, the most shared first."""
    place = (after, after_title) if after is not None else None
    found = await views.titles(database, chosen.id, after=place, limit=limit) if chosen is not None else []
    given = {"sweep": chosen.id, "after": found[-1].pages, "after_title": found[-1].title, "limit": limit} if chosen and found else {}
    next_part = following(f"/sites/{slug}/titles", given, more=len(found) == limit)
    return models.Listing(items=[models.TitleShared.model_validate(row) for row in found], next=next_part)
