"""What a sweep need not try: pages that are made of nothing but what was laid out otherwise and
walked through by Tab on other pages of the site, lately, without anything being found."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from plumrake.actions.ports import Connect
from plumrake.actions.reading import PageResult, tried_checks
from plumrake.core.patterns import ALL_PARTS, Part, Stand, TriedPatterns, share_anyway
from plumrake.core.policy import Policy
from plumrake.lenses.read_options import StandFor
from plumrake.records import patterns
from plumrake.records.queries import Connection
from plumrake.records.sweeps import PlannedPageRow, SweepRow

_AT_ONCE = timedelta(minutes=2)
"""What other workers keep is looked for this far back, since they keep it a little after."""


@dataclass(frozen=True, slots=True)
class NewlyTried:
    """What was tried on a page: patterns, each with the parts by which something was found at
    it."""

    path: str
    faulty: dict[int, Part]


class SweptPatterns:
    """Tells for the pages of a batch where they were tried, and gathers what is tried on them."""

    def __init__(self, tried: TriedPatterns, sweep: SweepRow, policy: Policy) -> None:
        self._tried = tried
        self._sweep = sweep
        self._share = share_anyway(policy.tried_anyway, sweep.total)
        self._faulty_before: set[int] = set()
        self.newly: list[NewlyTried] = []

    async def load(self, connect: Connect, pages: Sequence[PlannedPageRow]) -> None:
        """Learn what the site's pages were tried with, and which of the batch's pages something was
        found on last."""
        sweep = self._sweep
        since = datetime.now(UTC) - _AT_ONCE if self._tried.known else patterns.BEGINNING
        async with connect() as connection:
            for row in await patterns.known(connection, sweep.site_id, sweep.environment, since):
                self._tried.learn(row.path, row.pattern, Part(row.faulty))
            self._faulty_before = await patterns.faulty_before(
                connection, sweep.base_id, [page.id for page in pages], sorted(tried_checks())
            )

    def of(self, page: PlannedPageRow) -> StandFor | None:
        """Return what tells which page may stand for this one; None where it is to be tried itself:
        it was asked for by name, something was found on it before, or its turn has come."""
        is_its_turn = (zlib.crc32(page.path.encode()) + self._sweep.id) % self._share == 0
        if self._sweep.scope == "given" or is_its_turn or page.id in self._faulty_before:
            return _nothing_stands_for

        async def stand_for(patterns: frozenset[int]) -> Stand | None:
            return self._tried.stand_for(patterns)

        return stand_for

    def learn(self, page: PlannedPageRow, result: PageResult) -> None:
        """Learn what was tried on a page. A fault of Tab that is no single element's makes none of
        them known."""
        tried = result.tried
        if tried is None:
            return
        in_full = tried.parts == ALL_PARTS and not any(
            one.check.startswith("keyboard/") for one in result.assessment.findings
        )
        now = {one: Part(0) for one in tried.patterns if in_full} | dict(tried.found)
        fresh = self._tried.take(page.path, now)
        if fresh:
            self.newly.append(NewlyTried(page.path, fresh))


async def _nothing_stands_for(_: frozenset[int]) -> Stand | None:
    return None


async def keep_tried(connection: Connection, sweep: SweepRow, newly: Sequence[NewlyTried]) -> None:
    """Keep what was tried on pages of a sweep."""
    for one in newly:
        await patterns.keep(connection, sweep.site_id, sweep.environment, one.path, one.faulty)
