"""The gate: questions, clearances, releases, trials of its rules."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import Answer, GateTable, Lens, Line, Model, Path
from plumrake.models.findings import FindingFields, OwnHelp

DecisionName = Literal["clear", "clear with waivers", "held"]
OriginName = Literal["brought", "before"]
GateStandingName = Literal[
    "holds",
    "too light",
    "was there before",
    "waived",
    "doubtful",
    "judged fine",
    "in grace",
    "not begun",
]
_Html = Annotated[str, StringConstraints(max_length=11_000_000)]
Hash = Annotated[str, StringConstraints(pattern=r"^sha256:[0-9a-f]{64}$")]


class ActedFor(Model):
    """Who a program acts for, as its own system knows them; needs a token with the scope
    ``gate``."""

    name: Line
    email: Annotated[str, StringConstraints(max_length=320)] = ""


class NewQuestion(Model):
    """A page that is to be published, by its path: as a whole ``document``, as a ``fragment`` set
    into ``slot`` of the page ``frame``, at a preview ``address``, or (none of them) as it stands in
    staging. A content system may name its ``item`` and the ``version`` of it: what was read of it
    lately is not read again. ``wait`` is how many seconds the answer is waited for.
    """

    path: Path
    lens: Lens = "rendered"
    document: _Html | None = None
    fragment: _Html | None = None
    frame: Path | None = None
    slot: Annotated[str, StringConstraints(max_length=500)] | None = None
    address: Annotated[str, StringConstraints(max_length=2000)] | None = None
    item: Annotated[str, StringConstraints(max_length=200)] | None = None
    version: Annotated[str, StringConstraints(max_length=200)] | None = None
    asked_for: ActedFor | None = None
    wait: float = Field(default=20, ge=0, le=60)


class JudgedFinding(FindingFields):
    """A finding at the gate: whether the publication brings it, and what becomes of it."""

    origin: OriginName
    standing: GateStandingName
    waiver: int | None
    own_help: OwnHelp | None = None


class Clearance(Answer):
    """The answer of the gate about one content, known by its hash. ``seal`` is there where one may
    publish on it; it is used once.

    ``live_count`` is how many findings the live page has. ``overruled_*`` say who published against
    the answer, and why. ``lens``, ``policy_version`` and ``core_version`` are what it was read and
    judged by.
    """

    id: int
    site: str
    site_name: str
    release_id: int | None
    path: str
    given_as: Literal["address", "document", "fragment", "staging"]
    address: str
    lens: Lens
    content_hash: str | None
    state: Literal["waiting", "answered"]
    decision: DecisionName | None
    reason: str
    title: str
    problem_code: str | None
    judged: list[JudgedFinding]
    live_count: int
    untested: list[dict[str, str]]
    picture: str | None
    seconds: float | None
    asked_by: str
    asked_at: datetime
    answered_at: datetime | None
    valid_until: datetime | None
    overruled_by: str | None
    overruled_at: datetime | None
    overruled_why: str | None
    used_at: datetime | None
    policy_version: str = ""
    core_version: str = ""
    item: str | None = None
    asked_for: str | None = None
    seal: str | None = None


class GateState(Answer):
    """What holds a publication of a site."""

    site: str
    name: str
    live_address: str
    holds: str
    says: str


class Overruling(Model):
    """Why a held content is published all the same."""

    why: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=4000)]


class ClearanceUse(Model):
    """What is about to be published on a clearance: the page, the hash of its content, and the
    clearance's seal."""

    path: Path
    content_hash: Hash
    seal: Annotated[str, StringConstraints(max_length=200)]


class Published(Model):
    """A page of the live site that was just published."""

    path: Path


class NewRelease(Model):
    """Pages of staging that are published together: given ones, or all below a section."""

    name: Line
    paths: list[Path] = Field(default=[], max_length=2_000)
    section: Path | None = None
    lens: Lens = "rendered"


class ReleasePage(Answer):
    """A page of a release with its answer: what it brings, what it mends, what was there before."""

    clearance: int
    path: str
    state: Literal["waiting", "answered"]
    decision: DecisionName | None
    reason: str
    brought: int
    before: int
    mended: int
    holding: int


class ReleaseSection(Answer):
    """A section of a release with its sums."""

    section: str
    pages: int
    held: int
    brought: int
    mended: int


class Release(Answer):
    """What a release would bring and mend, in all, per section and per page; one held page holds
    it."""

    id: int
    site: str
    name: str
    asked_by: str
    asked_at: datetime
    answered_at: datetime | None
    decision: DecisionName | None
    waiting: int
    held: int
    brought: int
    mended: int
    before: int
    sections: list[ReleaseSection]
    pages: list[ReleasePage]


class GateToTry(Model):
    """Rules of the gate to try on what was asked in the last days."""

    gate: GateTable
    days: int = Field(default=30, ge=1, le=365)


class GateTrial(Answer):
    """What other rules would have answered: of so many publications so many were held, and would
    have been."""

    days: int
    publications: int
    held_before: int
    held_after: int
    newly_held: list[Clearance]
    newly_clear: list[Clearance]
