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


class NewSite(Model):
    """A site to register."""

    slug: Slug
    name: Line
    live_address: Address
    staging_address: Address | None = None
    found_by: Literal["sitemap", "list"] = "sitemap"
    listed_paths: list[Path] = Field(default=[], max_length=100_000)
    private_leave: bool = False


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
    """A registered site with the figures of each edition's last finished sweep."""

    slug: str
    name: str
    live_address: str
    staging_address: str | None
    found_by: Literal["sitemap", "list"]
    private_leave: bool
    created_at: datetime
    figures: list[Figures] = []


class NewSweep(Model):
    """A sweep to start."""

    edition: Edition = "live"
    lens: Lens = "rendered"
    section: Path = "/"


class Sweep(Answer):
    """A sweep and how far it is."""

    id: int
    site: str
    edition: Edition
    lens: Lens
    section: str
    state: Literal["queued", "running", "done", "failed"]
    problem: str | None
    total: int
    read: int
    unreadable: int
    ready: int
    created_at: datetime
    started_at: datetime | None
    finished_at: datetime | None


class Progress(Answer):
    """One event of a sweep's progress; ``id`` resumes the stream."""

    id: int
    kind: Literal["queued", "planned", "progress", "done", "failed"]
    total: int = 0
    read: int = 0
    unreadable: int = 0
    ready: int = 0
    problem: str | None = None


class Reading(Answer):
    """A page's reading in a sweep."""

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


class FindingInFull(Finding):
    """A finding with its site, its page's picture and how far its cause reaches in the same sweep."""

    site: str
    site_name: str
    edition: Edition
    picture: str | None
    read_at: datetime
    same_cause_places: int
    same_cause_pages: int


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
