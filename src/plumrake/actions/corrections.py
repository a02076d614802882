"""Corrections: asking for one, or for one at each place that has the same cause; taking back,
drafting again, asking that they are written; and what a reading says of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from plumrake.actions.fixes import Actor
from plumrake.actions.ports import Enqueue
from plumrake.actions.sites import policy_of_site
from plumrake.actions.sweeps import checks_made
from plumrake.core.corrections import (
    IN_SOURCE,
    CorrectionMove,
    CorrectionRefused,
    CorrectionState,
    moved,
)
from plumrake.core.findings import Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.carrying_out import KINDS
from plumrake.core.mending.edits import Edit, Moved
from plumrake.core.registry import catalogue
from plumrake.lenses.markup import decoded
from plumrake.records import connections, corrections
from plumrake.records.corrections import CorrectionFilters, CorrectionRow, NewCorrection, ProofRow
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import FindingInFullRow, SweepRow

MOST_AT_ONCE = 2_000
_LONGEST = 10_000


class BadCorrection(ValueError):
    """What is to be corrected does not hold together."""

    code = "not-valid"


class NotWritable(ValueError):
    """The site's corrections are not written by the service; they can be downloaded."""

    code = "not-writable"


@dataclass(frozen=True, slots=True)
class WantedCorrection:
    """A mend of a finding, or of all places that have its cause but for some (``but``); ``insist``:
    also where it brings another fault; ``as_references``: what the encoding lacks is written so."""

    mend: Mend
    why: str = ""
    everywhere: bool = False
    but: Sequence[int] = ()
    insist: bool = False
    as_references: bool = False
    description: int | None = None


async def ask(
    connection: Connection,
    enqueue: Enqueue,
    finding: FindingInFullRow,
    wanted: WantedCorrection,
    by: Actor,
) -> list[int]:
    """Keep corrections and put them into the queue; return their numbers, that of ``finding``
    first. Raises ``BadCorrection``."""
    _check(wanted.mend)
    places = [finding.id]
    if wanted.everywhere:
        alike = await corrections.places_alike(connection, finding.id, MOST_AT_ONCE + 1)
        if len(alike) > MOST_AT_ONCE:
            raise BadCorrection(
                f"everywhere: more than {MOST_AT_ONCE:,} places have this cause; mend the template"
            )
        left_out = {finding.id, *wanted.but}
        places += [one.id for one in alike if one.id not in left_out]
    assert by.id is not None
    made: list[int] = []
    async with connection.transaction():
        for finding_id in places:
            new = NewCorrection(
                finding_id,
                wanted.mend.as_dict(),
                wanted.mend.says or wanted.mend.kind,
                wanted.why,
                by.id,
                wanted.insist,
                wanted.as_references,
                wanted.description,
            )
            number = await corrections.add_correction(connection, new)
            assert number is not None
            made.append(number)
            await corrections.add_event(
                connection,
                number,
                CorrectionMove.MAKE.value,
                "",
                CorrectionState.WAITING.value,
                by_id=by.id,
                actor=by.role,
                why=wanted.why,
            )
            task = "draft_correction" if number == made[0] else "draft_alike"
            await enqueue(connection, task, {"correction_id": number})
    return made


def _check(mend: Mend) -> None:
    if mend.kind not in KINDS:
        raise BadCorrection(
            f"mend.kind: '{mend.kind[:40]}' can be carried out by nobody but a person; choose one "
            f"of {', '.join(KINDS)}"
        )
    if mend.asks:
        raise BadCorrection("mend.value: write what is to stand there")
    if any(len(value) > _LONGEST for value in mend.as_dict().values()):
        raise BadCorrection(f"mend: a text is longer than {_LONGEST:,} characters")


async def take_back(
    connection: Connection, enqueue: Enqueue, correction_id: int, by: Actor, why: str
) -> CorrectionRow:
    """Undo a correction: a draft is dropped at once, what was written is written back by a worker.
    Raises ``CorrectionRefused``."""
    async with connection.transaction():
        correction = await _locked(connection, correction_id)
        state = CorrectionState(correction.state)
        after = moved(
            state,
            CorrectionMove.TAKE_BACK,
            role=by.role,
            is_author=correction.by_id == by.id,
        )
        if state in IN_SOURCE:
            given = {"ids": [correction.id], "by_id": by.id, "takes_back": True}
            await enqueue(connection, "write_corrections", given)
        else:
            await _move(connection, correction, CorrectionMove.TAKE_BACK, after, by, why)
    return await _found(connection, correction_id)


async def draft_again(
    connection: Connection,
    enqueue: Enqueue,
    correction_id: int,
    by: Actor,
    *,
    why: str = "",
    insist: bool | None = None,
    as_references: bool | None = None,
) -> CorrectionRow:
    """Draft a correction again that was refused, taken back, or in conflict. Raises
    ``CorrectionRefused``."""
    async with connection.transaction():
        correction = await _locked(connection, correction_id)
        after = moved(
            CorrectionState(correction.state),
            CorrectionMove.DRAFT_AGAIN,
            role=by.role,
            is_author=correction.by_id == by.id,
        )
        await corrections.set_state(
            connection, correction.id, after.value, insist=insist, as_references=as_references
        )
        await _note(connection, correction, CorrectionMove.DRAFT_AGAIN, after, by, why)
        await enqueue(connection, "draft_correction", {"correction_id": correction.id})
    return await _found(connection, correction_id)


async def ask_to_write(
    connection: Connection,
    enqueue: Enqueue,
    site: SiteRow,
    filters: CorrectionFilters,
    by: Actor,
) -> list[int]:
    """Have drafts written into their sources by a worker: one's own, or (managers) anybody's.
    Return their numbers. Raises ``NotWritable``, ``CorrectionRefused``."""
    if policy_of_site(site).corrections != "write":
        raise NotWritable(
            "the site's policy lets corrections be drafted only; download them, or have a manager "
            'set corrections = "write"'
        )
    drafts = await corrections.list_corrections(connection, site.id, filters)
    drafts = [one for one in drafts if one.state == CorrectionState.DRAFTED.value]
    if by.role != "manager" and any(one.by_id != by.id for one in drafts):
        raise CorrectionRefused("move-not-allowed", "only managers write what others drafted")
    if not drafts:
        raise BadCorrection("ids: there is no such draft")
    for environment in sorted({one.environment for one in drafts}):
        if await connections.connection_of(connection, site.id, environment) is None:
            raise NotWritable(
                f"nothing says where the sources of '{site.slug}' in {environment} are; connect "
                f"them with 'plumrake site connect {site.slug} --environment {environment} …', or "
                "download the changed pages"
            )
    ids = sorted(one.id for one in drafts)
    async with connection.transaction():
        given = {"ids": ids, "by_id": by.id, "takes_back": False}
        await enqueue(connection, "write_corrections", given)
    return ids


async def as_program(
    connection: Connection,
    correction_id: int,
    move: CorrectionMove,
    says: str,
    *,
    may_insist: bool = False,
    may_reference: bool = False,
    for_id: int | None = None,
) -> None:
    """Move a correction as a reading does, or a writing for a person (``for_id``); one that was
    moved by a person meanwhile is left alone."""
    correction = await corrections.lock_correction(connection, correction_id)
    if correction is None:
        return
    before = CorrectionState(correction.state)
    try:
        after = moved(before, move, role="program")
    except CorrectionRefused:
        return
    await corrections.set_state(
        connection,
        correction.id,
        after.value,
        problem=says if move in (CorrectionMove.REFUSE, CorrectionMove.COLLIDE) else "",
        may_insist=may_insist,
        may_reference=may_reference,
    )
    await corrections.add_event(
        connection,
        correction.id,
        move.value,
        before.value,
        after.value,
        by_id=for_id,
        actor="reading" if for_id is None else "person",
        why=says,
    )


async def note_taken_back(
    connection: Connection, correction_id: int, by_id: int | None, why: str = ""
) -> None:
    """Keep that a correction is undone, for whom, whatever state it was in."""
    correction = await _locked(connection, correction_id)
    await corrections.set_state(connection, correction.id, CorrectionState.TAKEN_BACK.value)
    await corrections.add_event(
        connection,
        correction.id,
        CorrectionMove.TAKE_BACK.value,
        correction.state,
        CorrectionState.TAKEN_BACK.value,
        by_id=by_id,
        actor="person",
        why=why,
    )


async def settle_corrections(connection: Connection, sweep: SweepRow) -> None:
    """Let a finished sweep prove the written corrections of its pages; one whose fault it still
    finds goes back to its author."""
    checks = [
        check
        for check in checks_made(sweep)
        if sweep.is_whole or not catalogue()[check].wants_all_pages
    ]
    rows = await corrections.to_prove(
        connection, sweep.site_id, sweep.environment, sweep.id, checks
    )
    for row in rows:
        if row.content_hash == row.before_hash:
            continue  # what was written is not out yet: it waits to be merged, or built
        is_there = await _is_still_there(connection, row)
        if is_there and row.is_built:
            says = (
                f"sweep {sweep.id} still finds the fault: what was written is not merged and built "
                "yet, or it is not enough"
            )
            await corrections.set_state(connection, row.id, "written", problem=says)
        elif is_there:
            says = f"sweep {sweep.id} read the page again and still finds the fault"
            await as_program(connection, row.id, CorrectionMove.COLLIDE, says)
        else:
            says = f"sweep {sweep.id} read the page again and finds it no more"
            await as_program(connection, row.id, CorrectionMove.PROVE, says)


async def _is_still_there(connection: Connection, row: ProofRow) -> bool:
    """Tell whether a reading shows the fault where it was: by its place, where the page is what was
    written, else by its key."""
    if not row.found:
        return False
    if row.content_hash != row.after_hash or row.place is None:
        return any(one["place_key"] == row.place_key for one in row.found)
    source = await corrections.source_by_hash(connection, row.after_hash)
    assert source is not None, "a writing keeps what it wrote"
    lines = Lines(decoded(source.body, source.charset).text)
    place = Moved(Edit.of(edit) for edit in row.edits).after(row.place)
    return any(place_of(one["line"], one["column"], lines) == place for one in row.found)


def place_of(line: int | None, column: int | None, lines: Lines) -> int | None:
    """Return where in a text a line and column are; None for nowhere."""
    if line is None or column is None or line > lines.count:
        return None
    return lines.offset(line, column)


async def _locked(connection: Connection, correction_id: int) -> CorrectionRow:
    found = await corrections.lock_correction(connection, correction_id)
    assert found is not None, "the route looked it up"
    return found


async def _found(connection: Connection, correction_id: int) -> CorrectionRow:
    found = await corrections.correction_by_id(connection, correction_id)
    assert found is not None
    return found


async def _move(
    connection: Connection,
    correction: CorrectionRow,
    move: CorrectionMove,
    after: CorrectionState,
    by: Actor,
    why: str,
) -> None:
    await corrections.set_state(connection, correction.id, after.value)
    await _note(connection, correction, move, after, by, why)


async def _note(
    connection: Connection,
    correction: CorrectionRow,
    move: CorrectionMove,
    after: CorrectionState,
    by: Actor,
    why: str,
) -> None:
    await corrections.add_event(
        connection,
        correction.id,
        move.value,
        correction.state,
        after.value,
        by_id=by.id,
        actor=by.role,
        why=why,
    )
