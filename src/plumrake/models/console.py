"""What the console asks beside the resources: the start, finding anything, readings in full, trying a policy, saved filters, live news."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import Answer, Edition, Line, Model
from plumrake.models.findings import ReadingFields
from plumrake.models.people import Email

SavedView = Literal["causes", "findings", "fixes", "pages", "pictures", "links"]
WayName = Literal["outline", "heard", "order", "links", "pictures", "colours", "names"]
_Long = Annotated[str, StringConstraints(max_length=2000)]


class Start(Answer):
    """Whether the service is empty: nobody can sign in, and its first person has to be made."""

    empty: bool


class FirstPerson(Model):
    """The first person of an empty service, with the key that it printed when it started."""

    key: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    email: Email
    name: Line
    password: Annotated[str, StringConstraints(min_length=1, max_length=500)]


class FoundThing(Answer):
    """Something found by its words: a page (``key`` is its path), cause (its key), fix, check, or person (number or id)."""

    kind: Literal["page", "cause", "fix", "check", "person"]
    key: str
    title: str
    detail: str


class ReadingInFull(ReadingFields):
    """A page's reading with its sweep and what was found; ``has_ways`` tells whether the ways to look at it are still kept."""

    sweep_id: int
    site: str
    site_name: str
    edition: Edition
    doubtful: int
    elements: int
    untested: list[dict[str, str]]
    has_ways: bool


class Way(Answer):
    """One way to look at a page: its rows, as ``plumrake view --json`` gives them. ``kept`` is false where they are not kept any more."""

    name: WayName
    kept: bool
    rows: list[dict[str, Any]]


class ColourProposal(Answer):
    """A colour that passes, and which side it changes."""

    change: Literal["text", "background"]
    colour: str
    ratio: float


class ColourAdvice(Answer):
    """The contrast of two colours, truncated to two decimals, what is asked for, and the nearest colours that pass."""

    text: str
    background: str
    ratio: float
    required: float
    passes: bool
    proposals: list[ColourProposal]


class PolicyField(Answer):
    """A field of a policy explained; ``value`` is the default."""

    name: str
    title: str
    says: str
    kind: Literal["choice", "choices", "texts", "text", "number", "words", "parameters"]
    choices: list[str]
    value: Any


class PolicyToTry(Model):
    """A policy to try on the newest finished sweep (of an edition)."""

    policy: dict[str, Any]
    edition: Edition | None = None


class PolicyTrial(Answer):
    """What a policy would make of a sweep; ``needs_sweep`` are fields whose effect shows only when the pages are read again."""

    sweep_id: int | None
    pages: int
    ready_before: int
    ready_after: int
    held: list[str]
    freed: list[str]
    needs_sweep: list[str]


class NewFilter(Model):
    """A filter to save: the view that it belongs to, a name, and what stands in the address."""

    view: SavedView
    name: Line
    query: dict[Annotated[str, StringConstraints(max_length=40)], _Long] = Field(max_length=20)


class SavedFilter(Answer):
    """A saved filter."""

    id: int
    view: SavedView
    name: str
    query: dict[str, str]
    created_at: datetime


class NewDecisions(Model):
    """The same decision for several causes of a sweep: a waiver until a day, or (with ``answer``) a judgement of all their doubtful places."""

    causes: list[Annotated[str, StringConstraints(max_length=40)]] = Field(min_length=1, max_length=200)
    sweep: int
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=4000)]
    ends_on: date | None = None
    answer: Literal["fault", "fine"] | None = None


class Decided(Answer):
    """What several decisions came to: the numbers of the waivers or judgements made, and how many findings they touch."""

    waivers: list[int]
    judgements: list[int]


class PictureText(Model):
    """One text for all places of a picture; what is offered becomes the proposal of the fixes of its faults."""

    key: Annotated[str, StringConstraints(max_length=4000)]
    text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=1000)]


class Offered(Answer):
    """The fixes that got a proposal, and the places of the picture in all."""

    fixes: list[int]
    places: int


class News(Answer):
    """Something that changed on a site: fixes that were moved, a sweep's progress, or what oneself was told."""

    kind: Literal["hello", "fixes", "sweep", "notices"]
    fixes: list[int] = Field(default=[])
    sweep: int | None = None
    state: str | None = None
    read: int | None = None
    total: int | None = None
    unread: int | None = None
