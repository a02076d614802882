"""What is new on a site, for those who watch it."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.records.queries import Connection, load, one, rows

_QUERIES = load("live")
_WINDOW = 200
"""Events of transactions that end in another order than they began in come late; so far back is
looked for them."""


@dataclass(frozen=True, slots=True)
class FixMovedRow:
    """A fix was moved."""

    id: int
    fix_id: int


@dataclass(frozen=True, slots=True)
class SweepProgressRow:
    """A sweep came further."""

    id: int
    sweep_id: int
    kind: str
    read: int
    total: int


@dataclass(frozen=True, slots=True)
class _Last:
    fix_event: int
    sweep_event: int
    unread: int


class Watch:
    """What one person sees of a site: each thing once, however late its transaction ended."""

    def __init__(self, site_id: int, person_id: int) -> None:
        self._site_id = site_id
        self._person_id = person_id
        self._fix = self._sweep = 0
        self._seen: set[tuple[str, int]] = set()
        self.unread = -1

    async def begin(self, connection: Connection) -> None:
        """Watch from now on."""
        last = await one(connection, _QUERIES["last"], _Last, person_id=self._person_id)
        self._fix, self._sweep = last.fix_event, last.sweep_event
        await self.look(connection)
        self.unread = last.unread

    async def look(
        self, connection: Connection
    ) -> tuple[list[FixMovedRow], list[SweepProgressRow], bool]:
        """Return the moves and the steps of sweeps that are new, and whether the number of unseen
        notifications changed."""
        moved = await rows(
            connection,
            _QUERIES["fix_events"],
            FixMovedRow,
            site_id=self._site_id,
            after=self._fix - _WINDOW,
        )
        swept = await rows(
            connection,
            _QUERIES["sweep_events"],
            SweepProgressRow,
            site_id=self._site_id,
            after=self._sweep - _WINDOW,
        )
        new_moves = [one_move for one_move in moved if ("fix", one_move.id) not in self._seen]
        new_steps = [step for step in swept if ("sweep", step.id) not in self._seen]
        self._seen = {("fix", one_move.id) for one_move in moved} | {
            ("sweep", step.id) for step in swept
        }
        self._fix = max([self._fix, *(one_move.id for one_move in moved)])
        self._sweep = max([self._sweep, *(step.id for step in swept)])
        unread, self.unread = (
            self.unread,
            (await one(connection, _QUERIES["last"], _Last, person_id=self._person_id)).unread,
        )
        return new_moves, new_steps, unread != self.unread
