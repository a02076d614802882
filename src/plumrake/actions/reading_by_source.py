"""Reading a page by its source where that is enough, else in the browser, and learning how the two
differ."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, Sequence
from contextlib import AbstractAsyncContextManager
from dataclasses import dataclass, replace
from typing import Protocol

from plumrake.actions.reading import (
    Follow,
    OpenPage,
    PageResult,
    Read,
    Worth,
    read_and_assess,
)
from plumrake.core.assess import Assessment
from plumrake.core.patterns import Part
from plumrake.core.policy import Policy
from plumrake.core.written_patterns import Tree, Written
from plumrake.lenses.assessor import Assessor
from plumrake.lenses.read_options import ReadOptions, StandFor, Tried
from plumrake.lenses.runners import AssessorLost, Runner, Runners


@dataclass(frozen=True, slots=True)
class Comparable:
    """What a page was found to be through one lens: what the checks say, and its tree; for
    a source with its patterns."""

    assessment: Assessment
    tree: Tree
    patterns: frozenset[int] = frozenset()


PatternsAt = Callable[[Sequence[str]], Awaitable[frozenset[int]]]
"""Gives the patterns of the elements of a page's source that some selectors select."""


class BySource(Protocol):
    """Tells for one page whether its source stands for what the browser would show."""

    async def stand_for(self, written: Written) -> str | None:
        """Return the page that was read in the browser and is made of the same, None where there is
        none, or the page is to be read in the browser for another reason."""

    def is_enough(self, assessment: Assessment) -> bool:
        """Tell whether what the source shows leaves nothing to be asked of the browser."""

    async def is_answer(self, assessment: Assessment) -> bool:
        """Tell of what is enough whether it is an answer too, once it is known what else is to be
        answered; no checks wait for it meanwhile."""

    def wants_comparing(self, written: Written) -> bool:
        """Tell whether it is worth learning how the browser differs from the source."""

    def turn(self) -> AbstractAsyncContextManager[None]:
        """Wait until it is the page's turn in the browser, and hold it."""

    async def learn(self, source: Comparable, browser: Comparable, at: PatternsAt) -> None:
        """Learn how what the browser showed differs from the source."""


async def read_by_source_first(
    read: Read,
    policy: Policy,
    runners: Runners,
    by_source: BySource,
    *,
    worth: Worth,
    follow: Follow | None,
    inventory: bool = True,
    stand_for: StandFor | None = None,
) -> PageResult:
    """Return what the checks say about a page: by its source where that stands for it, else as the
    browser shows it."""
    async with runners.lend() as runner:
        told = await _by_source(read, policy, by_source, runner, follow, in_full=inventory)
    if isinstance(told, PageResult):
        if await by_source.is_answer(told.assessment):
            return told
        told = None
    async with by_source.turn():
        result = await read_and_assess(
            read,
            policy,
            runners,
            worth=worth,
            inventory=inventory,
            follow=follow,
            stand_for=stand_for,
        )
    if told is None or result.tried is None or result.tried.tree is None:
        return result

    async def patterns_at(places: Sequence[str]) -> frozenset[int]:
        async with runners.lend() as runner:
            await read(ReadOptions(runner=runner, by_source=True))
            return await runner.do(Assessor.patterns_written_at, list(places))

    await by_source.learn(told, Comparable(result.assessment, result.tried.tree), patterns_at)
    return result


async def _by_source(
    read: Read,
    policy: Policy,
    by_source: BySource,
    runner: Runner,
    follow: Follow | None,
    *,
    in_full: bool,
) -> PageResult | Comparable | None:
    """Return a page as its source shows it where that is enough; else what the browser is to be
    compared with, or None where nothing is to be learnt."""
    obtained = await read(ReadOptions(runner=runner, by_source=True))
    written = obtained.written
    if obtained.problem is not None or written is None:
        return None
    at = await by_source.stand_for(written)
    if at is None and not by_source.wants_comparing(written):
        return None
    page = OpenPage(runner, policy, None, follow, None)
    try:
        assessment = await page.assess()
    except AssessorLost:
        return None
    if at is not None and by_source.is_enough(assessment):
        result = await page.result(obtained, in_full=in_full)
        return replace(result, tried=Tried(frozenset(), Part(0), {}, at))
    return Comparable(assessment, written.tree, written.patterns)
