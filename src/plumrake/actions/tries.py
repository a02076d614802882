"""Trying other markup in the place of an element, before anything is drafted: how it is met then,
and what is found in it. Nothing is kept."""

from __future__ import annotations

import time
from collections import OrderedDict
from dataclasses import dataclass, replace

from plumrake.actions.ports import Connect
from plumrake.actions.site_sources import PageSource, SourceSettings, site_sources
from plumrake.actions.sites import policy_of_site, private_origins
from plumrake.core.findings import Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.edits import Edit, Moved, applied
from plumrake.core.mending.effect import effect_of
from plumrake.core.mending.standing import net_edit
from plumrake.core.policy import Policy
from plumrake.lenses.assessor import Assessor, TriedPlace
from plumrake.lenses.reader import PageReader, open_markup
from plumrake.lenses.runners import ProcessRunners
from plumrake.lenses.sources import SourcePlace
from plumrake.net.fetch import Limits
from plumrake.records import connections, sites
from plumrake.records.sweeps import FindingInFullRow

MOST_MARKUP = 20_000
_KEPT_SECONDS = 300.0
_MOST_KEPT = 8


class CannotTry(ValueError):
    """The place cannot be tried; the message says why."""

    code = "cannot-try"


@dataclass(frozen=True, slots=True)
class _Place:
    """A page's source, and from where to where (characters) an element stands in it."""

    source: PageSource
    text: str
    start: int
    end: int
    policy: Policy
    at: float


@dataclass(frozen=True, slots=True)
class Tried:
    """An element as it is met with other markup (``markup``): what of the finding is ``left``, and
    the findings of its page that went and came by it."""

    place: TriedPlace
    markup: str
    left: tuple[str, ...]
    gone: tuple[str, ...]
    brought: tuple[str, ...]


class TryRoom:
    """Tries markup in a process of its own, which can be killed; keeps the last few sources for a
    while, so that trying again is quick."""

    def __init__(self, settings: SourceSettings) -> None:
        self._settings = settings
        self._runners = ProcessRunners(1)
        self._places: OrderedDict[int, _Place] = OrderedDict()
        self._before: dict[int, TriedPlace] = {}

    def close(self) -> None:
        """End the process."""
        self._runners.close()

    async def markup_of(self, connect: Connect, finding: FindingInFullRow) -> str:
        """Return how the element of a finding is written. Raises ``CannotTry``, ``Unreadable``."""
        place = await self._place(connect, finding)
        if place.end - place.start > MOST_MARKUP:
            raise CannotTry(f"the element has more than {MOST_MARKUP:,} characters")
        return place.text[place.start : place.end]

    async def tried(self, connect: Connect, finding: FindingInFullRow, markup: str) -> Tried:
        """Return how the element of a finding is met with other markup. Raises ``CannotTry``,
        ``Unreadable``, ``AssessorLost``."""
        place = await self._place(connect, finding)
        edits = tuple(
            replace(edit, start=edit.start + place.start, end=edit.end + place.start)
            for edit in net_edit(place.text[place.start : place.end], markup)
        )
        spaces = len(markup) - len(markup.lstrip())
        return await self._tried(place, finding, edits, place.start + spaces)

    async def tried_mend(self, connect: Connect, finding: FindingInFullRow, mend: Mend) -> Tried:
        """Return how the element of a finding is met with a mend carried out. Raises ``CannotTry``,
        ``Unreadable``, ``AssessorLost``."""
        place = await self._place(connect, finding)
        at = SourcePlace(finding.selector, finding.line, finding.column, finding.excerpt)
        async with self._runners.lend() as runner:
            planned = await runner.do(Assessor.plan, place.text, at, mend, Limits().elements)
        if isinstance(planned, str):
            raise CannotTry(f"it cannot be carried out: {planned}")
        return await self._tried(
            place, finding, planned.edits, Moved(planned.edits).after(place.start)
        )

    async def _tried(
        self, place: _Place, finding: FindingInFullRow, edits: tuple[Edit, ...], start: int
    ) -> Tried:
        if finding.id not in self._before:
            self._before[finding.id] = await self._met(place, place.text, place.start)
        before = self._before[finding.id]
        text = applied(place.text, edits)
        after = await self._met(place, text, start)
        wanted = [
            one
            for one in before.findings
            if (one.check, one.selector) == (finding.check, finding.selector)
        ]
        effect = effect_of(
            place.text, edits, before.findings, after.findings, wanted, writes_only=False
        )
        markup = text[start : Moved(edits).after(place.end)] if place.end > place.start else ""
        return Tried(
            after,
            markup[:MOST_MARKUP],
            tuple(dict.fromkeys(one.says for one in effect.left)),
            tuple(dict.fromkeys(one.says for one in effect.gone)),
            tuple(dict.fromkeys(one.says for one in effect.brought)),
        )

    async def _met(self, place: _Place, text: str, start: int) -> TriedPlace:
        line, column = Lines(text).of(start)
        fetched = place.source.fetched_as(text)
        async with self._runners.lend() as own:
            await open_markup(own, fetched, fetched.address, Limits())
            met = await own.do(Assessor.tried, line, column, place.policy)
        if met is None:
            raise CannotTry("the markup has to begin with an element, such as <a href=…>")
        return met

    async def _place(self, connect: Connect, finding: FindingInFullRow) -> _Place:
        known = self._places.get(finding.id)
        if known is not None and time.monotonic() - known.at < _KEPT_SECONDS:
            return known
        async with connect() as connection:
            site = await sites.site_by_slug(connection, finding.site)
            assert site is not None
            row = await connections.connection_of(connection, site.id, finding.environment)
        origins = tuple(private_origins(site))
        async with (
            PageReader("markup", private_origins=origins, runners=self._runners) as reader,
            site_sources(connect, site, finding.environment, row, self._settings) as sources,
        ):
            source = await sources.read(finding.path, reader)
            if source.makes_page:
                raise CannotTry(
                    "the page is made from its content, which is written otherwise; draft the "
                    "mend, and the page is read as it is made then"
                )
            text = source.text
            async with self._runners.lend() as runner:
                at = SourcePlace(finding.selector, finding.line, finding.column, finding.excerpt)
                span = await runner.do(Assessor.span, text, at, reader.limits.elements)
        if isinstance(span, str):
            raise CannotTry(span)
        place = _Place(source, text, *span, policy_of_site(site), time.monotonic())
        self._places[finding.id] = place
        self._before.pop(finding.id, None)
        while len(self._places) > _MOST_KEPT:
            self._before.pop(self._places.popitem(last=False)[0], None)
        return place
