"""What goes over the wire: the one definition that service, client library and console share."""

from __future__ import annotations

import re
from datetime import date, datetime
from typing import Annotated, Any, Generic, Literal, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

Role = Literal["manager", "editor", "developer", "reader"]
Edition = Literal["live", "staging"]
Lens = Literal["rendered", "markup"]
WeightName = Literal["barrier", "obstacle", "friction"]
OutcomeName = Literal["failed", "cantTell"]
Scope = Literal["read", "write"]
FixState = Literal["open", "in_hand", "handed_in", "proven", "returned", "waived", "void"]
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
    """What the last finished sweep of an edition found, less what is waived or judged fine.

    Weights count ``failed`` and what was judged a fault; ``doubtful`` counts ``cantTell`` that nobody has answered.
    """

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
    waived: int


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
    waiver_id: int | None
    answer: Literal["fault", "fine"] | None


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
    evidence, up to three places. ``waived`` places are covered by waivers; the fix is that of the sweep's edition.
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
    waived: int
    fix_id: int | None
    fix_state: FixState | None
    fix_owner: str | None


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


FixMoveName = Literal["take", "put_back", "assign", "due", "note", "propose", "hand_in", "withdraw"]
Reason = Annotated[str, StringConstraints(strip_whitespace=True, max_length=4000)]
Pattern = Annotated[
    str, _must(r"template|/[^\s#]*|\*", "is no part of a site; write a path in which '*' stands for anything, or 'template'")
]


class OwnerChoice(Model):
    """Who is to answer: a person, a group, or (neither) nobody."""

    person_id: int | None = None
    group_id: int | None = None


class NewFixes(Model):
    """Fixes to make: of causes of a sweep (default: the newest finished one of the edition), or of single findings.

    Without ``owner`` each goes to whoever answers for its pages, what a template prints to the template's owner.
    """

    causes: list[Annotated[str, StringConstraints(max_length=40)]] = Field(default=[], max_length=1000)
    findings: list[int] = Field(default=[], max_length=1000)
    edition: Edition | None = None
    sweep: int | None = None
    owner: OwnerChoice | None = None
    due_on: date | None = None
    why: Reason = ""


class FixMove(Model):
    """A move of a fix: which one, why, and what belongs to it (``owner`` and ``due_on`` of ``assign``, ``proposal`` of ``propose``)."""

    move: FixMoveName
    why: Reason = ""
    owner: OwnerChoice | None = None
    due_on: date | None = None
    proposal: dict[str, Any] | None = None
    links: list[Address] = Field(default=[], max_length=20)


class FixMoves(FixMove):
    """The same move of several fixes."""

    ids: list[int] = Field(min_length=1, max_length=1000)


class Fix(Answer):
    """A fix: the promise to mend a cause, or (with ``place_key``) one place. ``tag`` goes into ``If-Match`` of a move."""

    id: int
    site: str
    edition: Edition
    cause: str
    place_key: str | None
    check: str
    weight: WeightName
    says: str
    region: str
    by_template: bool
    path: str
    places: int
    pages: int
    state: FixState
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
    times_returned: int
    made_by: str | None
    made_at: datetime
    closed_at: datetime | None
    changed_at: datetime
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


class FixPlace(Answer):
    """A place of a fix: whether it was still faulty when it was last read, and its newest finding."""

    path: str
    place_key: str
    there: bool
    finding_id: int | None
    selector: str | None
    says: str | None


class MoveResult(Answer):
    """What became of one fix of a move of several: the fix, or the code and the words of the refusal."""

    id: int
    fix: Fix | None = None
    code: str | None = None
    detail: str | None = None


class DeskPage(Answer):
    """A page with everything that somebody has to mend on it."""

    site: str
    edition: Edition
    path: str
    fixes: list[Fix]


class Desk(Answer):
    """What one person has in front of them, page by page, the pressing ones first."""

    pages: list[DeskPage]
    open: int
    in_hand: int
    returned: int
    handed_in: int
    late: int
    unread_notices: int


class OwnerLoad(Answer):
    """What one owner has, by state; ``median_days`` lie between making a fix and its proof."""

    owner_id: int | None
    group_id: int | None
    owner: str
    open: int
    in_hand: int
    handed_in: int
    returned: int
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

    ``place``: this place · ``page``: this check on this page · ``cause``: wherever this cause occurs · ``check``: this check on the
    part of the site that ``pattern`` says.
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
    """A person's answer to a doubtful finding; ``lapsed_at`` is set once the element or what is around it changed."""

    id: int
    edition: Edition
    path: str
    check: str
    says: str
    answer: Literal["fault", "fine"]
    note: str
    judged_by: str
    judged_at: datetime
    lapsed_at: datetime | None


class Person(Answer):
    """A person; without ``active`` they cannot come in. ``digest`` and ``at_once`` say which letters they get."""

    id: int
    email: str
    name: str
    role: Role
    active: bool
    digest: bool
    at_once: bool


class PersonChange(Model):
    """What is to be different of a person; fields left out stay as they are."""

    name: Line | None = None
    role: Role | None = None
    active: bool | None = None


class Preferences(Model):
    """Which letters one wants: the daily one, and those that are not to wait (mentions, faults that are still there)."""

    digest: bool | None = None
    at_once: bool | None = None


class NewPassword(Model):
    """One's password now and the one that it is to be."""

    current: Annotated[str, StringConstraints(min_length=1, max_length=500)]
    new: Annotated[str, StringConstraints(min_length=10, max_length=500)]


class NewInvitation(Model):
    """Whom to invite, and as what."""

    email: Annotated[str, _Short, _must(r"[^\s@]+@[^\s@]+", "is no e-mail address")]
    name: Line
    role: Role


class Invitation(Answer):
    """An invitation that nobody has taken up; ``secret`` is there once, when it is made."""

    id: int
    email: str
    name: str
    role: Role
    created_at: datetime
    expires_at: datetime
    secret: str | None = None


class Acceptance(Model):
    """An invitation's secret, and the password to come in with."""

    secret: Annotated[str, StringConstraints(max_length=200)]
    password: Annotated[str, StringConstraints(min_length=10, max_length=500)]


class NewGroup(Model):
    """A group of people."""

    name: Line
    members: list[int] = Field(default=[], max_length=1000)


class Members(Model):
    """Who is in a group, by number."""

    members: list[int] = Field(max_length=1000)


class Group(Answer):
    """A group with the numbers of its people."""

    id: int
    name: str
    members: list[int]


class PartChoice(Model):
    """A part of a site (a path in which ``*`` stands for anything, or ``template``) and who is to answer for it."""

    pattern: Pattern
    owner: OwnerChoice


class Part(Answer):
    """A part of a site and who answers for it; the most specific pattern wins."""

    pattern: str
    owner_id: int | None
    group_id: int | None
    owner: str


class Feed(Answer):
    """The address of one's desk as an Atom feed; whoever knows it can read it."""

    address: str


class Notice(Answer):
    """Something that one is told about a fix."""

    id: int
    kind: str
    fix_id: int
    at: datetime
    read_at: datetime | None
    says: str
    path: str
    pages: int
    state: FixState
    due_on: date | None
    site: str
    by: str | None
    why: str | None


class SeenUpTo(Model):
    """The newest notice that was seen."""

    id: int


class NewWebhook(Model):
    """An address that wants to hear of a site's events; without ``kinds``, of all of them."""

    address: Address
    kinds: list[Annotated[str, StringConstraints(max_length=40)]] = Field(default=[], max_length=20)


class Webhook(Answer):
    """A webhook; ``secret`` (for checking signatures by the Standard Webhooks specification) is there once, when it is made."""

    id: int
    address: str
    kinds: list[str]
    made_at: datetime
    secret: str | None = None


class Delivery(Answer):
    """An event for a webhook: how often it was tried, the last answer, when it is tried next."""

    id: int
    webhook_id: int
    address: str
    message_id: str
    kind: str
    made_at: datetime
    attempts: int
    next_at: datetime
    delivered_at: datetime | None
    given_up_at: datetime | None
    status: int | None
    problem: str | None


class CaughtLetter(Answer):
    """A letter that was caught and not sent on."""

    key: str
    to: str
    subject: str
    at: datetime
    text: str
