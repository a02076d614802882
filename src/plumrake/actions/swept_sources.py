"""Which pages of a sweep are read by their source alone: those that are made of nothing but what
the browser has shown on other pages just as their sources say."""

from __future__ import annotations

import asyncio
import zlib
from collections.abc import AsyncIterator, Callable, Sequence
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from dataclasses import dataclass

import structlog

from plumrake.actions.ports import Connect
from plumrake.actions.reading import browsers_checks, is_left_open
from plumrake.actions.reading_by_source import Comparable, PatternsAt
from plumrake.actions.swept_patterns import NewlyTried
from plumrake.core.assess import Assessment
from plumrake.core.findings import Finding
from plumrake.core.patterns import Part, TriedPatterns, share_anyway
from plumrake.core.policy import Policy
from plumrake.core.written_patterns import Compared, Written
from plumrake.lenses.runners import AssessorLost
from plumrake.records import patterns
from plumrake.records.sweeps import PlannedPageRow, SweepRow

_MOST_TOLD = 3

_log = structlog.get_logger()


class SweptSources:
    """Tells for the pages of a batch whether their sources stand for them."""

    def __init__(
        self,
        tried: TriedPatterns,
        compared: Compared,
        sweep: SweepRow,
        policy: Policy,
        is_news: Callable[[Assessment], bool],
        turn: asyncio.Semaphore,
    ) -> None:
        self._tried = tried
        self._compared = compared
        self._sweep = sweep
        self._is_wanted = (
            policy.reading == "both" and sweep.lens == "rendered" and policy.wait_for is None
        )
        self._share = share_anyway(policy.tried_anyway, sweep.total)
        self._is_news = is_news
        self._turn = turn
        self._faulty_before: set[int] = set()
        self.newly: list[NewlyTried] = []

    async def load(self, connect: Connect, pages: Sequence[PlannedPageRow]) -> None:
        """Learn on which of the batch's pages something was found last that only a browser
        shows."""
        if not self._is_wanted:
            return
        async with connect() as connection:
            self._faulty_before = await patterns.faulty_before(
                connection,
                self._sweep.base_id,
                [page.id for page in pages],
                sorted(browsers_checks()),
            )

    def of(self, page: PlannedPageRow) -> OnePage | None:
        """Return what tells about a page; None where it is read in the browser whatever its source
        is: it was asked for by name, or policy wants it."""
        if not self._is_wanted or self._sweep.scope == "given":
            return None
        number = zlib.crc32(page.path.encode()) // self._share
        is_its_turn = (number + self._sweep.id) % self._share == 0
        return OnePage(self, page, may_stand=not is_its_turn and page.id not in self._faulty_before)

    def stand_for(self, written: Written) -> str | None:
        """Return the page that was read in the browser and is made of the same."""
        return page_like(self._tried, written)

    def is_enough(self, assessment: Assessment) -> bool:
        """Tell whether what the source shows leaves nothing to be asked of the browser: nothing is
        in doubt, and nothing is found that was not seen there often enough."""
        if is_left_open(assessment) or self._is_news(assessment):
            return False
        self._compared.stood += 1
        return True

    def wants_comparing(self, written: Written) -> bool:
        """Tell whether a page is to be compared."""
        return self._tried.knows(written.patterns) or self._compared.is_worth_while()

    @asynccontextmanager
    async def turn(self) -> AsyncIterator[None]:
        """Wait for a turn in the browser: pages that wait for one keep nobody busy."""
        async with self._turn:
            yield

    async def learn(
        self, path: str, source: Comparable, browser: Comparable, patterns_at: PatternsAt
    ) -> None:
        """Learn what a page is made of: where the browser shows what the source says, and beside
        that only what scripts made on another page to the letter, its patterns are known; where it
        differs, those at which it does are never left to the source again."""
        self._compared.compared += 1
        differs = _differences(source.assessment, browser.assessment)
        only_there = {
            one.selector
            for one in browser.assessment.findings
            if one.check in browsers_checks() and one.selector not in ("html", "body")
        }
        at = sorted({*(one.selector for one in differs), *only_there})
        try:
            faulty = await patterns_at(at) if at else frozenset[int]()
        except AssessorLost:
            return
        now = dict.fromkeys(faulty, Part.BROWSER)
        made = browser.tree.more_than(source.tree)
        is_same = not differs and made is not None and self._tried.knows(made)
        if is_same and not _about_page(browser.assessment):
            now = dict.fromkeys(source.patterns, Part(0)) | now
        elif not is_same:
            if not faulty and self._tried.knows(source.patterns):
                # made of nothing but what is known, and none of it tells why
                now = dict.fromkeys(source.patterns, Part.BROWSER)
            _log.info(
                "source-differs",
                sweep=self._sweep.id,
                path=path,
                same_tree=made == frozenset(),
                findings=[f"{one.check} at {one.selector}" for one in differs[:_MOST_TOLD]],
            )
        if made and not differs:
            now = dict.fromkeys(made, Part(0)) | now
        fresh = self._tried.take(path, now)
        if fresh:
            self.newly.append(NewlyTried(path, fresh))


@dataclass(frozen=True, slots=True)
class OnePage:
    """Tells about one page of a sweep."""

    sources: SweptSources
    page: PlannedPageRow
    may_stand: bool

    async def stand_for(self, written: Written) -> str | None:
        """Return the page that was read in the browser and is made of the same."""
        return self.sources.stand_for(written) if self.may_stand else None

    def is_enough(self, assessment: Assessment) -> bool:
        """Tell whether what the source shows is enough."""
        return self.sources.is_enough(assessment)

    async def is_answer(self, assessment: Assessment) -> bool:
        """Tell that what is enough is an answer."""
        del assessment
        return True

    def wants_comparing(self, written: Written) -> bool:
        """Tell whether the page is to be compared."""
        return self.sources.wants_comparing(written)

    def turn(self) -> AbstractAsyncContextManager[None]:
        """Wait until it is the page's turn in the browser, and hold it."""
        return self.sources.turn()

    async def learn(self, source: Comparable, browser: Comparable, at: PatternsAt) -> None:
        """Learn how what the browser showed differs from the source."""
        await self.sources.learn(self.page.path, source, browser, at)


def page_like(tried: TriedPatterns, written: Written) -> str | None:
    """Return the page that was read in the browser and is made of the same as another by its
    source, with nothing that only a browser shows; None where there is none."""
    stand = tried.stand_for(written.patterns) if written.is_whole else None
    return stand.at if stand is not None and stand.but == Part(0) else None


def _differences(source: Assessment, browser: Assessment) -> list[Finding]:
    """Return what one of two assessments of a page found and the other did not, of the checks that
    both made."""
    made = {one.check for one in (*source.findings, *browser.findings)}
    made -= {one.check for one in (*source.untested, *browser.untested)}
    sides = [
        {one.place_key: one for one in side.findings if one.check in made}
        for side in (source, browser)
    ]
    keys = sides[0].keys() ^ sides[1].keys()
    return [sides[0].get(key) or sides[1][key] for key in sorted(keys)]


def _about_page(assessment: Assessment) -> list[Finding]:
    """Return what only a browser found about a page as a whole: no element stands for it."""
    return [
        one
        for one in assessment.findings
        if one.check in browsers_checks() and one.selector in ("html", "body")
    ]
