"""Texts that pictures might get, and what the describer was asked and answered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import (
    Connection,
    load,
    number,
    number_or_none,
    row_or_none,
    rows,
    run,
    texts,
    with_fragment,
)

_QUERIES = with_fragment(
    with_fragment(load("picture_texts"), "description_fields"), "library_text_fields"
)


@dataclass(frozen=True, slots=True)
class ProposedTextsRow:
    """Texts for a picture, as far as they were looked for."""

    state: str
    items: list[dict[str, str]]
    problem: str


@dataclass(frozen=True, slots=True)
class TextElsewhereRow:
    """What a picture is called elsewhere, and on how many pages."""

    text: str
    pages: int


@dataclass(frozen=True, slots=True)
class DescriptionRow:
    """What the describer was told of a picture, and answered."""

    id: int
    site_id: int
    finding_id: int | None
    picture_hash: str
    picture_bytes: int
    told: dict[str, Any]
    state: str
    text: str
    problem: str
    asked_by: str | None
    asked_at: datetime
    answered_at: datetime | None


async def ask_texts(connection: Connection, finding_id: int) -> bool:
    """Keep that texts for the picture of a finding are wanted; tell whether they are to be looked
    for, which they are not where they were a moment ago."""
    found = await number_or_none(connection, _QUERIES["ask_texts"], finding_id=finding_id)
    return found is not None


async def texts_of(connection: Connection, finding_id: int) -> ProposedTextsRow | None:
    """Return the texts for the picture of a finding, or None where nobody asked for them."""
    return await row_or_none(connection, _QUERIES["texts"], ProposedTextsRow, finding_id=finding_id)


async def keep_texts(
    connection: Connection, finding_id: int, items: Sequence[Mapping[str, str]], problem: str
) -> None:
    """Keep the texts that were found."""
    given = Jsonb([dict(item) for item in items])
    await run(
        connection, _QUERIES["keep_texts"], finding_id=finding_id, items=given, problem=problem
    )


async def texts_elsewhere(connection: Connection, finding_id: int) -> list[TextElsewhereRow]:
    """Return what the picture of a finding is called on other places."""
    return await rows(connection, _QUERIES["elsewhere"], TextElsewhereRow, finding_id=finding_id)


async def title_of(connection: Connection, sweep_id: int, path: str) -> str:
    """Return the title of a page as a sweep read it, or ``""``."""
    found = await texts(connection, _QUERIES["title_of"], sweep_id=sweep_id, path=path)
    return next(iter(found), "")


async def ask_description(
    connection: Connection, site_id: int, finding_id: int, asked_by: int
) -> int:
    """Keep that the describer is to be asked; return the description's number."""
    return await number(
        connection,
        _QUERIES["ask_description"],
        site_id=site_id,
        finding_id=finding_id,
        asked_by=asked_by,
    )


async def tell_description(
    connection: Connection,
    description_id: int,
    picture_hash: str,
    picture_bytes: int,
    told: Mapping[str, Any],
) -> None:
    """Keep what the describer is sent, before it is."""
    await run(
        connection,
        _QUERIES["tell_description"],
        id=description_id,
        picture_hash=picture_hash,
        picture_bytes=picture_bytes,
        told=Jsonb(dict(told)),
    )


async def end_description(
    connection: Connection, description_id: int, text: str, problem: str
) -> None:
    """Keep what the describer answered, or why it did not."""
    await run(
        connection,
        _QUERIES["end_description"],
        id=description_id,
        state="failed" if problem else "answered",
        text=text,
        problem=problem,
    )


async def description_by_id(connection: Connection, description_id: int) -> DescriptionRow | None:
    """Return a description, or None."""
    return await row_or_none(connection, _QUERIES["description"], DescriptionRow, id=description_id)


async def descriptions(
    connection: Connection, site_id: int, *, before: int | None, limit: int
) -> list[DescriptionRow]:
    """Return what the describer was asked about a site's pictures, the newest first."""
    return await rows(
        connection,
        _QUERIES["descriptions"],
        DescriptionRow,
        site_id=site_id,
        before=before,
        limit=limit,
    )


@dataclass(frozen=True, slots=True)
class NewLibraryText:
    """A text that was written into a media library, in the place of the one before."""

    site_id: int
    environment: str
    finding_id: int
    picture: str
    number: str
    before: str
    after: str
    by_id: int | None


@dataclass(frozen=True, slots=True)
class LibraryTextRow:
    """A text of a media library: for which picture, what was there before, who wrote it."""

    id: int
    site: str
    site_id: int
    environment: str
    finding_id: int | None
    picture: str
    number: str
    before: str
    after: str
    by: str | None
    written_at: datetime
    taken_back_at: datetime | None


async def source_of(connection: Connection, finding_id: int) -> str:
    """Return the address of the picture of a finding, as its page has it, or ``""``."""
    found = await texts(connection, _QUERIES["source_of"], finding_id=finding_id)
    return next(iter(found), "")


async def add_library_text(connection: Connection, new: NewLibraryText) -> int:
    """Keep that a text was written into a media library; return its number."""
    return await number(connection, _QUERIES["add_library_text"], **asdict(new))


async def library_text_by_id(connection: Connection, number: int) -> LibraryTextRow | None:
    """Return a text of a media library, or None."""
    return await row_or_none(connection, _QUERIES["library_text"], LibraryTextRow, id=number)


async def library_texts(
    connection: Connection, site_id: int, *, before: int | None, limit: int
) -> list[LibraryTextRow]:
    """Return the texts that were written into the media library of a site, the newest first."""
    values = {"site_id": site_id, "before": before, "limit": limit}
    return await rows(connection, _QUERIES["library_texts"], LibraryTextRow, **values)


async def library_text_of(connection: Connection, finding_id: int) -> LibraryTextRow | None:
    """Return the text that was written for the picture of a finding, unless it was taken back."""
    return await row_or_none(
        connection, _QUERIES["library_text_of"], LibraryTextRow, finding_id=finding_id
    )


async def end_library_text(connection: Connection, number: int) -> bool:
    """Keep that a text was taken back; False where it was already."""
    return await number_or_none(connection, _QUERIES["end_library_text"], id=number) is not None
