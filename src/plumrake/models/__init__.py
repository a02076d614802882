"""What goes over the wire: the one definition that service, client library and console share."""

from __future__ import annotations

import re
from datetime import datetime
from typing import Annotated, Any, Generic, Literal, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

Role = Literal["manager", "editor", "developer", "reader"]
Edition = Literal["live", "staging"]
Lens = Literal["rendered", "markup"]
WeightName = Literal["barrier", "obstacle", "friction"]
OutcomeName = Literal["failed", "cantTell"]
Scope = Literal["read", "write"]
Line = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]


def _must(pattern: str, says: str) -> AfterValidator:
    """Return a validator that refuses with a plain sentence what does not match ``pattern``."""

    def check(value: str) -> str:
        if not re.fullmatch(pattern, value):
            raise ValueError(f"'{value[:80]}' {says}")
        return value

    return AfterValidator(check)


_Short = StringConstraints(strip_whitespace=True, max_length=500)
Address = Annotated[
    str, _Short, _must(r"https?://[^\s/?#]+(/[^\s?#]*)?", "is no web address; write it as https://host/ without '?' and '#'")
]
Path = Annotated[str, StringConstraints(max_length=2000), _must(r"/[^\s#]*", "is no path; begin it with '/'")]
Slug = Annotated[str, _must(r"[a-z0-9][a-z0-9-]{0,60}", "is no short name; use small letters, digits and hyphens")]

Item = TypeVar("Item")


class Model(BaseModel):
    """The base of all: unknown fields are refused, rows of records are taken as they are."""

    model_config = ConfigDict(extra="forbid", from_attributes=True)


class Answer(BaseModel):
    """The base of what the service answers: a client of an older version ignores what it does not know."""

    model_config = ConfigDict(from_attributes=True)


class SignIn(Model):
    """An e-mail address and a password."""

    email: Line
    password: Annotated[str, StringConstraints(min_length=1, max_length=500)]


class Me(Answer):
    """Who is signed in; ``csrf_token`` goes into ``X-CSRF-Token`` of writes by cookie."""

    id: int
    email: str
    name: str
    role: Role
    csrf_token: str | None = None


class NewToken(Model):
    """What a token is called and what it may do."""

    name: Line
    scopes: list[Scope] = Field(default=["read"], min_length=1)


class Token(Answer):
    """A token for programs; ``secret`` is there once, when it is made."""

    id: int
    name: str
    scopes: list[Scope]
    created_at: datetime
    last_used_at: datetime | None
    secret: str | None = None


FoundBy = Literal["sitemap", "crawl", "both", "list", "archive"]
Schedule = Annotated[str, StringConstraints(strip_whitespace=True, max_length=100)]


class SiteSettings(Model):
    """How a site is read: ways to find its pages, bounds, manners towards its host, schedule (cron pattern in UTC), policy.

    ``both`` crawls from the pages of the sitemap on; ``pause_ms`` lies between two requests, ``at_once`` are under way.
    """

    name: Line
    live_address: Address
    staging_address: Address | None = None
    found_by: FoundBy = "sitemap"
    listed_paths: list[Path] = Field(default=[], max_length=100_000)
    private_leave: bool = False
    most_pages: int = Field(default=20_000, ge=1, le=200_000)
    crawl_depth: int = Field(default=20, ge=0, le=100)
    at_once: int = Field(default=4, ge=1, le=32)
    pause_ms: int = Field(default=0, ge=0, le=60_000)
    schedule: Schedule | None = None
    schedule_edition: Edition = "live"
    policy: dict[str, Any] = Field(default={}, description="The fields of plumrake.toml.")
    journeys: list[dict[str, Any]] = Field(
        default=[], max_length=50, description="States of pages that show only after steps; docs/journeys.md."
    )


class NewSite(SiteSettings):
    """A site to register."""

    slug: Slug


class SiteChange(Model):
    """What is to be different of a site; fields left out stay as they are."""

    name: Line | None = None
    live_address: Address | None = None
    staging_address: Address | None = None
    found_by: FoundBy | None = None
    listed_paths: list[Path] | None = Field(default=None, max_length=100_000)
    private_leave: bool | None = None
    most_pages: int | None = Field(default=None, ge=1, le=200_000)
    crawl_depth: int | None = Field(default=None, ge=0, le=100)
    at_once: int | None = Field(default=None, ge=1, le=32)
    pause_ms: int | None = Field(default=None, ge=0, le=60_000)
    schedule: Schedule | None = None
    schedule_edition: Edition | None = None
    policy: dict[str, Any] | None = None
    journeys: list[dict[str, Any]] | None = Field(default=None, max_length=50)


class Figures(Answer):
    """What the last finished sweep of an edition found; weights count ``failed``, ``doubtful`` counts ``cantTell``."""

    edition: Edition
    sweep_id: int
    finished_at: datetime
    pages: int
    ready: int
    unreadable: int
    barriers: int
    obstacles: int
    frictions: int
    doubtful: int


class Site(Answer):
    """A registered site with the figures of each edition's last finished sweep; ``tag`` goes into ``If-Match`` of a change."""

    slug: str
    name: str
    live_address: str
    staging_address: str | None
    found_by: FoundBy
    private_leave: bool
    most_pages: int
    crawl_depth: int
    at_once: int
    pause_ms: int
    schedule: str | None
    schedule_edition: Edition
    policy: dict[str, Any]
    journeys: list[dict[str, Any]]
    created_at: datetime
    tag: str
    figures: list[Figures] = []


class NewSweep(Model):
    """A sweep to start: of all pages, of those below a section, or of given ``paths``.

    Pages that are as they were keep their findings without a browser; ``fresh`` reads them all the same. ``changed`` does not
    even ask for pages that their sitemap says are unchanged.
    """

    edition: Edition = "live"
    lens: Lens = "rendered"
    section: Path = "/"
    changed: bool = False
    fresh: bool = False
    paths: list[Path] = Field(default=[], max_length=10_000)


class Sweep(Answer):
    """A sweep and how far it is.

    ``kept`` are pages that were as before, counted in ``read``; ``found`` are faults so far by weight; ``base_id`` is the
    sweep that changes are told against; ``rate`` is in pages/s.
    """

    id: int
    site: str
    edition: Edition
    lens: Lens
    section: str
    scope: Literal["all", "changed", "given"]
    fresh: bool
    state: Literal["queued", "running", "stopped", "done", "failed"]
    problem: str | None
    base_id: int | None
    total: int
    read: int
    unreadable: int
    ready: int
    kept: int
    found: dict[str, int]
    rate: float = 0.0
    seconds_left: int | None = None
    created_at: datetime
    started_at: datetime | None
    finished_at: datetime | None


class Progress(Answer):
    """One event of a sweep's progress; ``id`` resumes the stream."""

    id: int
    kind: Literal["queued", "planned", "progress", "stopped", "done", "failed"]
    total: int = 0
    read: int = 0
    unreadable: int = 0
    ready: int = 0
    kept: int = 0
    found: dict[str, int] = {}
    rate: float = 0.0
    seconds_left: int | None = None
    latest: str | None = None
    problem: str | None = None


class Reading(Answer):
    """A page's reading in a sweep; ``kept`` where the page was as before, ``left_out`` counts findings in left-out regions."""

    id: int
    path: str
    address: str
    lens: Lens
    status: Literal["read", "unreadable"]
    problem_code: str | None
    problem_says: str | None
    title: str
    language: str
    content_hash: str | None
    ready: bool
    failed: int
    kept: bool
    left_out: int
    found_by: str
    linked_from: str | None
    picture: str | None
    seconds: float
    read_at: datetime


class Finding(Answer):
    """A finding as listed; the fields are those of ``look --as json`` with the page's path, address and title.

    ``ordinal`` is its place in the sweep: by page, then by place on the page.
    """

    id: int
    ordinal: int
    sweep_id: int
    path: str
    address: str
    title: str
    check: str
    outcome: OutcomeName
    weight: WeightName
    criteria: list[str]
    says: str
    question: str | None
    selector: str
    line: int | None
    column: int | None
    box: list[int] | None
    visible: bool
    nearest_visible: str | None
    nearest_box: list[int] | None
    excerpt: str
    facts: dict[str, Any]
    mends: list[dict[str, str]]
    place_key: str
    cause_key: str
    region: str
    cause: str


class FindingInFull(Finding):
    """A finding with its site, its page's picture and how far its cause reaches in the same sweep."""

    site: str
    site_name: str
    edition: Edition
    picture: str | None
    read_at: datetime
    same_cause_places: int
    same_cause_pages: int


class Cause(Answer):
    """What many findings of a sweep have in common; the fields of a finding are those of ``best``, the place that shows it best.

    ``by_template`` tells that a template prints it: nearly all elements of the same build have it. ``pictures`` are hashes of
    evidence, up to three places.
    """

    key: str
    position: int
    sweep_id: int
    check: str
    outcome: OutcomeName
    weight: WeightName
    region: str
    by_template: bool
    places: int
    pages: int
    best: int
    first_sweep: int
    first_seen_at: datetime
    says: str
    question: str | None
    selector: str
    excerpt: str
    criteria: list[str]
    mends: list[dict[str, str]]
    path: str
    address: str
    title: str
    pictures: list[str]


ChangeKind = Literal["new", "still", "gone", "returned"]


class ChangeFigure(Answer):
    """How many findings of a weight are of a kind of change; ``doubtful`` are those that a person has to look at."""

    kind: ChangeKind
    weight: Literal["barrier", "obstacle", "friction", "doubtful"]
    count: int


class PageChange(Answer):
    """A page that one of two sweeps has and the other has not, or that only one could read."""

    path: str
    kind: Literal["appeared", "vanished", "readable", "unreadable"]


class CauseChange(Answer):
    """A cause of one of two sweeps alone, or with another number of places."""

    key: str
    check: str
    weight: WeightName
    says: str
    places_before: int
    places_now: int
    pages_before: int
    pages_now: int
    kind: Literal["new", "gone", "wider", "narrower"]


class Changes(Answer):
    """What changed from one sweep to another."""

    sweep_id: int
    base_id: int
    figures: list[ChangeFigure]
    pages: list[PageChange]
    causes: list[CauseChange]


class Section(Answer):
    """A step of the site's tree of addresses with its figures; a section's path ends with ``/``."""

    path: str
    pages: int
    ready: int
    unreadable: int
    barriers: int
    obstacles: int
    frictions: int
    has_more: bool


class PictureFile(Answer):
    """A picture by its file: uses, the texts in use; ``contradictory`` where they differ (an ornament in one place may well have a text in another)."""

    key: str
    file: str
    source: str
    uses: int
    pages: int
    as_ornament: int
    without_text: int
    texts: list[str]
    first_path: str
    contradictory: bool


class PictureUse(Answer):
    """One use of a picture with the text it has there."""

    path: str
    selector: str
    text: str
    ornament: bool


class ColourPair(Answer):
    """A pair of text and background colour; ``passes`` where all its uses reach what AA asks at their size."""

    text: str
    background: str
    ratio: float
    required: float
    passes: bool
    uses: int
    pages: int
    first_path: str


class LinkText(Answer):
    """Links of one text to one target as written."""

    text: str
    target: str
    uses: int
    pages: int
    first_path: str


class TitleShared(Answer):
    """A title, how many pages have it, and up to ten of them."""

    title: str
    pages: int
    paths: list[str]


class Listing(Answer, Generic[Item]):
    """One page of a listing; ``next`` is the address of the following one. ``total`` where it is cheap to count."""

    items: list[Item]
    next: str | None = None
    total: int | None = None


class CheckHelp(Answer):
    """A check of the catalogue with its help page; ``sections`` are text with indented examples."""

    id: str
    title: str
    weight: WeightName
    criteria: list[str]
    needs: list[str]
    act_rule: str | None
    parameters: dict[str, Any]
    summary: str
    sections: dict[str, str]


class ProblemDetails(Answer):
    """An error (RFC 9457) with a stable ``code``."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    instance: str | None = None
    errors: list[dict[str, str]] | None = None
