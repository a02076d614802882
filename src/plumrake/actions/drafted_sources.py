"""Which drafts the gate reads by their source: those that are made of nothing but what the browser
has shown on the site's pages just as their sources say, and that nothing holds."""

from __future__ import annotations

from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from dataclasses import replace

from plumrake.actions.ports import Connect
from plumrake.actions.reading import is_left_open
from plumrake.actions.reading_by_source import Comparable, PatternsAt
from plumrake.actions.swept_sources import page_like
from plumrake.core.assess import Assessment
from plumrake.core.patterns import Part, TriedPatterns
from plumrake.core.written_patterns import Written
from plumrake.records import patterns


class DraftedSource:
    """Tells about one draft of a site."""

    def __init__(
        self,
        connect: Connect,
        site_id: int,
        is_held: Callable[[Assessment], Awaitable[bool]],
    ) -> None:
        self._connect = connect
        self._site_id = site_id
        self._is_held = is_held

    async def stand_for(self, written: Written) -> str | None:
        """Return the page that was read in the browser and is made of the same."""
        tried = TriedPatterns()
        async with self._connect() as connection:
            rows = await patterns.known(connection, self._site_id, "live", among=written.patterns)
        for row in rows:
            tried.learn(row.path, row.pattern, Part(row.faulty))
        # what its pictures are known by is for the lists of a site, not for a draft
        return page_like(tried, replace(written, is_whole=True))

    def is_enough(self, assessment: Assessment) -> bool:
        """Tell whether what the source shows is enough: nothing is in doubt."""
        return not is_left_open(assessment)

    async def is_answer(self, assessment: Assessment) -> bool:
        """Tell whether a draft may be answered by its source: what holds it, people are shown in
        the browser's picture."""
        return not await self._is_held(assessment)

    def wants_comparing(self, written: Written) -> bool:
        """Tell whether to learn from a draft: never, it is not published."""
        del written
        return False

    @asynccontextmanager
    async def turn(self) -> AsyncIterator[None]:
        """A draft waits for nobody."""
        yield

    async def learn(self, source: Comparable, browser: Comparable, at: PatternsAt) -> None:
        """Learn nothing."""
