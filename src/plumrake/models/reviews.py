"""Reviews: what people are asked, on which pages, and what they answer."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import Answer, Environment, Model, StatePath, WeightName

AnswerName = Literal["fine", "fault", "does-not-apply"]
QuestionState = Literal["open", "answered", "lapsed"]
QuestionKey = Annotated[str, StringConstraints(max_length=60, pattern=r"^[a-z0-9-]+$")]
EvidenceKey = Annotated[str, StringConstraints(max_length=64)]
_Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=4000)]


class QuestionHelp(Answer):
    """A question for people: what it asks, of a page or of the site, why it matters, which answer
    means what, the criteria it tells about, the kind of evidence beside it, and when an answer
    lapses."""

    key: str
    asks: str
    about: Literal["page", "site"]
    criteria: list[str]
    evidence: str
    lapses: Literal["change", "half-year", "year"]
    why: str
    fine: str
    fault: str
    does_not_apply: str


class ReviewPage(Answer):
    """A page that people are asked about, with the reasons that it was proposed for; ``chosen`` is
    what a person decided of it. ``answered`` of ``questions`` hold, ``lapsed`` have to be answered
    again."""

    path: str
    title: str
    because: list[str]
    chosen: bool | None
    asked: bool
    questions: int
    answered: int
    lapsed: int


class QuestionCount(Answer):
    """How far a question is: on how many pages it is asked (once for the site), answered, lapsed,
    and how many faults people saw."""

    key: str
    asks: str
    about: Literal["page", "site"]
    asked: int
    answered: int
    lapsed: int
    faults: int


class Review(Answer):
    """How far the review of an environment is; ``sweep`` is the newest of all its pages, None
    before there is one."""

    environment: Environment
    sweep: int | None
    asked: int
    answered: int
    lapsed: int
    faults: int
    pages: list[ReviewPage]
    questions: list[QuestionCount]


class FaultSeen(Model):
    """What is wrong: how heavy, in words, and which row of the evidence shows it (from 0; without,
    the page as a whole)."""

    says: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=1000)]
    weight: WeightName = "obstacle"
    row: Annotated[int, Field(ge=0, lt=400)] | None = None


class NewReviewAnswer(Model):
    """An answer to a question about a page, or about the site (without a path). ``shown_key`` is
    that of the evidence it was given on; ``instead_of`` the number of the answer that it
    replaces."""

    environment: Environment = "live"
    path: StatePath | None = None
    question: QuestionKey
    answer: AnswerName
    note: _Note = ""
    faults: Annotated[list[FaultSeen], Field(max_length=50)] = Field(default_factory=list)
    shown_key: EvidenceKey
    instead_of: int | None = None


class FaultNoted(Answer):
    """What is wrong by an answer, with the row of evidence that shows it."""

    weight: WeightName
    says: str
    place: dict[str, Any]


class ReviewAnswer(Answer):
    """What somebody answered, when, and on what; lapsed where the page has something else to show
    since, ended where it was taken back or answered anew."""

    id: int
    environment: Environment
    path: str | None
    question: str
    answer: AnswerName
    note: str
    faults: list[FaultNoted]
    shown_key: str
    answered_by: str
    answered_at: datetime
    lapsed_at: datetime | None
    ended_at: datetime | None
    ended_by: str | None


class WhatChanged(Answer):
    """What the evidence has more than when it was answered on, and less; of much the first."""

    more: list[str]
    less: list[str]


class AskedQuestion(Answer):
    """A question as it is put: about which page (its path, title and reading; none for the site),
    how it stands, what there is to see, and what changed since the last answer.

    ``held_by`` is who else is looking at it just now.
    """

    question: QuestionHelp
    path: str | None
    title: str
    reading: int | None
    state: QuestionState
    shown_key: str
    rows: list[dict[str, Any]]
    last: ReviewAnswer | None
    changed: WhatChanged | None
    held_by: str | None


class NextQuestion(Answer):
    """The next question that waits for an answer, if any does, and how many there are."""

    asked: AskedQuestion | None
    left: int


class WantedQuestion(Model):
    """Which question is wanted next: of one page, one question on all pages, the one behind
    another."""

    environment: Environment = "live"
    path: StatePath | None = None
    question: QuestionKey | None = None
    behind_path: StatePath | None = None
    behind: QuestionKey | None = None


class ChosenPage(Model):
    """A page to take into the review (true), to leave out (false), or to leave as it is proposed
    (null)."""

    environment: Environment = "live"
    path: StatePath
    chosen: bool | None
