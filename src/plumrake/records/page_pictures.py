"""Pictures of readings' pages that somebody asked for: in other layouts, with focus marks."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.records.queries import Connection, load, number_or_none, row_or_none, run

_QUERIES = load("page_pictures")


@dataclass(frozen=True, slots=True)
class PagePictureRow:
    """A picture, as far as it is drawn: its evidence, or why there is none; ``has_changed`` where
    the page was not as it was read any more."""

    kind: str
    state: str
    picture: str | None
    problem: str
    has_changed: bool


@dataclass(frozen=True, slots=True)
class PageToDrawRow:
    """Where the page of a reading is to be had again, and the hash of its HTML then."""

    sweep_id: int
    path: str
    content_hash: str | None


async def ask(connection: Connection, reading_id: int, kind: str, most: int) -> bool:
    """Keep that a picture is wanted; tell whether it is to be drawn, which it is not where it was,
    waits already, or so many others wait."""
    query = _QUERIES["ask"]
    found = await number_or_none(connection, query, reading_id=reading_id, kind=kind, most=most)
    return found is not None


async def picture_of(connection: Connection, reading_id: int, kind: str) -> PagePictureRow | None:
    """Return a picture, or None where nobody asked for it."""
    return await row_or_none(
        connection, _QUERIES["picture"], PagePictureRow, reading_id=reading_id, kind=kind
    )


async def keep(connection: Connection, reading_id: int, drawn: PagePictureRow) -> None:
    """Keep what was drawn; its evidence is there already."""
    await run(
        connection,
        _QUERIES["keep"],
        reading_id=reading_id,
        kind=drawn.kind,
        picture=drawn.picture,
        problem=drawn.problem,
        has_changed=drawn.has_changed,
    )


async def show_as_read(connection: Connection, reading_id: int, picture: str) -> None:
    """Let a reading without a picture have one that was drawn of the same page."""
    await run(connection, _QUERIES["show_as_read"], reading_id=reading_id, picture=picture)


async def page_to_draw(connection: Connection, reading_id: int) -> PageToDrawRow | None:
    """Return where the page of a reading is to be had, or None."""
    return await row_or_none(
        connection, _QUERIES["of_reading"], PageToDrawRow, reading_id=reading_id
    )
