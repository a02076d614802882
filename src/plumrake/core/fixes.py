"""Fixes: the states that a promise to mend goes through, who may move it, and what a reading says
about it.

``open`` → ``in_hand`` (somebody took it) → ``handed_in`` (said to be mended) → ``proven`` (a
reading shows it gone). ``reopened``: handed in or proven, yet there again. ``waived``: closed by a
waiver until it ends. ``page_gone``: the pages are gone.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class FixState(StrEnum):
    """Where a fix stands."""

    OPEN = "open"
    IN_HAND = "in_hand"
    HANDED_IN = "handed_in"
    PROVEN = "proven"
    REOPENED = "reopened"
    WAIVED = "waived"
    PAGE_GONE = "page_gone"


class Move(StrEnum):
    """What can be done with a fix. ``note`` and ``due`` leave its state alone."""

    TAKE = "take"
    PUT_BACK = "put_back"
    ASSIGN = "assign"
    DUE = "due"
    NOTE = "note"
    PROPOSE = "propose"
    HAND_IN = "hand_in"
    WITHDRAW = "withdraw"
    WAIVE = "waive"
    END_WAIVER = "end_waiver"
    PROVE = "prove"
    REOPEN = "reopen"
    PAGE_GONE = "page_gone"
    PAGE_BACK = "page_back"


ROLES: tuple[str, ...] = ("manager", "editor", "developer", "reader", "reading", "clock")
"""Who moves fixes: the roles of people, a page that was read again (``reading``), and time
(``clock``)."""
LIVE: frozenset[FixState] = frozenset(
    {FixState.OPEN, FixState.IN_HAND, FixState.HANDED_IN, FixState.REOPENED}
)
"""The states in which something is still to be done."""
CLOSED: frozenset[FixState] = frozenset(FixState) - LIVE
"""The states in which nothing is to be done for now."""


@dataclass(frozen=True, slots=True)
class _Rule:
    """From which states a move leads where (None: the state stays), and who may make it: any of
    ``roles``, and ``owners`` as owner only."""

    origins: frozenset[FixState]
    to: FixState | None
    roles: frozenset[str]
    owners: frozenset[str] = frozenset()


_ALL = frozenset(FixState)
_WORKERS = frozenset({"editor", "developer"})
_MANAGER, _READING = frozenset({"manager"}), frozenset({"reading"})
TO_DO: frozenset[FixState] = frozenset({FixState.OPEN, FixState.IN_HAND, FixState.REOPENED})
"""The states in which somebody has still to mend it; late is what is due and in one of them."""

RULES: dict[Move, _Rule] = {
    Move.TAKE: _Rule(
        frozenset({FixState.OPEN, FixState.REOPENED}),
        FixState.IN_HAND,
        frozenset(),
        _WORKERS | _MANAGER,
    ),
    Move.PUT_BACK: _Rule(frozenset({FixState.IN_HAND}), FixState.OPEN, _MANAGER, _WORKERS),
    Move.ASSIGN: _Rule(LIVE, None, _MANAGER),
    Move.DUE: _Rule(LIVE, None, _MANAGER),
    Move.NOTE: _Rule(_ALL, None, _MANAGER | _WORKERS),
    Move.PROPOSE: _Rule(TO_DO, None, _MANAGER | _WORKERS),
    Move.HAND_IN: _Rule(TO_DO, FixState.HANDED_IN, _MANAGER, _WORKERS),
    Move.WITHDRAW: _Rule(frozenset({FixState.HANDED_IN}), FixState.IN_HAND, _MANAGER, _WORKERS),
    Move.WAIVE: _Rule(LIVE, FixState.WAIVED, _MANAGER),
    Move.END_WAIVER: _Rule(frozenset({FixState.WAIVED}), FixState.OPEN, _MANAGER | {"clock"}),
    Move.PROVE: _Rule(LIVE, FixState.PROVEN, _READING),
    Move.REOPEN: _Rule(
        frozenset({FixState.HANDED_IN, FixState.PROVEN}), FixState.REOPENED, _READING
    ),
    Move.PAGE_GONE: _Rule(LIVE, FixState.PAGE_GONE, _READING),
    Move.PAGE_BACK: _Rule(frozenset({FixState.PAGE_GONE}), FixState.OPEN, _READING),
}
"""Every move with the states that it may be made in and who may make it."""


class MoveRefused(ValueError):
    """The move cannot be made: ``code`` is ``move-not-allowed`` (not by this person) or
    ``wrong-state`` (not now)."""

    def __init__(self, code: str, says: str) -> None:
        super().__init__(says)
        self.code = code


@dataclass(frozen=True, slots=True)
class Mover:
    """How somebody stands to a fix: by role, as its owner, where nobody owns it, and where the
    site's policy lets the role grant waivers."""

    role: str
    owns: bool = False
    unowned: bool = False
    grants: bool = False


def may(move: Move, who: Mover) -> bool:
    """Tell whether somebody may make a move, in whatever state it can be made; what nobody has is
    there to be taken."""
    rule = RULES[move]
    if who.role in rule.roles or (who.grants and move is Move.WAIVE):
        return True
    return who.role in rule.owners and (who.owns or (who.unowned and move is Move.TAKE))


def moved(state: FixState, move: Move, who: Mover) -> FixState:
    """Return the state that a fix is in after somebody's move. Raises ``MoveRefused``."""
    rule = RULES[move]
    if not may(move, who):
        if move is Move.TAKE and who.role in _MANAGER:
            raise MoveRefused(
                "move-not-allowed",
                "somebody else has this fix; 'assign' hands it to you, and tells them",
            )
        whose = "its owner or a manager" if rule.owners and who.role in _WORKERS else _named(rule)
        raise MoveRefused(
            "move-not-allowed",
            f"'{_said(move)}' is for {whose}; you are {_article(who.role)} and do not own this fix",
        )
    if state not in rule.origins:
        where = ", ".join(sorted(_said(one) for one in rule.origins))
        raise MoveRefused(
            "wrong-state",
            f"'{_said(move)}' needs a fix that is {where}; this one is {_said(state)}",
        )
    if move is Move.ASSIGN and state is FixState.IN_HAND:
        return FixState.OPEN  # the new owner has not taken it yet
    return rule.to or state


def open_moves(state: FixState, who: Mover) -> list[Move]:
    """Return the moves that somebody can make now, in the order of ``Move``."""
    return [move for move, rule in RULES.items() if state in rule.origins and may(move, who)]


def _named(rule: _Rule) -> str:
    return " or ".join(sorted(rule.roles | rule.owners))


def _said(word: str) -> str:
    return str(word).replace("_", " ")


def _article(role: str) -> str:
    return f"an {role}" if role[0] in "aeiou" else f"a {role}"


@dataclass(frozen=True, slots=True)
class Seen:
    """What a sweep saw of a fix's places: places still faulty, pages read, pages that are gone,
    pages that could not be read or were not asked."""

    there: int
    read: int
    gone: int
    unread: int


def verdict(state: FixState, seen: Seen) -> Move | None:
    """Return the move that a reading makes, or None where it changes nothing.

    One faulty place is enough to keep a fix from being proven; a page that was not read keeps the
    question open.
    """
    if state is FixState.WAIVED:
        return None
    if seen.there:
        return {
            FixState.HANDED_IN: Move.REOPEN,
            FixState.PROVEN: Move.REOPEN,
            FixState.PAGE_GONE: Move.PAGE_BACK,
        }.get(state)
    if state not in LIVE or seen.unread or not seen.read + seen.gone:
        return None
    return Move.PROVE if seen.read else Move.PAGE_GONE
