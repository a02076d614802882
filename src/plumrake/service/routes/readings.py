"""Single pages: their readings over time, the views of them, pieces of their pictures; finding
anything by its words."""

from __future__ import annotations

import dataclasses
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request, Response

from plumrake import models
from plumrake.actions.drawing import ask_for_picture
from plumrake.core.registry import catalogue
from plumrake.records import links, members, page_pictures, readings
from plumrake.records.page_pictures import PagePictureRow
from plumrake.records.queries import Connection
from plumrake.records.readings import ReadingInFullRow
from plumrake.service.access import Database, Lender, SignedIn, WaitingReader
from plumrake.service.paging import next_page
from plumrake.service.problems import not_found
from plumrake.service.routes.findings import Store, cut_or_404
from plumrake.service.routes.sites import Limit, site_or_404
from plumrake.service.routes.sweeps import Chosen
from plumrake.service.waiting import until

router = APIRouter(tags=["readings"])

_OF_EACH = 6
_Side = Annotated[int, Query(ge=-100_000, le=100_000)]


@router.get("/sites/{slug}/readings", operation_id="listPageReadings")
async def list_page_readings(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    path: Annotated[str, Query(pattern=r"^/", max_length=2000)],
    environment: models.Environment | None = None,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 20,
) -> models.Listing[models.ReadingInFull]:
    """List the readings of one page over time, the newest first."""
    site = await site_or_404(database, slug)
    found = await readings.readings_of_page(
        database, site.id, path, environment=environment, before=after, limit=limit
    )
    next_part = next_page(request, found, limit, lambda last: last.id)
    return models.Listing(
        items=[models.ReadingInFull.model_validate(row) for row in found], next=next_part
    )


async def _reading_or_404(database: Connection, reading_id: int) -> ReadingInFullRow:
    found = await readings.reading_by_id(database, reading_id)
    if found is None:
        raise not_found("reading", reading_id)
    return found


@router.get("/readings/{reading_id}", operation_id="showReading")
async def show_reading(reading_id: int, who: SignedIn, database: Database) -> models.ReadingInFull:
    """Show one reading of a page."""
    return models.ReadingInFull.model_validate(await _reading_or_404(database, reading_id))


@router.get("/readings/{reading_id}/views/{name}", operation_id="showPageView")
async def show_way(
    reading_id: int,
    name: models.PageViewName,
    who: SignedIn,
    database: Database,
    selector: Annotated[
        str | None, Query(description="Only the rows of this element.", max_length=4000)
    ] = None,
) -> models.PageView:
    """Show one view of the page of a reading: outline, as heard, reading order, links, pictures,
    colours, names."""
    await _reading_or_404(database, reading_id)
    rows = (await readings.page_views_of(database, reading_id)).get(name)
    chosen = [row for row in rows or [] if selector is None or row.get("selector") == selector]
    if name == "links":
        known = await links.of_page(database, reading_id)
        chosen = [
            row | {"leads": dataclasses.asdict(known[row["address"]])}
            if row.get("address") in known
            else row
            for row in chosen
        ]
    return models.PageView(name=name, stored=rows is not None, rows=chosen)


@router.get("/readings/{reading_id}/cut", operation_id="showCut", response_class=Response)
async def show_cut(
    reading_id: int,
    who: WaitingReader,
    lend: Lender,
    store: Store,
    x: _Side,
    y: _Side,
    width: _Side,
    height: _Side,
) -> Response:
    """Give the part of a page's picture around a box (CSS px) as WebP."""
    async with lend() as database:
        reading = await _reading_or_404(database, reading_id)
    return await cut_or_404(lend, store, reading.picture, [x, y, width, height], reading_id)


@router.get("/readings/{reading_id}/pictures/{kind}", operation_id="drawPage")
async def draw_page(
    request: Request,
    reading_id: int,
    kind: models.PagePictureKind,
    who: WaitingReader,
    lend: Lender,
    wait: Annotated[float, Query(ge=0, le=20)] = 0,
) -> models.PagePicture:
    """Give a picture of a reading's page in another layout, or with its focus marks; it is drawn
    when it is first asked for, from the page as it is then."""
    async with lend() as database:
        await _reading_or_404(database, reading_id)
        await ask_for_picture(database, request.app.state.enqueue, reading_id, kind)

    async def look() -> PagePictureRow | None:
        async with lend() as database:
            row = await page_pictures.picture_of(database, reading_id, kind)
        return row if row is not None and row.state == "ready" else None

    row = await until(look, wait)
    if row is None:
        return models.PagePicture(kind=kind, state="waiting")
    return models.PagePicture.model_validate(row)


@router.get("/sites/{slug}/find", operation_id="findAnything")
async def find_anything(
    slug: str,
    chosen: Chosen,
    database: Database,
    words: Annotated[str, Query(min_length=1, max_length=200)],
) -> models.Listing[models.FoundThing]:
    """Find pages, causes, fixes, checks and people of a site by their words; a few of each kind."""
    site = await site_or_404(database, slug)
    found: list[models.FoundThing] = []
    if chosen is not None:
        pages = await readings.find_pages(database, chosen.id, words, _OF_EACH)
        found += [_thing("page", page.path, page.title or "no title", page.path) for page in pages]
        causes = await readings.find_causes(database, chosen.id, words, _OF_EACH)
        found += [
            _thing(
                "cause",
                one.key,
                one.says,
                f"{one.weight}, {one.pages} page{'s' * (one.pages != 1)}, {one.path}",
            )
            for one in causes
        ]
    fixes = await readings.find_fixes(database, site.id, words, _OF_EACH)
    found += [
        _thing(
            "fix", str(fix.id), fix.says, f"fix {fix.id}, {fix.state.replace('_', ' ')}, {fix.path}"
        )
        for fix in fixes
    ]
    wanted = words.casefold()
    checks = [
        check
        for check in catalogue().values()
        if wanted in check.id or wanted in check.title.casefold()
    ]
    found += [_thing("check", check.id, check.title, check.id) for check in checks[:_OF_EACH]]
    named = [
        one
        for one in await members.members_of(database, site.id)
        if one.active and (wanted in one.name.casefold() or wanted in one.email.casefold())
    ]
    found += [_thing("person", str(one.id), one.name, one.role) for one in named[:_OF_EACH]]
    return models.Listing(items=found)


def _thing(
    kind: Literal["page", "cause", "fix", "check", "person"], key: str, title: str, detail: str
) -> models.FoundThing:
    return models.FoundThing(kind=kind, key=key, title=title, detail=detail)
