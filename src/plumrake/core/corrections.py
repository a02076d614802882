"""Corrections: the states that a drafted change of a page's source goes through, and who may move
it.

``waiting`` (its page is being read) → ``drafted`` (it works) → ``written`` (it stands in the
source) → ``proven`` (a reading of the page no longer finds the fault). ``refused``: it would leave
the fault or bring another. ``conflict``: the source is not what it was made for, or a reading
still finds the fault. ``taken_back``: undone.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class CorrectionState(StrEnum):
    """Where a correction stands."""

    WAITING = "waiting"
    REFUSED = "refused"
    DRAFTED = "drafted"
    WRITTEN = "written"
    PROVEN = "proven"
    CONFLICT = "conflict"
    TAKEN_BACK = "taken_back"


class CorrectionMove(StrEnum):
    """What can be done with a correction."""

    MAKE = "make"
    DRAFT = "draft"
    REFUSE = "refuse"
    WRITE = "write"
    COLLIDE = "collide"
    PROVE = "prove"
    TAKE_BACK = "take_back"
    DRAFT_AGAIN = "draft_again"


IN_SOURCE: frozenset[CorrectionState] = frozenset({CorrectionState.WRITTEN, CorrectionState.PROVEN})
"""The states in which the change stands in the source."""


@dataclass(frozen=True, slots=True)
class _Rule:
    """From which states a move leads where, and who makes it: the ``program`` (a reading, a
    writer), or people: the author, or a manager."""

    origins: frozenset[CorrectionState]
    to: CorrectionState
    by_people: bool = False


_S = CorrectionState
RULES: dict[CorrectionMove, _Rule] = {
    CorrectionMove.DRAFT: _Rule(frozenset({_S.WAITING, _S.DRAFTED}), _S.DRAFTED),
    CorrectionMove.REFUSE: _Rule(frozenset({_S.WAITING}), _S.REFUSED),
    CorrectionMove.WRITE: _Rule(frozenset({_S.DRAFTED}), _S.WRITTEN),
    CorrectionMove.COLLIDE: _Rule(
        frozenset({_S.WAITING, _S.DRAFTED, _S.WRITTEN, _S.PROVEN}), _S.CONFLICT
    ),
    CorrectionMove.PROVE: _Rule(frozenset({_S.WRITTEN}), _S.PROVEN),
    CorrectionMove.TAKE_BACK: _Rule(
        frozenset(_S) - {_S.TAKEN_BACK, _S.REFUSED}, _S.TAKEN_BACK, by_people=True
    ),
    CorrectionMove.DRAFT_AGAIN: _Rule(
        frozenset({_S.REFUSED, _S.CONFLICT, _S.TAKEN_BACK}), _S.WAITING, by_people=True
    ),
}
"""Every move with the states that it may be made in."""


class CorrectionRefused(ValueError):
    """The move cannot be made: ``code`` is ``move-not-allowed`` or ``wrong-state``."""

    def __init__(self, code: str, says: str) -> None:
        super().__init__(says)
        self.code = code


def moved(
    state: CorrectionState, move: CorrectionMove, *, role: str, is_author: bool = False
) -> CorrectionState:
    """Return the state that a correction is in after a move by ``role`` (of a person, or
    ``program``). Raises ``CorrectionRefused``."""
    rule = RULES[move]
    may = (role == "manager" or is_author) if rule.by_people else role == "program"
    if not may:
        raise CorrectionRefused(
            "move-not-allowed", f"'{_said(move)}' is for whoever made the correction, or a manager"
        )
    if state not in rule.origins:
        where = ", ".join(sorted(_said(one) for one in rule.origins))
        raise CorrectionRefused(
            "wrong-state",
            f"'{_said(move)}' needs a correction that is {where}; this one is {_said(state)}",
        )
    return rule.to


def open_moves(state: CorrectionState, *, role: str, is_author: bool) -> list[CorrectionMove]:
    """Return the moves that a person can make now."""
    if role != "manager" and not is_author:
        return []
    return [move for move, rule in RULES.items() if rule.by_people and state in rule.origins]


def _said(word: str) -> str:
    return str(word).replace("_", " ")
