"""Corrections of the sources that pages are made from, and where those are."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from plumrake.models.base import Answer, Environment, Lens, Model, Reason, must

CorrectionState = Literal[
    "waiting", "refused", "drafted", "written", "proven", "conflict", "taken_back"
]
CorrectionMoveName = Literal["take_back", "draft_again"]
ConnectionKind = Literal["folder", "git", "stand-in", "wordpress"]
_Word = Annotated[str, StringConstraints(max_length=200)]
_Long = Annotated[str, StringConstraints(max_length=10_000)]


class MendChoice(Model):
    """A mend as findings propose it (``mends``), with what a person wrote or chose in it."""

    kind: _Word
    says: _Long = ""
    attribute: _Word | None = None
    value: _Long | None = None
    to: _Word | None = None
    property: _Word | None = None
    where: _Word | None = None
    target: _Word | None = None
    sure: _Word | None = None


class NewCorrection(Model):
    """A mend to draft for a finding: at its place alone, or at all places of the sweep that have
    its cause (``everywhere``) but for some (``but``, findings).

    ``insist`` takes what the mend brings beside; ``as_references`` writes what the source's
    encoding lacks as character references. ``description`` is the describer's answer that the text
    was taken from, changed or not. ``wait`` seconds for the draft.
    """

    finding: int
    mend: MendChoice
    why: Reason = ""
    everywhere: bool = False
    but: list[int] = Field(default=[], max_length=2000)
    insist: bool = False
    as_references: bool = False
    description: int | None = None
    wait: float = Field(default=0, ge=0, le=25)


class CorrectionMove(Model):
    """Taking a correction back, or drafting it again, with why; ``insist`` and ``as_references``
    as for a new one."""

    move: CorrectionMoveName
    why: Reason = ""
    insist: bool | None = None
    as_references: bool | None = None


class Correction(Answer):
    """A change of a page's source for a finding, and how far it is. ``problem`` is why it is no
    further; ``mends_too`` how many other findings go with it. Boxes are x, y, width, height in CSS
    px of the pictures. ``by_program``: its text came from the describer; ``changed_by_person``: a
    person changed it."""

    id: int
    site: str
    environment: Environment
    path: str
    finding_id: int | None
    check: str
    cause: str
    lens: Lens
    fault: str
    mend: dict[str, str]
    says: str
    why: str
    state: CorrectionState
    problem: str
    may_insist: bool
    may_reference: bool
    insist: bool
    mends_too: int
    picture_before: str | None
    picture_after: str | None
    box_before: list[int] | None
    box_after: list[int] | None
    written_at: datetime | None
    by_id: int
    made_by: str
    made_at: datetime
    changed_at: datetime
    by_program: bool
    changed_by_person: bool


class CorrectionEvent(Answer):
    """A move of a correction: who made it, from which state to which, and why."""

    id: int
    move: str
    before: str
    after: str
    by: str | None
    actor: str
    why: str
    at: datetime


class CorrectionInFull(Correction):
    """A correction with what it changes, its history, and what one can do with it now. ``diff`` is
    a unified diff of the source."""

    diff: str
    events: list[CorrectionEvent]
    moves: list[CorrectionMoveName]


class CorrectionsMade(Answer):
    """What asking for corrections gave: the first of them, and the numbers of all."""

    first: Correction
    ids: list[int]


class WriteCorrections(Model):
    """Which drafts are to be written: by number, of a page, of a cause, or all of one's own
    (``mine``)."""

    ids: list[int] | None = Field(default=None, max_length=5000)
    environment: Environment | None = None
    path: str | None = Field(default=None, max_length=2000)
    cause: str | None = Field(default=None, max_length=40)
    mine: bool = False


class CorrectionsToWrite(Answer):
    """The numbers of the corrections that are being written."""

    ids: list[int]


class NewConnection(Model):
    """Where the sources of an environment of a site are: a ``folder`` on the service's machine; a
    git ``repository`` there or at an https address (with ``user`` and ``secret``), a ``branch`` of
    it (default: main), the pages ``within`` a folder of that; the ``address`` of a WordPress with
    the ``user`` that Plum Rake signs in as and an application password as ``secret``; or that of
    the demo's stand-in CMS with its ``secret``."""

    kind: ConnectionKind
    folder: str | None = Field(default=None, max_length=1000)
    repository: str | None = Field(default=None, max_length=1000)
    branch: Annotated[str, must(r"[\w][\w./-]*", "is no name of a branch")] | None = None
    within: str | None = Field(default=None, max_length=500)
    address: str | None = Field(default=None, max_length=500)
    user: str | None = Field(default=None, max_length=200)
    secret: str | None = Field(default=None, max_length=500)


class SourceConnection(Answer):
    """Where the sources of an environment of a site are. ``works`` says what was tried and
    works, ``problem`` what does not. The secret is never shown."""

    environment: Environment
    kind: ConnectionKind
    settings: dict[str, Any]
    has_secret: bool
    made_by: str | None
    made_at: datetime
    works: list[str] = Field(default=[])
    problem: str | None = None


class PlaceAlike(Answer):
    """A place that has the same cause as another: its finding, page and markup."""

    id: int
    path: str
    says: str
    excerpt: str
    selector: str


class MarkupToTry(Model):
    """What to try in the place of a finding's element: other ``markup``, or a ``mend``."""

    markup: Annotated[str, StringConstraints(max_length=20_000)] | None = None
    mend: MendChoice | None = None


class Markup(Answer):
    """How an element is written in its page's source."""

    markup: str


class TriedMarkup(Answer):
    """How an element is met with other ``markup``: its role and name with the steps that led to
    it, the lines that are heard of it, what of the finding is ``left``, and the findings of the
    page that went and came by it. Nothing is kept."""

    role: str
    name: str
    exposed: bool
    trace: list[dict[str, Any]]
    heard: list[str]
    markup: str
    left: list[str]
    gone: list[str]
    brought: list[str]


class ProposedText(Answer):
    """A text that a picture might get, and where it comes from."""

    text: str
    comes_from: str


class NewLibraryText(Model):
    """A text for a picture of the media library."""

    text: Annotated[str, Field(min_length=1, max_length=1000)]


class LibraryText(Answer):
    """A text that was written into the media library of a site's content system: for which picture
    (the address of its file), what was there before, by whom, whether it was taken back."""

    id: int
    site: str
    environment: Environment
    finding_id: int | None
    picture: str
    before: str
    after: str
    by: str | None
    written_at: datetime
    taken_back_at: datetime | None


class ProposedTexts(Answer):
    """Texts that the picture of a finding might get, the likeliest first. ``state`` is ``waiting``
    while the page is looked through. ``describer``: a program may be asked for one. ``library``:
    one may be written into the media library, ``written`` is the one that was."""

    state: Literal["waiting", "ready"]
    items: list[ProposedText]
    problem: str
    describer: bool
    library: bool
    written: LibraryText | None


class Description(Answer):
    """What the organisation's describer was told of a picture (beside the picture itself), for
    whom, and what it answered: a proposal, written by a program."""

    id: int
    finding_id: int | None
    picture_hash: str
    picture_bytes: int
    told: dict[str, Any]
    state: Literal["waiting", "answered", "failed"]
    text: str
    problem: str
    asked_by: str | None
    asked_at: datetime
    answered_at: datetime | None
