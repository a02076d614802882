"""The demo's second site, a reading room with people of its own: they see nothing of the first."""

from __future__ import annotations

import contextlib
from pathlib import Path

from plumrake.actions.people import NO_ROLE, EmailTaken, add_person, change_person
from plumrake.demo.seed import SITE as FIRST
from plumrake.records import members, people, sites
from plumrake.records.queries import Connection

SITE = "reading-room"
NAME = "Ottermere Reading Room"
PEOPLE = (
    ("greta@ottermere.example", "Greta Holm", "manager"),
    ("bram@ottermere.example", "Bram Sedge", "editor"),
)
_PAGES = {
    "/": (
        "Welcome",
        "<p>Open to everybody, every day but Monday. <a href='/hours/'>When we are open</a>, "
        "<a href='/shelves/'>what stands on our shelves</a>, <a href='/talks/'>more</a>.</p>",
    ),
    "/hours/": (
        "Opening hours",
        "<p style='color:#9a9a9a;background:#fff'>Tuesday to Sunday, ten to six.</p>",
    ),
    "/shelves/": (
        "On our shelves",
        "<h3>Maps</h3><p>Of the lake and its shores.</p><img src='/reading.png'>",
    ),
    "/talks/": (
        "Talks in winter",
        "<p>Each second Thursday. To book a seat, <a href='/hours/'>click here</a>.</p>",
    ),
}
_PAGE = (
    "<!doctype html><html lang=en><head><meta charset=utf-8><title>{title} | {name}</title>"
    "<style>body {{ font: 18px/1.5 sans-serif; max-width: 40em; margin: 2em auto; color: #222; "
    "background: #fff }}</style></head><body><header><p>{name}</p><nav aria-label=Main>"
    "<a href='/'>Home</a> <a href='/hours/'>Hours</a> <a href='/shelves/'>Shelves</a> "
    "<a href='/talks/'>Talks</a></nav></header><main><h1>{title}</h1>{body}</main></body></html>\n"
)


def write_pages(folder: Path) -> None:
    """Write the site's pages into a folder."""
    for path, (title, body) in _PAGES.items():
        file = folder / path.strip("/") / "index.html"
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text(_PAGE.format(title=title, name=NAME, body=body), encoding="utf-8")


async def seed_second(connection: Connection, address: str, password: str) -> None:
    """Add the site and its people, who are members of it and of no other, as those of the first
    site, but its manager, are from then on; again it changes nothing."""
    new = sites.NewSite(SITE, NAME, address, None, "list", [*_PAGES], private_leave=True, policy={})
    if await sites.add_site(connection, new) is not None:
        await _keep_apart(connection)
    site = await sites.site_by_slug(connection, SITE)
    assert site is not None
    for email, name, role in PEOPLE:
        with contextlib.suppress(EmailTaken):
            await add_person(connection, email, name, None, password)
        person = await people.person_by_email(connection, email)
        assert person is not None
        await members.put(connection, person.id, site.id, role, None)


async def _keep_apart(connection: Connection) -> None:
    first = await sites.site_by_slug(connection, FIRST)
    assert first is not None
    for person in await people.all_people(connection):
        if person.role not in (None, "manager"):
            await members.put(connection, person.id, first.id, person.role, None)
            await change_person(connection, person, name=None, role=NO_ROLE, active=None)
