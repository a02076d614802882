"""Corrections, the sources that they are made for, and each writing of those."""

from __future__ import annotations

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import (
    Connection,
    condition,
    load,
    number,
    number_or_none,
    row_or_none,
    rows,
    run,
    with_fragment,
)

_QUERIES = with_fragment(load("corrections"), "matches", condition)


@dataclass(frozen=True, slots=True)
class CorrectionRow:
    """A correction as kept; ``edits`` are the fields of ``Edit``, boxes are in CSS px."""

    id: int
    site_id: int
    site: str
    environment: str
    page_id: int
    path: str
    finding_id: int | None
    check: str
    cause: str
    place_key: str
    lens: str
    fault: str
    mend: dict[str, str]
    insist: bool
    as_references: bool
    says: str
    why: str
    state: str
    problem: str
    may_insist: bool
    may_reference: bool
    edits: list[dict[str, Any]]
    source_hash: str | None
    place: int | None
    mends_too: int
    picture_before: str | None
    picture_after: str | None
    box_before: list[int] | None
    box_after: list[int] | None
    writing_id: int | None
    written_at: datetime | None
    by_id: int
    made_by: str
    made_at: datetime
    changed_at: datetime
    by_program: bool
    changed_by_person: bool


@dataclass(frozen=True, slots=True)
class CorrectionFilters:
    """Which corrections of a site are wanted; None lets everything through."""

    states: Sequence[str] | None = None
    environment: str | None = None
    by_id: int | None = None
    path: str | None = None
    cause: str | None = None
    ids: Sequence[int] | None = None


@dataclass(frozen=True, slots=True)
class NewCorrection:
    """What a person made for a finding."""

    finding_id: int
    mend: Mapping[str, str]
    says: str
    why: str
    by_id: int
    insist: bool = False
    as_references: bool = False
    description_id: int | None = None


@dataclass(frozen=True, slots=True)
class DraftOutcome:
    """What drafting came to: the edits of the source of that hash, and what it looks like."""

    says: str
    edits: list[dict[str, Any]]
    source_hash: str
    place: int
    mends_too: int
    picture_before: str | None
    picture_after: str | None
    box_before: list[int] | None
    box_after: list[int] | None


@dataclass(frozen=True, slots=True)
class CorrectionEventRow:
    """A move of a correction."""

    id: int
    move: str
    before: str
    after: str
    by: str | None
    actor: str
    why: str
    at: datetime


@dataclass(frozen=True, slots=True)
class SourceTextRow:
    """A source as it was: all of it, and which bytes of it are the page's own; ``file`` is its name
    where it is a file; of one that the page ``is_built`` of, the page shows it later."""

    hash: str
    body: bytes
    charset: str | None
    own_start: int
    own_end: int
    file: str = ""
    is_built: bool = False


@dataclass(frozen=True, slots=True)
class WritingRow:
    """A writing of a page's source; ``takes_back`` are corrections that it undoes."""

    id: int
    before_hash: str
    after_hash: str
    edits: list[dict[str, Any]]
    takes_back: list[int]
    state: str


@dataclass(frozen=True, slots=True)
class NewWriting:
    """What is about to be written."""

    site_id: int
    environment: str
    page_id: int
    before_hash: str
    after_hash: str
    edits: list[dict[str, Any]]
    by_id: int | None
    takes_back: Sequence[int] = ()


@dataclass(frozen=True, slots=True)
class PlaceAlikeRow:
    """A place that has the same cause as another, or shows the same picture."""

    id: int
    path: str
    says: str
    excerpt: str
    selector: str


@dataclass(frozen=True, slots=True)
class CameBackRow:
    """How many corrections of a person on a site are in conflict."""

    site: str
    corrections: int


@dataclass(frozen=True, slots=True)
class ProofRow:
    """A written correction whose page was read again, with what was found there of its check."""

    id: int
    check: str
    place_key: str
    place: int | None
    content_hash: str | None
    before_hash: str
    after_hash: str
    edits: list[dict[str, Any]]
    is_built: bool
    found: list[dict[str, Any]]


async def add_correction(connection: Connection, new: NewCorrection) -> int | None:
    """Keep a correction that waits for its page to be read; return its number, None where there is
    no such finding."""
    values = {**asdict(new), "mend": Jsonb(dict(new.mend))}
    return await number_or_none(connection, _QUERIES["add"], **values)


async def correction_by_id(connection: Connection, correction_id: int) -> CorrectionRow | None:
    """Return a correction, or None."""
    return await row_or_none(connection, _QUERIES["by_id"], CorrectionRow, id=correction_id)


async def lock_correction(connection: Connection, correction_id: int) -> CorrectionRow | None:
    """Return a correction and hold it until the transaction ends."""
    await run(connection, _QUERIES["lock"], id=correction_id)
    return await correction_by_id(connection, correction_id)


async def lock_page(connection: Connection, page_id: int) -> None:
    """Hold a page until the transaction ends."""
    await run(connection, _QUERIES["lock_page"], page_id=page_id)


async def lock_writing(connection: Connection, page_id: int) -> None:
    """Wait until nobody else writes a page's source, and keep others from it until the transaction
    ends."""
    await run(connection, _QUERIES["lock_writing"], page_id=page_id)


async def list_corrections(
    connection: Connection,
    site_id: int,
    filters: CorrectionFilters,
    *,
    before: int | None = None,
    limit: int = 10_000,
) -> list[CorrectionRow]:
    """Return a site's corrections, the newest first."""
    return await rows(
        connection,
        _QUERIES["matching"],
        CorrectionRow,
        site_id=site_id,
        before=before,
        limit=limit,
        **_values(filters),
    )


async def count_corrections(
    connection: Connection, site_id: int, filters: CorrectionFilters
) -> int:
    """Return how many corrections there are, counted to ten thousand."""
    return await number(connection, _QUERIES["count"], site_id=site_id, **_values(filters))


def _values(filters: CorrectionFilters) -> dict[str, Any]:
    values = asdict(filters)
    for name in ("states", "ids"):
        values[name] = list(values[name]) if values[name] is not None else None
    return values


async def came_back(
    connection: Connection, person_id: int, site_id: int | None = None
) -> list[CameBackRow]:
    """Return how many corrections of a person are in conflict, by site."""
    return await rows(
        connection, _QUERIES["came_back"], CameBackRow, by_id=person_id, site_id=site_id
    )


async def drafts_of_page(
    connection: Connection, page_id: int, environment: str
) -> list[CorrectionRow]:
    """Return the drafts of a page's source, the first one first."""
    return await rows(
        connection,
        _QUERIES["drafts_of_page"],
        CorrectionRow,
        page_id=page_id,
        environment=environment,
    )


async def set_state(
    connection: Connection,
    correction_id: int,
    state: str,
    *,
    problem: str = "",
    may_insist: bool = False,
    may_reference: bool = False,
    insist: bool | None = None,
    as_references: bool | None = None,
) -> None:
    """Keep how far a correction is, and why it is no further; None leaves what was asked for as it
    is."""
    await run(
        connection,
        _QUERIES["set_state"],
        id=correction_id,
        state=state,
        problem=problem,
        may_insist=may_insist,
        may_reference=may_reference,
        insist=insist,
        as_references=as_references,
    )


async def set_draft(connection: Connection, correction_id: int, outcome: DraftOutcome) -> None:
    """Keep what drafting a correction came to."""
    values = {**asdict(outcome), "edits": Jsonb(outcome.edits)}
    await run(connection, _QUERIES["set_draft"], id=correction_id, **values)


async def set_edits(
    connection: Connection,
    correction_id: int,
    edits: Sequence[Mapping[str, Any]],
    source_hash: str,
    place: int | None,
) -> None:
    """Keep where a draft's edits lie in another source."""
    await run(
        connection,
        _QUERIES["set_edits"],
        id=correction_id,
        edits=Jsonb(list(edits)),
        source_hash=source_hash,
        place=place,
    )


async def set_writing(connection: Connection, writing_id: int, ids: Sequence[int]) -> None:
    """Keep by which writing corrections are about to be written."""
    await run(connection, _QUERIES["set_writing"], writing_id=writing_id, ids=list(ids))


async def set_written(connection: Connection, writing_id: int, ids: Sequence[int]) -> None:
    """Keep that corrections stand in the source, by which writing."""
    await run(connection, _QUERIES["set_written"], writing_id=writing_id, ids=list(ids))


async def add_event(
    connection: Connection,
    correction_id: int,
    move: str,
    before: str,
    after: str,
    *,
    by_id: int | None,
    actor: str,
    why: str = "",
) -> None:
    """Keep a move of a correction."""
    await run(
        connection,
        _QUERIES["add_event"],
        correction_id=correction_id,
        move=move,
        before=before,
        after=after,
        by_id=by_id,
        actor=actor,
        why=why,
    )


async def events_of(connection: Connection, correction_id: int) -> list[CorrectionEventRow]:
    """Return the moves of a correction, the first one first."""
    return await rows(
        connection, _QUERIES["events"], CorrectionEventRow, correction_id=correction_id
    )


async def keep_source(connection: Connection, source: SourceTextRow) -> None:
    """Keep a source, once per content."""
    values = {**asdict(source), "body": zlib.compress(source.body, 6)}
    await run(connection, _QUERIES["keep_source"], **values)


async def source_by_hash(connection: Connection, source_hash: str) -> SourceTextRow | None:
    """Return a source as it was, or None."""
    found = await row_or_none(connection, _QUERIES["source"], SourceTextRow, hash=source_hash)
    if found is None:
        return None
    return replace(found, body=zlib.decompress(found.body))


async def add_writing(connection: Connection, new: NewWriting) -> int:
    """Keep that a page's source is about to be written; return the writing's number."""
    values = {**asdict(new), "edits": Jsonb(new.edits), "takes_back": list(new.takes_back)}
    return await number(connection, _QUERIES["add_writing"], **values)


async def end_writing(connection: Connection, writing_id: int, *, done: bool) -> None:
    """Keep that a page's source was written, or was not."""
    state = "done" if done else "given up"
    await run(connection, _QUERIES["end_writing"], id=writing_id, state=state)


async def begun_writing(
    connection: Connection, page_id: int, environment: str
) -> WritingRow | None:
    """Return a writing of a page that whoever began it did not end, or None."""
    return await row_or_none(
        connection,
        _QUERIES["begun_writing"],
        WritingRow,
        page_id=page_id,
        environment=environment,
    )


async def writings_since(
    connection: Connection, page_id: int, environment: str, since: int
) -> list[WritingRow]:
    """Return how a page's source was written from a writing on, that one included."""
    return await rows(
        connection,
        _QUERIES["writings_since"],
        WritingRow,
        page_id=page_id,
        environment=environment,
        since=since,
    )


async def corrections_of_writing(connection: Connection, writing_id: int) -> list[CorrectionRow]:
    """Return the corrections that a writing is to write."""
    return await rows(connection, _QUERIES["of_writing"], CorrectionRow, writing_id=writing_id)


async def places_alike(connection: Connection, finding_id: int, limit: int) -> list[PlaceAlikeRow]:
    """Return where a finding's sweep found the same (its cause, or another place of its picture),
    itself included, and it is still to be mended."""
    return await rows(
        connection, _QUERIES["alike"], PlaceAlikeRow, finding_id=finding_id, limit=limit
    )


async def to_prove(
    connection: Connection, site_id: int, environment: str, sweep_id: int, checks: Sequence[str]
) -> list[ProofRow]:
    """Return the written corrections of the pages that a sweep read, of the checks that it made."""
    return await rows(
        connection,
        _QUERIES["to_prove"],
        ProofRow,
        site_id=site_id,
        environment=environment,
        sweep_id=sweep_id,
        checks=list(checks),
    )
