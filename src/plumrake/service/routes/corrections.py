"""Corrections: drafting, looking them over, taking back, having them written, and downloading what
they change; and where a site's sources are."""

from __future__ import annotations

import asyncio
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response

from plumrake import models
from plumrake.actions import corrections as actions
from plumrake.actions import library_texts
from plumrake.actions import picture_texts as texts
from plumrake.actions.changed_pages import ChangedPage, archive_of_pages, changed_pages
from plumrake.actions.fixes import Actor
from plumrake.actions.site_sources import SourceSettings, tried
from plumrake.actions.sites import origin_of_environment, policy_of_site
from plumrake.actions.tries import TryRoom
from plumrake.connectors.source_item import BadConnection
from plumrake.core.corrections import CorrectionState, open_moves
from plumrake.core.findings import Mend
from plumrake.records import connections, corrections, picture_texts, sweeps
from plumrake.records.connections import SourceConnectionRow
from plumrake.records.corrections import CorrectionFilters, CorrectionRow
from plumrake.records.picture_texts import DescriptionRow, ProposedTextsRow
from plumrake.records.queries import Connection
from plumrake.records.sign_ins import CallerRow
from plumrake.records.sweeps import FindingInFullRow
from plumrake.service.access import (
    Database,
    Lender,
    Manager,
    SignedIn,
    WaitingManager,
    WaitingReader,
    WaitingWorker,
    Worker,
)
from plumrake.service.paging import next_page
from plumrake.service.problems import Refusal, not_found
from plumrake.service.routes.sites import Limit, check_reach, site_or_404
from plumrake.service.waiting import until

router = APIRouter(tags=["corrections"])

_MOST_PAGES = 2_000
_Path = Annotated[str | None, Query(max_length=2000)]
_DOWNLOAD = {"Content-Security-Policy": "default-src 'none'; sandbox", "Cache-Control": "no-store"}


async def _correction_or_404(database: Connection, correction_id: int) -> CorrectionRow:
    found = await corrections.correction_by_id(database, correction_id)
    if found is None:
        raise not_found("correction", correction_id)
    return found


async def _in_full(
    database: Connection, correction: CorrectionRow, who: CallerRow
) -> models.CorrectionInFull:
    pages = await changed_pages(database, [correction])
    moves = open_moves(
        CorrectionState(correction.state), role=who.role, is_author=correction.by_id == who.id
    )
    return models.CorrectionInFull(
        **models.Correction.model_validate(correction).model_dump(),
        diff=pages[0].diff if pages else "",
        events=[
            models.CorrectionEvent.model_validate(event)
            for event in await corrections.events_of(database, correction.id)
        ],
        moves=[str(move) for move in moves],
    )


async def _waited_for(lend: Lender, correction_id: int, seconds: float) -> CorrectionRow:
    """Return a correction once it is drafted or refused, or when the time is over."""

    async def look() -> CorrectionRow | None:
        async with lend() as database:
            found = await _correction_or_404(database, correction_id)
        return found if found.state != CorrectionState.WAITING.value else None

    found = await until(look, seconds)
    if found is None:
        async with lend() as database:
            found = await _correction_or_404(database, correction_id)
    return found


@router.post("/sites/{slug}/corrections", operation_id="draftCorrection", status_code=201)
async def draft(
    request: Request, slug: str, body: models.NewCorrection, who: WaitingWorker, lend: Lender
) -> models.CorrectionsMade:
    """Draft a mend of a finding as a correction of its page's source: the page is read again with
    it, and it is refused where the fault stays or another comes."""
    async with lend() as database:
        finding = await sweeps.finding_by_id(database, body.finding)
        if finding is None or finding.site != slug:
            raise not_found("finding", body.finding)
        wanted = actions.WantedCorrection(
            Mend.of(body.mend.model_dump(exclude_none=True)),
            body.why,
            body.everywhere,
            body.but,
            body.insist,
            body.as_references,
            body.description,
        )
        enqueue = request.app.state.enqueue
        made = await actions.ask(database, enqueue, finding, wanted, Actor(who.id, who.role))
    first = await _waited_for(lend, made[0], body.wait)
    return models.CorrectionsMade(first=models.Correction.model_validate(first), ids=made)


@router.get("/sites/{slug}/corrections", operation_id="listCorrections")
async def list_corrections(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    state: Annotated[list[models.CorrectionState] | None, Query()] = None,
    environment: models.Environment | None = None,
    mine: bool = False,
    path: _Path = None,
    cause: Annotated[str | None, Query(max_length=40)] = None,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.Correction]:
    """List a site's corrections, the newest first."""
    site = await site_or_404(database, slug)
    by_id = who.id if mine else None
    filters = CorrectionFilters(state, environment, by_id, path, cause)
    found = await corrections.list_corrections(
        database, site.id, filters, before=after, limit=limit
    )
    return models.Listing(
        items=[models.Correction.model_validate(one) for one in found],
        next=next_page(request, found, limit, lambda last: last.id),
        total=await corrections.count_corrections(database, site.id, filters),
    )


@router.post("/sites/{slug}/corrections/writing", operation_id="writeCorrections", status_code=202)
async def write(
    request: Request, slug: str, body: models.WriteCorrections, who: Worker, database: Database
) -> models.CorrectionsToWrite:
    """Have drafts written into the site's sources, where its policy allows that; the pages are read
    afterwards, which proves them."""
    site = await site_or_404(database, slug)
    if body.ids is None and body.path is None and body.cause is None and not body.mine:
        raise Refusal(
            422, "not-valid", "ids: say which drafts: by number, path, cause, or all of yours"
        )
    filters = CorrectionFilters(
        ["drafted"],
        body.environment,
        who.id if body.mine else None,
        body.path,
        body.cause,
        body.ids,
    )
    ids = await actions.ask_to_write(
        database, request.app.state.enqueue, site, filters, Actor(who.id, who.role)
    )
    return models.CorrectionsToWrite(ids=ids)


async def _changed_pages(
    slug: str,
    who: SignedIn,
    database: Database,
    mine: bool = False,
    path: _Path = None,
    environment: models.Environment | None = None,
) -> list[ChangedPage]:
    """Return the pages with the drafts of a site: all, one's own, or those of a page. Raises a
    problem where there is none."""
    site = await site_or_404(database, slug)
    filters = CorrectionFilters(["drafted"], environment, who.id if mine else None, path)
    drafts = await corrections.list_corrections(database, site.id, filters)
    if not drafts:
        raise Refusal(404, "nothing-drafted", "there is no draft to be written or downloaded")
    if len({one.path for one in drafts}) > _MOST_PAGES:
        raise Refusal(
            422, "not-valid", f"path: more than {_MOST_PAGES:,} pages have drafts; name one"
        )
    return await changed_pages(database, drafts)


_Changed = Annotated[list[ChangedPage], Depends(_changed_pages)]


@router.get("/sites/{slug}/corrections/changes.diff", operation_id="showCorrectionsDiff")
async def show_diff(pages: _Changed) -> Response:
    """Return a unified diff of what drafts change: of a page, of all that one drafted, or of
    all."""
    text = "".join(page.diff for page in pages)
    return Response(text, media_type="text/x-diff; charset=utf-8", headers=_DOWNLOAD)


@router.get("/sites/{slug}/corrections/changes.zip", operation_id="downloadCorrections")
async def download(slug: str, pages: _Changed) -> Response:
    """Return the changed pages as a ZIP, each in its place."""
    content = await asyncio.to_thread(archive_of_pages, pages)
    headers = {**_DOWNLOAD, "Content-Disposition": f'attachment; filename="{slug}-changes.zip"'}
    return Response(content, media_type="application/zip", headers=headers)


@router.get("/sites/{slug}/corrections/page", operation_id="downloadCorrectedPage")
async def download_page(pages: _Changed) -> Response:
    """Return the source of a page (``path``) with its drafts, byte for byte as it would be
    written."""
    if len(pages) > 1:
        raise Refusal(422, "not-valid", "path: say which page, and environment, where both have it")
    name = pages[0].file.rpartition("/")[2]
    kept = "".join(one for one in name if one.isalnum() or one in "._-") or "page.html"
    headers = {**_DOWNLOAD, "Content-Disposition": f'attachment; filename="{kept}"'}
    return Response(pages[0].after, media_type="application/octet-stream", headers=headers)


@router.get("/corrections/{correction_id}", operation_id="showCorrection")
async def show_correction(
    correction_id: int, who: SignedIn, database: Database
) -> models.CorrectionInFull:
    """Show a correction with its diff, its history and what one can do with it now."""
    return await _in_full(database, await _correction_or_404(database, correction_id), who)


@router.post("/corrections/{correction_id}/moves", operation_id="moveCorrection")
async def move_correction(
    request: Request,
    correction_id: int,
    body: models.CorrectionMove,
    who: Worker,
    database: Database,
) -> models.CorrectionInFull:
    """Take a correction back, or draft it again."""
    await _correction_or_404(database, correction_id)
    by, enqueue = Actor(who.id, who.role), request.app.state.enqueue
    if body.move == "take_back":
        after = await actions.take_back(database, enqueue, correction_id, by, body.why)
    else:
        after = await actions.draft_again(
            database,
            enqueue,
            correction_id,
            by,
            why=body.why,
            insist=body.insist,
            as_references=body.as_references,
        )
    return await _in_full(database, after, who)


@router.get("/findings/{finding_id}/alike", operation_id="listPlacesAlike")
async def list_alike(
    finding_id: int, who: SignedIn, database: Database
) -> models.Listing[models.PlaceAlike]:
    """List the places that have the same cause as a finding, or its fault at another place of its
    picture, itself included, and are still to be mended."""
    finding = await sweeps.finding_by_id(database, finding_id)
    if finding is None:
        raise not_found("finding", finding_id)
    found = await corrections.places_alike(database, finding.id, actions.MOST_AT_ONCE)
    return models.Listing(
        items=[models.PlaceAlike.model_validate(one) for one in found], total=len(found)
    )


@router.get("/findings/{finding_id}/markup", operation_id="showMarkup")
async def show_markup(
    request: Request, finding_id: int, who: WaitingWorker, lend: Lender
) -> models.Markup:
    """Return how the element of a finding is written in its page's source."""
    finding = await _finding_briefly(lend, finding_id)
    room: TryRoom = request.app.state.tries
    return models.Markup(markup=await room.markup_of(lend, finding))


@router.post("/findings/{finding_id}/try", operation_id="tryMarkup")
async def try_markup(
    request: Request,
    finding_id: int,
    body: models.MarkupToTry,
    who: WaitingWorker,
    lend: Lender,
) -> models.TriedMarkup:
    """Say how the element of a finding is met with other markup, or with a mend, read without a
    browser: its name, what is heard, what is found on the page then. Nothing is kept."""
    finding = await _finding_briefly(lend, finding_id)
    room: TryRoom = request.app.state.tries
    if body.mend is not None:
        mend = Mend.of(body.mend.model_dump(exclude_none=True))
        tried = await room.tried_mend(lend, finding, mend)
    elif body.markup is not None:
        tried = await room.tried(lend, finding, body.markup)
    else:
        raise Refusal(422, "not-valid", "markup: give markup or a mend to try")
    place = tried.place
    return models.TriedMarkup(
        role=place.role,
        name=place.name,
        exposed=place.exposed,
        trace=place.trace,
        heard=place.heard,
        markup=tried.markup,
        left=list(tried.left),
        gone=list(tried.gone),
        brought=list(tried.brought),
    )


async def _finding_briefly(lend: Lender, finding_id: int) -> FindingInFullRow:
    async with lend() as database:
        finding = await sweeps.finding_by_id(database, finding_id)
    if finding is None:
        raise not_found("finding", finding_id)
    return finding


@router.get("/findings/{finding_id}/texts", operation_id="proposeTexts")
async def propose_texts(
    request: Request,
    finding_id: int,
    who: WaitingReader,
    lend: Lender,
    wait: Annotated[float, Query(ge=0, le=20)] = 0,
) -> models.ProposedTexts:
    """Return texts that the picture of a finding might get, each with where it comes from; they are
    looked for when they are first asked for."""
    finding = await _finding_briefly(lend, finding_id)
    async with lend() as database:
        site = await site_or_404(database, finding.site)
        await texts.ask_for_texts(database, request.app.state.enqueue, finding_id)

    async def look() -> ProposedTextsRow | None:
        async with lend() as database:
            row = await picture_texts.texts_of(database, finding_id)
        return row if row is not None and row.state == "ready" else None

    row = await until(look, wait)
    may_write = await library_texts.has_library(lend, site, finding.environment)
    async with lend() as database:
        written = await picture_texts.library_text_of(database, finding_id)
    may = policy_of_site(site).describer == "on-request"
    return models.ProposedTexts(
        state="ready" if row is not None else "waiting",
        items=[models.ProposedText.model_validate(one) for one in row.items] if row else [],
        problem=row.problem if row is not None else "",
        describer=may and request.app.state.settings.describer_asked is not None,
        library=may_write,
        written=models.LibraryText.model_validate(written) if written is not None else None,
    )


@router.post(
    "/findings/{finding_id}/library-text", operation_id="writeLibraryText", status_code=201
)
async def write_library_text(
    request: Request,
    finding_id: int,
    body: models.NewLibraryText,
    who: WaitingWorker,
    lend: Lender,
) -> models.LibraryText:
    """Write a text for the picture of a finding into the media library of the site's content
    system. Featured pictures show it at once; their pages are read again. What was there is
    kept."""
    finding = await _finding_briefly(lend, finding_id)
    state = request.app.state
    written = await library_texts.write_library_text(
        lend, state.enqueue, state.settings.sources, finding, body.text.strip(), who.id
    )
    return models.LibraryText.model_validate(written)


@router.post("/library-texts/{text_id}/take-back", operation_id="takeBackLibraryText")
async def take_back_library_text(
    request: Request, text_id: int, who: WaitingWorker, lend: Lender
) -> models.LibraryText:
    """Write the text that a picture of the media library had before, if nobody has written another
    since."""
    async with lend() as database:
        written = await picture_texts.library_text_by_id(database, text_id)
    if written is None:
        raise not_found("library text", text_id)
    state = request.app.state
    after = await library_texts.take_back_library_text(
        lend, state.enqueue, state.settings.sources, written, who.id
    )
    return models.LibraryText.model_validate(after)


@router.get("/sites/{slug}/library-texts", operation_id="listLibraryTexts")
async def list_library_texts(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.LibraryText]:
    """List the texts that were written into a site's media library, the newest first."""
    site = await site_or_404(database, slug)
    found = await picture_texts.library_texts(database, site.id, before=after, limit=limit)
    return models.Listing(
        items=[models.LibraryText.model_validate(one) for one in found],
        next=next_page(request, found, limit, lambda last: last.id),
    )


@router.post("/findings/{finding_id}/descriptions", operation_id="describePicture", status_code=201)
async def describe(
    request: Request,
    finding_id: int,
    who: WaitingWorker,
    lend: Lender,
    wait: Annotated[float, Query(ge=0, le=25)] = 0,
) -> models.Description:
    """Have the picture of a finding described by the organisation's describer, where the site's
    policy allows that; what it is sent is kept."""
    finding = await _finding_briefly(lend, finding_id)
    async with lend() as database:
        site = await site_or_404(database, finding.site)
        number = await texts.ask_for_description(
            database,
            request.app.state.enqueue,
            site,
            finding,
            Actor(who.id, who.role),
            has_describer=request.app.state.settings.describer_asked is not None,
        )

    async def look() -> DescriptionRow | None:
        async with lend() as database:
            row = await picture_texts.description_by_id(database, number)
        return row if row is not None and row.state != "waiting" else None

    found = await until(look, wait)
    if found is None:
        async with lend() as database:
            found = await picture_texts.description_by_id(database, number)
    return models.Description.model_validate(found)


@router.get("/sites/{slug}/descriptions", operation_id="listDescriptions")
async def list_descriptions(
    request: Request,
    slug: str,
    who: Manager,
    database: Database,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.Description]:
    """List what the describer was sent of a site's pictures, for whom, and what it answered, the
    newest first."""
    site = await site_or_404(database, slug)
    found = await picture_texts.descriptions(database, site.id, before=after, limit=limit)
    return models.Listing(
        items=[models.Description.model_validate(one) for one in found],
        next=next_page(request, found, limit, lambda last: last.id),
    )


@router.get("/sites/{slug}/connections", operation_id="listConnections")
async def list_connections(
    slug: str, who: Manager, database: Database
) -> models.Listing[models.SourceConnection]:
    """List where a site's sources are."""
    site = await site_or_404(database, slug)
    found = await connections.connections_of_site(database, site.id)
    return models.Listing(items=[_shaped(one) for one in found], total=len(found))


@router.put("/sites/{slug}/connections/{environment}", operation_id="setConnection")
async def set_connection(
    request: Request,
    slug: str,
    environment: models.Environment,
    body: models.NewConnection,
    who: WaitingManager,
    lend: Lender,
) -> models.SourceConnection:
    """Say where the sources of an environment of a site are. It is tried first; nothing is kept of
    what does not work."""
    settings: SourceSettings = request.app.state.settings.sources
    async with lend() as database:
        site = await site_or_404(database, slug)
        if site.private_leave:
            await check_reach(database, who)
    origin_of_environment(site, environment)
    values = body.model_dump(exclude={"kind", "secret"}, exclude_none=True)
    sealed = settings.sealed(body.secret) if body.secret else None
    works = await tried(site, body.kind, values, body.secret or "", settings)
    async with lend() as database:
        await connections.set_connection(
            database, site.id, environment, body.kind, values, sealed, who.id
        )
        kept = await connections.connection_of(database, site.id, environment)
    assert kept is not None
    return _shaped(kept).model_copy(update={"works": works})


@router.post("/sites/{slug}/connections/{environment}/check", operation_id="checkConnection")
async def check_connection(
    request: Request,
    slug: str,
    environment: models.Environment,
    who: WaitingManager,
    lend: Lender,
) -> models.SourceConnection:
    """Try a connection and say what works and what does not."""
    settings: SourceSettings = request.app.state.settings.sources
    async with lend() as database:
        site = await site_or_404(database, slug)
        row = await connections.connection_of(database, site.id, environment)
    if row is None:
        raise not_found("connection", environment)
    shown = _shaped(row)
    try:
        secret = settings.opened(row.secret)
        works = await tried(site, row.kind, row.settings, secret, settings)
    except BadConnection as error:
        return shown.model_copy(update={"problem": str(error)})
    return shown.model_copy(update={"works": works})


@router.delete(
    "/sites/{slug}/connections/{environment}", operation_id="dropConnection", status_code=204
)
async def drop_connection(
    slug: str, environment: models.Environment, who: Manager, database: Database
) -> None:
    """Forget where the sources of an environment of a site are."""
    site = await site_or_404(database, slug)
    if not await connections.drop_connection(database, site.id, environment):
        raise not_found("connection", environment)


def _shaped(row: SourceConnectionRow) -> models.SourceConnection:
    return models.SourceConnection(
        environment=row.environment,
        kind=row.kind,
        settings=row.settings,
        has_secret=row.secret is not None,
        made_by=row.made_by,
        made_at=row.made_at,
    )
