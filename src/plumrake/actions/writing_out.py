"""Writing corrections into their sources, and writing them back.

Before a source is written it is kept what it is to become. Whoever takes the work up after a death
looks at the source: if it is that already, it was written; if it is still what it was, it is
written now; else nobody knows, and the corrections are conflicts. So nothing is lost, and nothing
is written twice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from plumrake.actions.corrections import as_program, note_taken_back
from plumrake.actions.drafting import DraftProblem, ReadingMemory, Workplace, redrafted
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.site_sources import PageSource, SourceSettings, site_sources
from plumrake.actions.sites import private_origins
from plumrake.actions.sweeps import SweepRequest, start_sweep
from plumrake.connectors.source_item import BadConnection, CannotWrite, SourceChanged
from plumrake.core.corrections import IN_SOURCE, CorrectionMove, CorrectionState
from plumrake.core.mending.edits import Contradiction, Edit, Moved, NotAsRead, ordered
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.mending.standing import after_others, through, undone
from plumrake.lenses.encoded import with_edits
from plumrake.net.problems import Unreadable
from plumrake.records import connections, corrections, people, sites
from plumrake.records.corrections import CorrectionFilters, CorrectionRow, NewWriting, WritingRow
from plumrake.records.queries import Connection

_TRIES = 3
_CHANGED = "the source was changed again and again while it was to be written"


@dataclass(frozen=True, slots=True)
class Work:
    """Which corrections are to be written, or taken back, and for whom."""

    ids: tuple[int, ...]
    by_id: int | None
    by: str = "Plum Rake"
    takes_back: bool = False

    @property
    def states(self) -> frozenset[CorrectionState]:
        """The states of what there is still to do."""
        return IN_SOURCE if self.takes_back else frozenset({CorrectionState.DRAFTED})


async def write_corrections(
    connect: Connect,
    enqueue: Enqueue,
    readers: ReaderFor,
    settings: SourceSettings,
    memory: ReadingMemory,
    work: Work,
) -> None:
    """Write drafts into their sources page by page, or take back what was written; then have the
    pages read. May be repeated: what is done is left alone."""
    found = await _found(connect, work)
    if work.by_id is not None:
        async with connect() as connection:
            person = await people.person_by_id(connection, work.by_id)
        work = replace(work, by=person.name if person is not None else work.by)
    found.sort(key=lambda one: (one.site_id, one.environment, one.path, one.id))
    for (site_id, environment), of_site in groupby(
        found, key=lambda one: (one.site_id, one.environment)
    ):
        async with connect() as connection:
            site = await sites.site_by_id(connection, site_id)
            row = await connections.connection_of(connection, site_id, environment)
        own = list(of_site)
        async with readers(own[0].lens, tuple(private_origins(site))) as reader:
            try:
                async with site_sources(connect, site, environment, row, settings) as sources:
                    workplace = Workplace(connect, reader, sources, site, memory)
                    writer = _Writer(workplace, work)
                    for page_id, of_page in groupby(own, key=lambda one: one.page_id):
                        await writer.page(page_id, next(of_page))
            except BadConnection as error:
                await _say(connect, own, str(error))
                continue
        paths = tuple(dict.fromkeys(one.path for one in own))
        asked = SweepRequest(environment, own[0].lens, scope="given", paths=paths, fresh=True)
        async with connect() as connection:
            await start_sweep(connection, site, enqueue, asked, work.by_id)


async def give_up(connect: Connect, work: Work, says: str) -> None:
    """Keep with what was not written why it was not."""
    left = [one for one in await _found(connect, work) if one.state in work.states]
    await _say(connect, left, says)


async def _found(connect: Connect, work: Work) -> list[CorrectionRow]:
    async with connect() as connection:
        return [
            one
            for number in work.ids
            if (one := await corrections.correction_by_id(connection, number)) is not None
        ]


async def _say(connect: Connect, own: Sequence[CorrectionRow], says: str) -> None:
    """Keep with drafts why they could not be written."""
    async with connect() as connection, connection.transaction():
        for one in own:
            await corrections.set_state(connection, one.id, one.state, problem=says)


class _Writer:
    """Writes the sources of one environment of a site."""

    def __init__(self, workplace: Workplace, work: Work) -> None:
        self._workplace = workplace
        self._connect = workplace.connect
        self._reader = workplace.reader
        self._sources = workplace.sources
        self._site = workplace.site
        self._work = work

    async def page(self, page_id: int, first: CorrectionRow) -> None:
        """Write what is to be written of a page, while nobody else writes it."""
        async with self._connect() as connection, connection.transaction():
            await corrections.lock_writing(connection, page_id)
            await self._page(page_id, first)

    async def _page(self, page_id: int, first: CorrectionRow) -> None:
        says = _CHANGED
        for _ in range(_TRIES):
            mine: list[CorrectionRow] = []
            try:
                source = await self._sources.read(first.path, self._reader)
                await self._end_begun(page_id, first.environment, source)
                mine = await self._mine(page_id, first.environment)
                if not mine:
                    return
                if self._work.takes_back:
                    begun = await self._begin_back(source, mine)
                else:
                    begun = await self._begin(source, mine)
                if begun is None:
                    continue
                await self._put(first.path, source, begun, mine)
                return
            except SourceChanged as error:
                says = str(error)
            except (CannotWrite, Unreadable) as error:
                await self._give_up(page_id, first.environment)
                await _say(self._connect, mine or [first], f"it could not be written: {error}")
                return
        await self._give_up(page_id, first.environment)
        left = await self._mine(page_id, first.environment)
        await self._collide([one.id for one in left], says)

    async def _mine(self, page_id: int, environment: str) -> list[CorrectionRow]:
        async with self._connect() as connection:
            found = await corrections.list_corrections(
                connection,
                self._site.id,
                CorrectionFilters(ids=self._work.ids, environment=environment),
            )
        return sorted(
            (one for one in found if one.page_id == page_id and one.state in self._work.states),
            key=lambda one: one.id,
        )

    async def _end_begun(self, page_id: int, environment: str, source: PageSource) -> None:
        """End a writing that whoever began it did not: by what the source is now."""
        async with self._connect() as connection, connection.transaction():
            await corrections.lock_page(connection, page_id)
            begun = await corrections.begun_writing(connection, page_id, environment)
            if begun is None:
                return
            if source.hash == begun.after_hash:
                await self._done(connection, page_id, environment, begun)
            else:  # it is what it was, or nobody knows: it is written anew, or placed anew
                await corrections.end_writing(connection, begun.id, done=False)

    async def _begin(
        self, source: PageSource, mine: Sequence[CorrectionRow]
    ) -> tuple[int, bytes] | None:
        """Keep what a page's source is to become; None where drafts had to be placed anew first."""
        stale = [one for one in mine if one.source_hash != source.hash]
        for one in stale:
            try:
                await redrafted(self._workplace, one)
            except DraftProblem as problem:
                await self._collide([one.id], problem.says)
        if stale:
            return None
        edits: list[Edit] = []
        kept: list[int] = []
        for one in mine:
            own = [Edit.of(edit) for edit in one.edits]
            try:
                edits = ordered([*edits, *own])
            except Contradiction as error:
                await self._collide([one.id], str(error))
                continue
            kept.append(one.id)
        return await self._kept(source, mine[0], edits, kept, ())

    async def _begin_back(
        self, source: PageSource, mine: Sequence[CorrectionRow]
    ) -> tuple[int, bytes] | None:
        """Keep what a page's source is to become when corrections are taken back."""
        one = mine[0]
        assert one.writing_id is not None
        async with self._connect() as connection:
            since = await corrections.writings_since(
                connection, one.page_id, one.environment, one.writing_id
            )
        if not since or since[-1].after_hash != source.hash:
            await self._collide(
                [one.id],
                "the source was changed since it was written; put the old text back there",
            )
            return None
        own = [Edit.of(edit) for edit in one.edits]
        back: tuple[Edit, ...] | None = undone([Edit.of(edit) for edit in since[0].edits], own)
        for later in since[1:]:
            back = through(back, [Edit.of(edit) for edit in later.edits]) if back else back
        if not back:
            await self._collide(
                [one.id], "a later correction changed the same place; take that one back first"
            )
            return None
        return await self._kept(source, one, list(back), [], [one.id])

    async def _kept(
        self,
        source: PageSource,
        one: CorrectionRow,
        edits: Sequence[Edit],
        ids: Sequence[int],
        takes_back: Sequence[int],
    ) -> tuple[int, bytes] | None:
        if not edits:
            return None
        try:
            body = with_edits(source.item.body, source.charset, edits)
        except (CannotMend, NotAsRead) as error:
            await self._collide([*ids, *takes_back], str(error))
            return None
        changed = source.with_body(body)
        async with self._connect() as connection, connection.transaction():
            await corrections.lock_page(connection, one.page_id)
            await corrections.keep_source(connection, source.row())
            await corrections.keep_source(connection, changed.row())
            new = NewWriting(
                self._site.id,
                one.environment,
                one.page_id,
                source.hash,
                changed.hash,
                [edit.as_dict() for edit in edits],
                self._work.by_id,
                takes_back,
            )
            number = await corrections.add_writing(connection, new)
            await corrections.set_writing(connection, number, ids)
        return number, body

    async def _put(
        self,
        path: str,
        source: PageSource,
        begun: tuple[int, bytes],
        mine: Sequence[CorrectionRow],
    ) -> None:
        """Write a source, and keep that it was written."""
        if self._sources.connector is None:
            raise CannotWrite("nothing says where the site's sources are")
        why = "; ".join(dict.fromkeys(one.says for one in mine))[:2000]
        own = source.own_of(begun[1])
        try:
            await self._sources.connector.write(path, own, source.item.version, why, self._work.by)
        except SourceChanged:
            await self._give_up(mine[0].page_id, mine[0].environment)
            raise
        async with self._connect() as connection, connection.transaction():
            await corrections.lock_page(connection, mine[0].page_id)
            found = await corrections.begun_writing(
                connection, mine[0].page_id, mine[0].environment
            )
            if found is not None and found.id == begun[0]:
                await self._done(connection, mine[0].page_id, mine[0].environment, found)

    async def _done(
        self, connection: Connection, page_id: int, environment: str, writing: WritingRow
    ) -> None:
        """Keep that a source was written: its corrections stand in it, others' drafts lie where
        they lie in it now."""
        own = await corrections.corrections_of_writing(connection, writing.id)
        own = [one for one in own if one.state == CorrectionState.DRAFTED.value]
        for one in own:
            await as_program(connection, one.id, CorrectionMove.WRITE, "", for_id=self._work.by_id)
        await corrections.set_written(connection, writing.id, [one.id for one in own])
        for number in writing.takes_back:
            await note_taken_back(connection, number, self._work.by_id)
        await corrections.end_writing(connection, writing.id, done=True)
        written = [Edit.of(edit) for edit in writing.edits]
        moved = Moved(written)
        for one in await corrections.drafts_of_page(connection, page_id, environment):
            if one.source_hash == writing.before_hash:
                edits = after_others([Edit.of(edit) for edit in one.edits], written)
                place = moved.after(one.place) if one.place is not None else None
                given = [edit.as_dict() for edit in edits]
                await corrections.set_edits(connection, one.id, given, writing.after_hash, place)

    async def _give_up(self, page_id: int, environment: str) -> None:
        async with self._connect() as connection, connection.transaction():
            begun = await corrections.begun_writing(connection, page_id, environment)
            if begun is not None:
                await corrections.end_writing(connection, begun.id, done=False)

    async def _collide(self, ids: Sequence[int], says: str) -> None:
        async with self._connect() as connection, connection.transaction():
            for number in ids:
                await as_program(connection, number, CorrectionMove.COLLIDE, says)
