"""Trying other markup in the place of an element, before anything is drafted: how it is met then,
and what is found in it. Nothing is kept."""

from __future__ import annotations

import time
from collections import OrderedDict
from dataclasses import dataclass

from plumrake.actions.ports import Connect
from plumrake.actions.site_sources import PageSource, SourceSettings, site_sources
from plumrake.actions.sites import policy_of_site, private_origins
from plumrake.core.html_source import Lines
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
    """An element as it is met with other markup, and the findings that went and came by it."""

    place: TriedPlace
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
        return place.text[place.start : place.end]

    async def tried(self, connect: Connect, finding: FindingInFullRow, markup: str) -> Tried:
        """Return how the element of a finding is met with other markup. Raises ``CannotTry``,
        ``Unreadable``, ``AssessorLost``."""
        place = await self._place(connect, finding)
        if finding.id not in self._before:
            own = place.text[place.start : place.end]
            self._before[finding.id] = await self._met(place, own)
        before = self._before[finding.id]
        after = await self._met(place, markup)
        had = [one.says for one in before.findings]
        has = [one.says for one in after.findings]
        return Tried(
            after,
            tuple(says for says in had if says not in has),
            tuple(says for says in has if says not in had),
        )

    async def _met(self, place: _Place, markup: str) -> TriedPlace:
        text = place.text[: place.start] + markup + place.text[place.end :]
        spaces = len(markup) - len(markup.lstrip())
        line, column = Lines(text).of(place.start + spaces)
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
            text = source.text
            async with self._runners.lend() as runner:
                at = SourcePlace(finding.selector, finding.line, finding.column, finding.excerpt)
                span = await runner.do(Assessor.span, text, at, reader.limits.elements)
        if isinstance(span, str):
            raise CannotTry(span)
        if span[1] - span[0] > MOST_MARKUP:
            raise CannotTry(f"the element has more than {MOST_MARKUP:,} characters")
        place = _Place(source, text, *span, policy_of_site(site), time.monotonic())
        self._places[finding.id] = place
        self._before.pop(finding.id, None)
        while len(self._places) > _MOST_KEPT:
            self._before.pop(self._places.popitem(last=False)[0], None)
        return place
