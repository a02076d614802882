"""The desk: what one person has in front of them, grouped so that one visit to a page mends all on
it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from plumrake.records import corrections, fixes, notifications
from plumrake.records.corrections import CameBackRow
from plumrake.records.fixes import FixRow
from plumrake.records.queries import Connection

_MOST = 2_000


@dataclass(frozen=True, slots=True)
class DeskPage:
    """A page with the fixes on it; a fix that shows on several pages stands at the one that shows
    it best."""

    site: str
    environment: str
    path: str
    fixes: list[FixRow]


@dataclass(frozen=True, slots=True)
class Desk:
    """A person's pages, the pressing ones first, and what is counted of them."""

    pages: list[DeskPage]
    states: Counter[str]
    late: int
    unread: int
    came_back: list[CameBackRow]

    def count(self, state: str) -> int:
        """Return how many fixes are in a state."""
        return self.states[state]


async def desk_of(connection: Connection, person_id: int, site_id: int | None = None) -> Desk:
    """Return somebody's desk; what is handed in waits for a reading, so it stands last."""
    found = await fixes.fixes_of_person(connection, person_id, site_id, _MOST)
    pages: dict[tuple[str, str, str], DeskPage] = {}
    for fix in sorted(found, key=lambda one: one.state == "handed_in"):
        key = (fix.site, fix.environment, fix.path)
        pages.setdefault(key, DeskPage(*key, fixes=[])).fixes.append(fix)
    unread = await notifications.count_unread(connection, person_id)
    return Desk(
        list(pages.values()),
        Counter(fix.state for fix in found),
        sum(fix.late for fix in found),
        unread,
        await corrections.came_back(connection, person_id, site_id),
    )
