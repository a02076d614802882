"""Fixes, the desk, waivers and judgements."""

from __future__ import annotations

import json
from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, StringConstraints

from plumrake.models.base import (
    Answer,
    Environment,
    FixState,
    Link,
    Model,
    OwnerChoice,
    Pattern,
    Reason,
    WeightName,
)
from plumrake.models.findings import OwnHelp

FixMoveName = Literal["take", "put_back", "assign", "due", "note", "propose", "hand_in", "withdraw"]


def _small(value: dict[str, Any]) -> dict[str, Any]:
    """Refuse a proposal that is longer than any mend."""
    if len(json.dumps(value)) > _LONGEST_PROPOSAL:
        raise ValueError(f"is longer than {_LONGEST_PROPOSAL:,} characters")
    return value


_LONGEST_PROPOSAL = 20_000
Proposal = Annotated[dict[str, Any], AfterValidator(_small)]


class NewFixes(Model):
    """Fixes to make: of causes of a sweep (default: the newest finished one of the environment), or
    of single findings.

    Without ``owner`` each goes to whoever answers for its pages, what a template prints to the
    template's owner.
    """

    causes: list[Annotated[str, StringConstraints(max_length=40)]] = Field(
        default=[], max_length=1000
    )
    findings: list[int] = Field(default=[], max_length=1000)
    environment: Environment | None = None
    sweep: int | None = None
    owner: OwnerChoice | None = None
    due_on: date | None = None
    why: Reason = ""


class FixMove(Model):
    """A move of a fix: which one, why, and what belongs to it (``owner`` and ``due_on`` of
    ``assign``, ``proposal`` of ``propose``)."""

    move: FixMoveName
    why: Reason = ""
    owner: OwnerChoice | None = None
    due_on: date | None = None
    proposal: Proposal | None = None
    links: list[Link] = Field(default=[], max_length=20)


class FixMoves(FixMove):
    """The same move of several fixes."""

    ids: list[int] = Field(min_length=1, max_length=1000)


class Fix(Answer):
    """A fix: the promise to mend a cause, or (with ``place_key``) one place. ``tag`` goes into
    ``If-Match`` of a move."""

    id: int
    site: str
    environment: Environment
    cause: str
    place_key: str | None
    check: str
    weight: WeightName
    says: str
    zone: str
    by_template: bool
    path: str
    places: int
    pages: int
    state: FixState
    reopened_after: FixState | None = None
    owner_id: int | None
    owner: str | None
    group_id: int | None
    group: str | None
    due_on: date | None
    late: bool
    proposal: dict[str, Any] | None
    links: list[str]
    finding_id: int | None
    proof_sweep: int | None
    times_reopened: int
    made_by: str | None
    made_at: datetime
    closed_at: datetime | None
    changed_at: datetime
    edit: str | None = None
    where: str = ""
    in_editor: str = ""
    tag: str


class FixEvent(Answer):
    """A move with who made it: a person (``by``), or ``reading`` or ``clock`` as ``actor``."""

    id: int
    fix_id: int
    move: str
    before: str
    after: str
    by_id: int | None
    by: str | None
    actor: str
    why: str
    data: dict[str, Any]
    at: datetime


class SiteEvent(FixEvent):
    """A move with the fix that it belongs to."""

    says: str
    path: str


class FixInFull(Fix):
    """A fix with its history, the oldest first, and the moves that the caller can make now."""

    events: list[FixEvent]
    moves: list[str]
    own_help: OwnHelp | None = None


class FixPlace(Answer):
    """A place of a fix: whether it was still faulty when it was last read, and its newest
    finding."""

    path: str
    place_key: str
    there: bool
    finding_id: int | None
    selector: str | None
    says: str | None


class MoveResult(Answer):
    """What became of one fix of a move of several: the fix, or the code and the words of the
    refusal."""

    id: int
    fix: Fix | None = None
    code: str | None = None
    detail: str | None = None


class DeskPage(Answer):
    """A page with everything that somebody has to mend on it."""

    site: str
    environment: Environment
    path: str
    fixes: list[Fix]


class CorrectionsBack(Answer):
    """How many corrections that somebody made on a site are in conflict, and theirs again."""

    site: str
    corrections: int


class Desk(Answer):
    """What one person has in front of them, page by page, the pressing ones first."""

    pages: list[DeskPage]
    open: int
    in_hand: int
    reopened: int
    handed_in: int
    late: int
    unread_notifications: int
    came_back: list[CorrectionsBack] = Field(default=[])


class OwnerLoad(Answer):
    """What one owner has, by state; ``median_days`` lie between making a fix and its proof."""

    owner_id: int | None
    group_id: int | None
    owner: str
    open: int
    in_hand: int
    handed_in: int
    reopened: int
    proven: int
    waived: int
    late: int
    median_days: float | None


class FixFigures(Answer):
    """A site's fixes by state, and by owner."""

    states: dict[str, int]
    owners: list[OwnerLoad]


class NewWaiver(Model):
    """A waiver to grant from a finding.

    ``place``: this place · ``page``: this check on this page · ``cause``: wherever this cause
    occurs · ``check``: this check on the area of the site that ``pattern`` says.
    """

    scope: Literal["place", "page", "cause", "check"]
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=4000)]
    ends_on: date
    pattern: Pattern | None = None


class Waiver(Answer):
    """A waiver; ``covers`` counts findings of the newest sweeps, ``ends_on`` is its last day."""

    id: int
    scope: Literal["place", "page", "cause", "check"]
    check: str
    path: str | None
    cause: str | None
    pattern: str | None
    says: str
    reason: str
    ends_on: date
    granted_by: str
    granted_at: datetime
    ended_at: datetime | None
    ended_by: str | None
    covers: int


class NewJudgement(Model):
    """The answer to a doubtful finding, with a note."""

    answer: Literal["fault", "fine"]
    note: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=4000)]


class Judgement(Answer):
    """A person's answer to a doubtful finding; ``lapsed_at`` is set once the element or what is
    around it changed."""

    id: int
    environment: Environment
    path: str
    check: str
    says: str
    answer: Literal["fault", "fine"]
    note: str
    judged_by: str
    judged_at: datetime
    lapsed_at: datetime | None
