"""Fixes: making and moving them, their places and history, the desk, and who has how much."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Header, Query, Request, Response

from plumrake import models
from plumrake.actions import fixes as actions
from plumrake.actions.desk import desk_of
from plumrake.actions.sites import policy_of_site
from plumrake.core.fixes import Move, MoveRefused
from plumrake.records import fixes, items, members, sites, sweeps
from plumrake.records.fixes import FixFilters, FixRow, Owner
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import SweepRow
from plumrake.service.access import Database, Manager, SignedIn, Worker
from plumrake.service.idempotency import Key, once, repeatable
from plumrake.service.paging import Cursor, keys_of, next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, site_for, site_or_404

router = APIRouter(tags=["fixes"])

_KEYS: dict[str, type[tuple[Any, ...]]] = {
    "reach": tuple[int, int, int],
    "due": tuple[date | None, int],
    "change": tuple[datetime, int],
}
"""What a listing comes after, by its order."""
IfMatch = Annotated[str | None, Header(max_length=100)]
_Text = Annotated[str | None, Query(max_length=2000)]


def shaped(fix: FixRow) -> models.Fix:
    """Return a fix as it is answered."""
    return models.Fix(**_fields(fix))


def _fields(fix: FixRow) -> dict[str, object]:
    own = {name: getattr(fix, name) for name in FixRow.__slots__}
    of_group = {"group_id": fix.group_id, "group": fix.group_name}
    return {**own, **of_group, "tag": tag_of(fix), "where": fix.where, "in_editor": fix.in_editor}


def tag_of(fix: FixRow) -> str:
    """Return the entity tag of a fix (RFC 9110, 8.8.3)."""
    return f'"{fix.version}"'


def _owner(choice: models.OwnerChoice | None) -> Owner | None:
    if choice is None or choice.author:
        return None
    if choice.person_id is not None and choice.group_id is not None:
        raise Refusal(422, "not-valid", "owner: name a person or a group, not both")
    return Owner(choice.person_id, choice.group_id)


async def _author(database: Connection, fix: FixRow) -> Owner:
    """Return the author of what makes a fix's page. Raises a problem where nobody knows."""
    author = await items.author_of(database, fix.site_id, fix.environment, [fix.path])
    if author is None:
        raise Refusal(
            409,
            "no-author",
            f"who wrote {fix.path} is not known here; say under Going out who its author is",
        )
    return Owner(author)


async def fix_or_404(database: Connection, fix_id: int) -> FixRow:
    """Return the fix. Raises a problem where there is none."""
    fix = await fixes.fix_by_id(database, fix_id)
    if fix is None:
        raise not_found("fix", fix_id)
    return fix


async def _in_full(database: Connection, fix: FixRow, who: CallerRow) -> models.FixInFull:
    moves = [
        str(move)
        for move in await actions.moves_for(database, fix, actions.Actor(who.id, who.role))
    ]
    events = [
        models.FixEvent.model_validate(event) for event in await fixes.events_of(database, fix.id)
    ]
    own = policy_of_site(await sites.site_by_id(database, fix.site_id)).help_for(fix.check)
    return models.FixInFull(
        **_fields(fix),
        events=events,
        moves=moves,
        own_help=models.OwnHelp.model_validate(own) if own is not None else None,
    )


@router.get("/sites/{slug}/fixes", operation_id="listFixes")
async def list_fixes(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    state: Annotated[list[models.FixState] | None, Query()] = None,
    environment: models.Environment | None = None,
    mine: bool = False,
    owner: int | None = None,
    group: int | None = None,
    unowned: bool = False,
    check: _Text = None,
    weight: models.WeightName | None = None,
    cause: _Text = None,
    path: _Text = None,
    late: bool = False,
    due_from: date | None = None,
    due_until: date | None = None,
    sort: Literal["reach", "due", "change"] = "reach",
    after: Cursor = None,
    limit: Limit = 50,
) -> models.Listing[models.Fix]:
    """List a site's fixes: by weight and reach, by the day that they are due, or by their last
    change. ``total`` is counted to 10,000."""
    site = await site_or_404(database, slug)
    filters = FixFilters(
        list(state) if state else None,
        environment,
        who.id if mine else owner,
        group,
        unowned,
        check,
        weight,
        cause,
        path,
        late,
        due_from,
        due_until,
    )
    found = await fixes.list_fixes(
        database, site.id, filters, sort=sort, after=keys_of(after, _KEYS[sort]), limit=limit
    )
    total = await fixes.count_fixes(database, site.id, filters)
    next_part = next_page(request, found, limit, lambda last: last.keys(sort))
    return models.Listing(items=[shaped(fix) for fix in found], next=next_part, total=total)


async def _finished_sweep(database: Connection, site: SiteRow, body: models.NewFixes) -> SweepRow:
    """Return the sweep that fixes are made from. Raises a problem."""
    sweep_id = body.sweep or await sweeps.newest_done(database, site.id, body.environment)
    sweep = await sweeps.sweep_by_id(database, sweep_id) if sweep_id is not None else None
    if sweep is None or sweep.site_id != site.id or sweep.state != "done":
        raise Refusal(
            409, "nothing-swept", f"'{site.slug}' has no such finished sweep; start one first"
        )
    return sweep


@router.post("/sites/{slug}/fixes", operation_id="makeFixes", status_code=201)
@repeatable
async def make_fixes(
    slug: str,
    body: models.NewFixes,
    who: Manager,
    database: Database,
) -> models.Listing[models.Fix]:
    """Hand out causes of a sweep, or single findings: to an owner, or each to whoever answers for
    its pages."""

    site = await site_or_404(database, slug)
    actor, owner = actions.Actor(who.id, who.role), _owner(body.owner)
    to_author = body.owner is not None and body.owner.author
    if not body.causes and not body.findings:
        raise Refusal(422, "not-valid", "causes: name at least one cause or one finding")
    made: list[FixRow] = []
    async with database.transaction():
        if body.causes:
            sweep = await _finished_sweep(database, site, body)
            made += await actions.hand_out(
                database,
                sweep,
                body.causes,
                actor,
                owner=owner,
                to_author=to_author,
                due_on=body.due_on,
                why=body.why,
            )
        for finding_id in body.findings:
            finding = await sweeps.finding_by_id(database, finding_id)
            if finding is None or finding.site != slug:
                raise not_found("finding", finding_id)
            made.append(
                await actions.hand_out_place(
                    database,
                    finding.sweep_id,
                    finding_id,
                    actor,
                    owner=owner,
                    to_author=to_author,
                    due_on=body.due_on,
                    why=body.why,
                )
            )
    return models.Listing(items=[shaped(fix) for fix in made], total=len(made))


@router.post("/sites/{slug}/fixes/moves", operation_id="moveFixes")
@repeatable
async def move_fixes(
    request: Request, slug: str, body: models.FixMoves, who: Worker, database: Database
) -> models.Listing[models.MoveResult]:
    """Make the same move of several fixes; each is moved or refused on its own, and the answer says
    which and why."""
    site = await site_or_404(database, slug)
    known = {
        fix.id for fix in await fixes.fixes_by_ids(database, body.ids) if fix.site_id == site.id
    }
    results: list[models.MoveResult] = []
    for fix_id in dict.fromkeys(body.ids):
        if fix_id not in known:
            results.append(
                models.MoveResult(
                    id=fix_id, code="no-such-fix", detail=f"there is no fix '{fix_id}'"
                )
            )
            continue
        try:
            results.append(
                models.MoveResult(
                    id=fix_id, fix=shaped(await _moved(request, database, fix_id, body, who, None))
                )
            )
        except (MoveRefused, actions.BadMove) as error:
            results.append(models.MoveResult(id=fix_id, code=error.code, detail=str(error)))
    return models.Listing(items=results, total=len(results))


@router.get("/sites/{slug}/fixes/figures", operation_id="showFixFigures")
async def show_figures(slug: str, who: SignedIn, database: Database) -> models.FixFigures:
    """Show a site's fixes by state and by owner, with what is late and the median days to proof."""
    site = await site_or_404(database, slug)
    owners = [
        models.OwnerLoad(
            **{
                name: getattr(one, name)
                for name in fixes.OwnerLoadRow.__slots__
                if name != "group_id"
            },
            group_id=one.group_id,
        )
        for one in await fixes.load_of(database, site.id)
    ]
    return models.FixFigures(states=await fixes.sums(database, site.id), owners=owners)


@router.get("/sites/{slug}/history", operation_id="showHistory")
async def show_history(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    cause: _Text = None,
    path: _Text = None,
    person: int | None = None,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.SiteEvent]:
    """List what happened to a site's fixes, the newest first: all, or those of a cause, a page, a
    person."""
    site = await site_or_404(database, slug)
    found = await fixes.site_events(
        database, site.id, cause=cause, path=path, by_id=person, before=after, limit=limit
    )
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.SiteEvent.model_validate(event) for event in found], next=next_part
    )


@router.get("/fixes/{fix_id}", operation_id="showFix")
async def show_fix(
    response: Response, fix_id: int, who: SignedIn, database: Database
) -> models.FixInFull:
    """Show a fix with its history and what one can do with it now."""
    fix = await fix_or_404(database, fix_id)
    response.headers["ETag"] = tag_of(fix)
    return await _in_full(database, fix, who)


@router.get("/fixes/{fix_id}/places", operation_id="listFixPlaces")
async def list_places(
    request: Request,
    fix_id: int,
    who: SignedIn,
    database: Database,
    after: Cursor = None,
    limit: Limit = 100,
) -> models.Listing[models.FixPlace]:
    """List the places of a fix by page."""
    await fix_or_404(database, fix_id)
    place = keys_of(after, tuple[str, str]) or ("", "")
    found = await fixes.places_of(database, fix_id, after=place, limit=limit)
    next_part = next_page(request, found, limit, lambda last: (last.path, last.place_key))
    return models.Listing(
        items=[models.FixPlace.model_validate(place) for place in found], next=next_part
    )


@router.post("/fixes/{fix_id}/moves", operation_id="moveFix")
async def move_fix(
    request: Request,
    response: Response,
    fix_id: int,
    body: models.FixMove,
    who: Worker,
    database: Database,
    if_match: IfMatch = None,
    key: Key = None,
) -> models.FixInFull:
    """Move a fix. ``If-Match`` with the tag that was read is needed for all but a note, so that
    nobody overwrites what they have not seen."""

    async def act() -> models.FixInFull:
        version = _version(body.move, if_match)
        return await _in_full(
            database, await _moved(request, database, fix_id, body, who, version), who
        )

    moved = await once(request, database, who, key, models.FixInFull, act)
    response.headers["ETag"] = moved.tag
    return moved


def _version(move: str, if_match: str | None) -> int | None:
    if if_match == "*" or (if_match is None and move == "note"):
        return None
    if if_match is None:
        raise Refusal(
            428,
            "tag-needed",
            "send If-Match with the tag of the fix as you saw it, or '*' to move it however it is",
        )
    number = if_match.strip('"')
    return int(number) if number.isdigit() else -1


async def _moved(
    request: Request,
    database: Connection,
    fix_id: int,
    body: models.FixMove,
    who: CallerRow,
    version: int | None,
) -> FixRow:
    actor = actions.Actor(who.id, who.role)
    if body.move == "hand_in":
        return await actions.hand_in(
            database, request.app.state.enqueue, fix_id, actor, version=version, why=body.why
        )
    owner = _owner(body.owner)
    if body.owner is not None and body.owner.author:
        owner = await _author(database, await fix_or_404(database, fix_id))
    wanted = actions.Wanted(
        Move(body.move),
        body.why,
        owner,
        body.due_on,
        body.proposal,
        [str(link) for link in body.links],
    )
    return await actions.move_fix(database, fix_id, wanted, actor, version=version)


@router.get("/desk", operation_id="showDesk")
async def show_desk(
    who: SignedIn, database: Database, site: _Text = None, person: int | None = None
) -> models.Desk:
    """Show what one has to mend, page by page, the pressing ones first; managers may look at
    another's desk."""
    site_id = (await site_for(database, who, site)).id if site is not None else None
    role = await members.role_in(database, who.id, site_id) if site_id is not None else who.role
    if person is not None and person != who.id and role != "manager":
        raise Refusal(
            403,
            "role-missing",
            "only managers look at another's desk: those of every site, or of the one named",
        )
    desk = await desk_of(database, person or who.id, site_id)
    pages = [
        models.DeskPage(
            site=page.site,
            environment=page.environment,
            path=page.path,
            fixes=[shaped(fix) for fix in page.fixes],
        )
        for page in desk.pages
    ]
    counts = {name: desk.count(name) for name in ("open", "in_hand", "reopened", "handed_in")}
    return models.Desk(
        pages=pages,
        **counts,
        late=desk.late,
        unread_notifications=desk.unread,
        came_back=[models.CorrectionsBack.model_validate(one) for one in desk.came_back],
    )
