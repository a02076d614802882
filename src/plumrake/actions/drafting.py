"""Drafting a correction: its page's source is read as it is now, the mend is carried out in it
together with the page's other drafts, and the page is read again. Only what makes the fault go, and
brings none, is drafted."""

from __future__ import annotations

import asyncio
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, replace

from plumrake.actions.corrections import as_program, note_taken_back, place_of
from plumrake.actions.ports import Connect, ReaderFor
from plumrake.actions.reading import Aim, PageResult, checks_that_may_wait, read_and_assess
from plumrake.actions.site_sources import PageSource, SiteSources, SourceSettings, site_sources
from plumrake.actions.sites import policy_of_site, private_origins, with_own_words
from plumrake.connectors.source_item import BadConnection
from plumrake.core.content_hash import hash_of
from plumrake.core.corrections import CorrectionMove
from plumrake.core.findings import Finding, Mend
from plumrake.core.geometry import whole
from plumrake.core.html_source import Lines
from plumrake.core.mending.edits import Contradiction, Edit, Moved, NotAsRead, applied, ordered
from plumrake.core.mending.effect import WRITING, Effect, effect_of
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.mending.standing import after_others
from plumrake.core.policy import Policy
from plumrake.core.registry import PageFacts, catalogue
from plumrake.core.sitewide import about_page, assess_site
from plumrake.lenses.assessor import Assessor
from plumrake.lenses.content_places import ContentPlaces
from plumrake.lenses.encoded import CannotEncode, with_edits, written_as
from plumrake.lenses.markup import decoded
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.lenses.runners import AssessorLost
from plumrake.lenses.sources import Planned
from plumrake.net.problems import Unreadable
from plumrake.records import connections, corrections, evidence, sites, sweeps
from plumrake.records.corrections import CorrectionRow, DraftOutcome
from plumrake.records.sites import SiteRow

_TRIES = 4
_MOST_REMEMBERED = 24
_BELOW = 400
"""So many CSS px below a place are pictured."""


class ReadingMemory:
    """The last readings that drafting needed: what a page is after one draft is what it is before
    the next."""

    def __init__(self) -> None:
        self._known: OrderedDict[tuple[object, ...], PageResult] = OrderedDict()

    def get(self, key: tuple[object, ...]) -> PageResult | None:
        """Return what is remembered, or None."""
        if key in self._known:
            self._known.move_to_end(key)
        return self._known.get(key)

    def keep(self, key: tuple[object, ...], result: PageResult) -> None:
        """Remember a reading; the one that was asked for longest ago goes."""
        self._known[key] = result
        while len(self._known) > _MOST_REMEMBERED:
            self._known.popitem(last=False)


@dataclass(frozen=True, slots=True)
class Workplace:
    """What it takes to work on the sources of one environment of a site."""

    connect: Connect
    reader: PageReader
    sources: SiteSources
    site: SiteRow
    memory: ReadingMemory


class DraftProblem(Exception):
    """A correction cannot be drafted: why, whether its author may insist, or have what the encoding
    lacks written as references; ``is_conflict`` where the source is not what it was made for."""

    def __init__(
        self,
        says: str,
        *,
        may_insist: bool = False,
        may_reference: bool = False,
        is_conflict: bool = False,
    ) -> None:
        super().__init__(says)
        self.says = says
        self.may_insist = may_insist
        self.may_reference = may_reference
        self.is_conflict = is_conflict


@dataclass(frozen=True, slots=True)
class _Drafted:
    """What drafting came to, and what it was made beside: other drafts as they were, with new edits
    where their source had changed; those that it replaces; what is to be kept."""

    outcome: DraftOutcome
    beside: tuple[tuple[int, str | None], ...]
    moved: tuple[tuple[int, tuple[Edit, ...], int | None], ...]
    lost: tuple[int, ...]
    replaces: tuple[int, ...]
    source: PageSource
    pictures: tuple[bytes | None, bytes | None]


async def draft(
    connect: Connect,
    readers: ReaderFor,
    settings: SourceSettings,
    memory: ReadingMemory,
    correction_id: int,
) -> None:
    """Draft a correction that waits, and keep what came of it."""
    async with connect() as connection:
        correction = await corrections.correction_by_id(connection, correction_id)
        if correction is None or correction.state != "waiting":
            return
        site = await sites.site_by_id(connection, correction.site_id)
        row = await connections.connection_of(connection, site.id, correction.environment)
        policy = await with_own_words(connection, site.id, policy_of_site(site))
    try:
        async with (
            readers(correction.lens, tuple(private_origins(site))) as reader,
            site_sources(connect, site, correction.environment, row, settings) as sources,
        ):
            workplace = Workplace(connect, reader, sources, site, memory)
            desk = DraftingDesk(workplace, policy)
            for _ in range(_TRIES):
                drafted = await desk.draft(correction)
                if await _kept(connect, correction, drafted):
                    return
        problem = DraftProblem("others work on the same page just now; draft it again")
    except DraftProblem as error:
        problem = error
    except (Unreadable, BadConnection) as error:
        problem = DraftProblem(f"the page's source cannot be read: {error}")
    move = CorrectionMove.COLLIDE if problem.is_conflict else CorrectionMove.REFUSE
    async with connect() as connection, connection.transaction():
        await as_program(
            connection,
            correction.id,
            move,
            problem.says,
            may_insist=problem.may_insist,
            may_reference=problem.may_reference,
        )


async def give_up(connect: Connect, correction_id: int, says: str) -> None:
    """Keep that a correction could not be drafted, and why."""
    async with connect() as connection, connection.transaction():
        await as_program(connection, correction_id, CorrectionMove.REFUSE, says)


async def _kept(connect: Connect, correction: CorrectionRow, drafted: _Drafted) -> bool:
    """Keep a draft, if the page's other drafts are still those that it was made beside."""
    async with connect() as connection, connection.transaction():
        await corrections.lock_page(connection, correction.page_id)
        now = await corrections.drafts_of_page(
            connection, correction.page_id, correction.environment
        )
        if _known(now) != drafted.beside:
            return False
        outcome = drafted.outcome
        await corrections.keep_source(connection, drafted.source.row())
        for picture in drafted.pictures:
            if picture is not None:
                await evidence.keep(connection, hash_of(picture), "image/jpeg", picture)
        for other, edits, place in drafted.moved:
            given = [edit.as_dict() for edit in edits]
            await corrections.set_edits(connection, other, given, outcome.source_hash, place)
        for other in drafted.lost:
            says = "the source was changed, and what it mends is not there as it was"
            await as_program(connection, other, CorrectionMove.COLLIDE, says)
        for other in drafted.replaces:
            why = f"correction {correction.id} takes its place"
            await note_taken_back(connection, other, correction.by_id, why)
        await corrections.set_draft(connection, correction.id, outcome)
        await as_program(connection, correction.id, CorrectionMove.DRAFT, "")
    return True


def _known(drafts: Sequence[CorrectionRow]) -> tuple[tuple[int, str | None], ...]:
    return tuple((one.id, one.source_hash) for one in drafts)


async def redrafted(workplace: Workplace, correction: CorrectionRow) -> None:
    """Place a draft in its page's source as it is now, where that was changed since. Raises
    ``DraftProblem``, ``Unreadable``."""
    async with workplace.connect() as connection:
        own = policy_of_site(workplace.site)
        policy = await with_own_words(connection, workplace.site.id, own)
    desk = DraftingDesk(workplace, policy)
    for _ in range(_TRIES):
        if await _kept(workplace.connect, correction, await desk.draft(correction)):
            return
    raise DraftProblem("others work on the same page just now")


class DraftingDesk:
    """Drafts corrections of one environment of a site."""

    def __init__(self, workplace: Workplace, policy: Policy) -> None:
        self._connect = workplace.connect
        self._reader = workplace.reader
        self._sources = workplace.sources
        self._memory = workplace.memory
        self._policy = policy

    async def draft(self, correction: CorrectionRow) -> _Drafted:
        """Return what drafting a correction beside the page's drafts comes to. Raises
        ``DraftProblem``, ``Unreadable``."""
        async with self._connect() as connection:
            standing = await corrections.drafts_of_page(
                connection, correction.page_id, correction.environment
            )
        source = await self._sources.read(correction.path, self._reader)
        policy = self._policy.changed(
            without=(*self._policy.without, *checks_that_may_wait(correction.check))
        )
        first = await self._read(source, policy, None)
        finding, planned = await self._plan(source, first, correction)
        if not planned.edits:
            raise DraftProblem("nothing would change: it is written like this already")
        replaces = tuple(
            one.id
            for one in standing
            if one.id != correction.id
            and (one.check, one.place_key) == (correction.check, correction.place_key)
        )
        others, moved, lost = await self._others(source, first, standing, replaces, correction.id)
        outcome, pictures = await self._tried(
            correction, source, policy, first, finding, planned, others
        )
        return _Drafted(outcome, _known(standing), moved, lost, replaces, source, pictures)

    async def _others(
        self,
        source: PageSource,
        first: PageResult,
        standing: Sequence[CorrectionRow],
        replaces: Sequence[int],
        own: int,
    ) -> tuple[
        dict[int, tuple[Edit, ...]],
        tuple[tuple[int, tuple[Edit, ...], int | None], ...],
        tuple[int, ...],
    ]:
        """Return the edits of the page's other drafts; those made for another source are placed in
        this one by what they mend, or are lost."""
        others: dict[int, tuple[Edit, ...]] = {}
        moved: list[tuple[int, tuple[Edit, ...], int | None]] = []
        lost: list[int] = []
        for one in standing:
            if one.id in replaces or one.id == own:
                continue
            if one.source_hash == source.hash:
                others[one.id] = tuple(Edit.of(edit) for edit in one.edits)
                continue
            try:
                _, planned = await self._plan(source, first, one)
                ordered([*planned.edits, *(edit for known in others.values() for edit in known)])
            except (DraftProblem, Contradiction):
                lost.append(one.id)
                continue
            others[one.id] = planned.edits
            moved.append((one.id, planned.edits, planned.place))
        return others, tuple(moved), tuple(lost)

    async def _plan(
        self, source: PageSource, first: PageResult, correction: CorrectionRow
    ) -> tuple[Finding, Planned]:
        """Return what a correction is about in a source that was read, and how it is carried out
        there. Raises ``DraftProblem``."""
        finding, mend = found_again(first, correction), Mend.of(correction.mend)
        try:
            async with self._reader.runners.lend() as runner:
                planned = await runner.do(
                    Assessor.plan,
                    source.text,
                    finding,
                    mend,
                    self._reader.limits.elements,
                    form=source.item.form,
                )
        except AssessorLost as lost:
            raise DraftProblem(lost.problem.says) from None
        if isinstance(planned, str):
            raise DraftProblem(f"it cannot be carried out: {planned}")
        if correction.as_references:
            codec = decoded(source.item.body, source.charset).codec
            planned = replace(planned, edits=written_as(planned.edits, codec))
        self._check_own(source, planned.edits)
        return finding, planned

    def _check_own(self, source: PageSource, edits: Sequence[Edit]) -> None:
        start, end = source.own_places()
        if any(edit.start < start or edit.end > end for edit in edits):
            raise DraftProblem(
                "the place stands in the template around the page, not in what is the page's own; "
                "hand it to whoever answers for the template"
            )

    async def _tried(
        self,
        correction: CorrectionRow,
        source: PageSource,
        policy: Policy,
        first: PageResult,
        finding: Finding,
        planned: Planned,
        others: dict[int, tuple[Edit, ...]],
    ) -> tuple[DraftOutcome, tuple[bytes | None, bytes | None]]:
        """Carry edits out beside those of others, and read the page again. Raises
        ``DraftProblem``."""
        beside = [edit for known in others.values() for edit in known]
        try:
            both = ordered([*beside, *planned.edits])
        except Contradiction as contradiction:
            whose = next(
                (
                    number
                    for number, known in others.items()
                    if {contradiction.one, contradiction.other} & set(known)
                ),
                None,
            )
            raise DraftProblem(
                f"{contradiction}; correction {whose} stands there: take one of them back"
            ) from None
        text = source.text
        before = first
        if beside:
            before = await self._read(await self._changed(source, beside), policy, None)
        changed = await self._changed(source, both)
        place = planned.place
        aim = None
        if place is not None:
            at = await self._shown_at(changed, Moved(both).after(place))
            box = finding.box or finding.nearest_box
            down = int(box[1] + box[3]) + _BELOW if box is not None else 0
            aim = Aim(*at, down) if at is not None else None
        after = await self._read(changed, policy, aim)
        old_text = applied(text, beside)
        own = after_others(planned.edits, beside)
        wanted = (
            [finding]
            if place is None or is_across(correction.check)
            else _at(before, correction.check, old_text, Moved(beside).after(place))
        )
        effect = effect_of(
            old_text,
            own,
            before.assessment.findings,
            after.assessment.findings,
            wanted,
            writes_only=correction.mend["kind"] in WRITING,
        )
        if not effect.counts and not (correction.insist and not effect.left):
            raise DraftProblem(effect.says, may_insist=not effect.left)
        await self._look_across(correction, after.title)
        return self._outcome(correction, source, planned, wanted, effect, before, after)

    @staticmethod
    def _outcome(
        correction: CorrectionRow,
        source: PageSource,
        planned: Planned,
        wanted: Sequence[Finding],
        effect: Effect,
        before: PageResult,
        after: PageResult,
    ) -> tuple[DraftOutcome, tuple[bytes | None, bytes | None]]:
        known = wanted[0] if wanted else None
        box = (known.box or known.nearest_box) if known is not None else None
        pictures = before.picture, after.picture
        outcome = DraftOutcome(
            says=planned.says,
            edits=[edit.as_dict() for edit in planned.edits],
            source_hash=source.hash,
            place=planned.place if planned.place is not None else 0,
            mends_too=max(0, len(effect.gone) - 1),
            picture_before=hash_of(pictures[0]) if pictures[0] is not None else None,
            picture_after=hash_of(pictures[1]) if pictures[1] is not None else None,
            box_before=whole(box),
            box_after=list(after.place.box) if after.place and after.place.box else whole(box),
        )
        return outcome, pictures

    async def _look_across(self, correction: CorrectionRow, title: str) -> None:
        """Refuse a mend of what shows only over all pages together where it would still be there.
        Raises ``DraftProblem``."""
        if not is_across(correction.check):
            return
        async with self._connect() as connection:
            finding = (
                await sweeps.finding_by_id(connection, correction.finding_id)
                if correction.finding_id is not None
                else None
            )
            if finding is None:
                return
            titles = await sweeps.titles(connection, finding.sweep_id)
        pages = [
            PageFacts(one.path, title if one.path == correction.path else one.title)
            for one in titles
        ]
        found = await asyncio.to_thread(assess_site, pages, self._policy)
        for number, findings in found.items():
            if pages[number].address == correction.path:
                for one in findings:
                    if one.check == correction.check:
                        raise DraftProblem(f"the fault would still be there: {one.says}")

    async def _changed(self, source: PageSource, edits: Sequence[Edit]) -> PageSource:
        """Return the source with edits. Raises ``DraftProblem``, ``Unreadable``."""
        try:
            body = with_edits(source.item.body, source.charset, edits)
            return await self._sources.changed(source, body, self._reader)
        except CannotEncode as error:
            raise DraftProblem(str(error), may_reference=True) from None
        except (CannotMend, NotAsRead) as error:
            raise DraftProblem(str(error)) from None
        except AssessorLost as lost:
            raise DraftProblem(lost.problem.says) from None

    async def _read(self, source: PageSource, policy: Policy, aim: Aim | None) -> PageResult:
        """Read a page as a source makes it. Raises ``DraftProblem``."""
        key = (source.fetched.address, source.hash, self._reader.lens, repr(policy))
        known = self._memory.get(key)
        if known is not None and (aim is None or known.place is not None):
            return known

        async def obtain(options: ReadOptions) -> Obtained:
            return await self._reader.read_fetched(source.fetched, source.fetched.address, options)

        result = await read_and_assess(
            obtain, policy, self._reader.runners, worth=lambda _: True, aim=aim
        )
        if result.problem is not None:
            raise DraftProblem(f"the page could not be read: {result.problem.says}")
        if source.makes_page:
            result = await self._in_content(source, result)
        self._memory.keep(key, result)
        return result

    async def _in_content(self, source: PageSource, result: PageResult) -> PageResult:
        """Return a reading whose findings say where they stand in the content that the page is made
        from. Raises ``DraftProblem``."""
        placed = (await self._places(source)).placed(result.assessment.findings)
        return replace(result, assessment=replace(result.assessment, findings=placed))

    async def _shown_at(self, source: PageSource, place: int) -> tuple[int, int] | None:
        """Return line and column, in the page that a source makes, of what stands at a place of
        it."""
        if source.makes_page:
            return (await self._places(source)).shown_at(place)
        return Lines(source.text).of(place)

    async def _places(self, source: PageSource) -> ContentPlaces:
        try:
            async with self._reader.runners.lend() as runner:
                found = await runner.do(
                    Assessor.content_places,
                    source.text,
                    source.fetched.body,
                    self._reader.limits.elements,
                    source.item.form,
                )
        except AssessorLost as lost:
            raise DraftProblem(lost.problem.says) from None
        if isinstance(found, str):
            raise DraftProblem(found)
        return found


def found_again(result: PageResult, correction: CorrectionRow) -> Finding:
    """Return the finding that a correction is about among those of a reading of its page. Raises
    ``DraftProblem``."""
    alike = [
        one
        for one in result.assessment.findings
        if (one.check, one.place_key) == (correction.check, correction.place_key)
    ]
    if len(alike) == 1:
        return alike[0]
    if is_across(correction.check):
        return about_page(catalogue()[correction.check], correction.fault)
    raise DraftProblem(
        "what it mends is not on the page as it was found: the source was changed since, or it is "
        "mended already; read the page again",
        is_conflict=True,
    )


def is_across(check: str) -> bool:
    """Tell whether a check looks at all pages of a site together."""
    return catalogue()[check].across is not None


def _at(result: PageResult, check: str, text: str, place: int) -> list[Finding]:
    lines = Lines(text)
    return [
        one
        for one in result.assessment.findings
        if one.check == check and place_of(one.line, one.column, lines) == place
    ]
