"""What the console asks beside the resources: the start, finding anything, readings in full, trying
a policy, saved filters, live news."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import Answer, ChosenPassword, Environment, Line, Model, PolicyTable
from plumrake.models.findings import ReadingFields
from plumrake.models.people import Email

PolicyTableName = Literal["policy", "gate"]
SavedView = Literal["causes", "findings", "fixes", "pages", "pictures", "links"]
PageViewName = Literal[
    "outline", "heard", "order", "links", "pictures", "colours", "names", "focus"
]
PagePictureKind = Literal["whole", "narrow", "enlarged", "spaced", "focus"]
_Long = Annotated[str, StringConstraints(max_length=2000)]


class Start(Answer):
    """Whether the service is empty: nobody can sign in, and its first person has to be made; and
    what the organisation's own sign-in is called, if there is one."""

    empty: bool
    single_sign_on: str | None = None


class FirstPerson(Model):
    """The first person of an empty service, with the key that it printed when it started."""

    key: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    email: Email
    name: Line
    password: ChosenPassword


class FoundThing(Answer):
    """Something found by its words: a page (``key`` is its path), cause (its key), fix, check, or
    person (number or id)."""

    kind: Literal["page", "cause", "fix", "check", "person"]
    key: str
    title: str
    detail: str


class ReadingInFull(ReadingFields):
    """A page's reading with its sweep and what was found; ``has_views`` tells whether the views of
    it are still stored."""

    sweep_id: int
    site: str
    site_name: str
    environment: Environment
    doubtful: int
    elements: int
    untested: list[dict[str, str]]
    has_views: bool


class PageView(Answer):
    """One view of a page: its rows, as ``plumrake view --json`` gives them. ``stored`` is false
    where they are not stored any more."""

    name: PageViewName
    stored: bool
    rows: list[dict[str, Any]]


class PagePicture(Answer):
    """A picture of a reading's page in the page's own layout: as it is, 320 CSS px wide, with text
    at 200 %, with wide spacing, with the focus mark of each stop of Tab. ``picture`` is its
    evidence, ``problem`` why there is none; ``has_changed`` tells that the page was not as it was
    read any more when it was drawn."""

    kind: PagePictureKind
    state: Literal["waiting", "ready"]
    picture: str | None = None
    problem: str = ""
    has_changed: bool = False


class ColourProposal(Answer):
    """A colour that passes, and which side it changes."""

    change: Literal["text", "background"]
    colour: str
    ratio: float


class ColourAdvice(Answer):
    """The contrast of two colours, truncated to two decimals, what is asked for, and the nearest
    colours that pass."""

    text: str
    background: str
    ratio: float
    required: float
    passes: bool
    proposals: list[ColourProposal]


class PolicyField(Answer):
    """A field of a policy, or of its rules of the gate, explained; ``value`` is the default."""

    name: str
    title: str
    says: str
    kind: Literal[
        "choice", "choices", "texts", "text", "number", "day", "words", "parameters", "by-check"
    ]
    choices: list[str]
    value: Any


class PolicyToTry(Model):
    """A policy to try on the newest finished sweep (of an environment)."""

    policy: PolicyTable
    environment: Environment | None = None


class PolicyTrial(Answer):
    """What a policy would make of a sweep; ``needs_sweep`` are fields whose effect shows only when
    the pages are read again."""

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
    """The same decision for several causes of a sweep: a waiver until a day, or (with ``answer``) a
    judgement of all their doubtful places."""

    causes: list[Annotated[str, StringConstraints(max_length=40)]] = Field(
        min_length=1, max_length=200
    )
    sweep: int
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=4000)]
    ends_on: date | None = None
    answer: Literal["fault", "fine"] | None = None


class Decided(Answer):
    """What several decisions came to: the numbers of the waivers or judgements made, and how many
    findings they touch."""

    waivers: list[int]
    judgements: list[int]


class PictureText(Model):
    """One text for all places of a picture; what is offered becomes the proposal of the fixes of
    its faults."""

    key: Annotated[str, StringConstraints(max_length=4000)]
    text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=1000)]


class Offered(Answer):
    """The fixes that got a proposal, and the places of the picture in all."""

    fixes: list[int]
    places: int


class LiveEvent(Answer):
    """Something that changed on a site: fixes that were moved, a sweep's progress, or what oneself
    was told."""

    kind: Literal["hello", "fixes", "sweep", "notifications"]
    fixes: list[int] = Field(default=[])
    sweep: int | None = None
    state: str | None = None
    read: int | None = None
    total: int | None = None
    unread: int | None = None


class WayStep(Answer):
    """A step on the way from registering a site to the gate: what is to be done, whether it is
    done, and what is left of it."""

    name: Literal[
        "register",
        "read",
        "hand-out",
        "tell-templates",
        "mend",
        "answer",
        "publish-statement",
        "switch-gate-on",
    ]
    says: str
    is_done: bool
    left: str


class Way(Answer):
    """How far a site is on the way, and whether somebody has put it away."""

    steps: list[WayStep]
    put_away: bool


class WayShown(Model):
    """Whether the way is put away."""

    put_away: bool
