"""Readings, findings, causes, changes, and views over all pages."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from plumrake.models.base import (
    Answer,
    Environment,
    FixState,
    Lens,
    LinkStateName,
    OutcomeName,
    StandingName,
    WeightName,
)
from plumrake.models.item import Item


class ReadingFields(Answer):
    """What is shown of every reading of a page; ``unchanged`` where the page was as before,
    ``left_out`` counts findings in left-out regions."""

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
    unchanged: bool
    left_out: int
    picture: str | None
    seconds: float
    read_at: datetime


class Reading(ReadingFields):
    """A page's reading in a sweep, with how the page was found, what counts on it, and whether the
    policy leaves the page out of what is counted."""

    found_by: str
    linked_from: str | None
    barriers: int
    obstacles: int
    frictions: int
    left_out_page: bool


class OwnHelp(Answer):
    """The organisation's own help for a check: what it says, and where there is more to read."""

    says: str
    link: str | None = None


class FindingFields(Answer):
    """What ``look --as json`` says of a finding."""

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
    excerpt: str
    facts: dict[str, Any]
    mends: list[dict[str, str]]
    place_key: str
    cause_key: str
    block: str = ""
    where: str = ""
    """Where the place is in its item, in its editor's words."""
    in_editor: str = ""
    """What to do there in the editor, in its words."""


class Finding(FindingFields):
    """A finding as listed; the fields are those of ``look --as json`` with the page's path, address
    and title.

    ``ordinal`` is its place in the sweep: by page, then by place on the page.
    """

    id: int
    ordinal: int
    sweep_id: int
    path: str
    address: str
    title: str
    nearest_visible: str | None
    nearest_box: list[int] | None
    zone: str
    cause: str
    waiver_id: int | None
    standing: StandingName
    answer: Literal["fault", "fine"] | None


class FindingInFull(Finding):
    """A finding with its site, its page's picture, how far its cause reaches in the same sweep, and
    the fix of its place or cause."""

    site: str
    site_name: str
    environment: Environment
    picture: str | None
    read_at: datetime
    same_cause_places: int
    same_cause_pages: int
    reading_id: int
    fix_id: int | None
    fix_state: FixState | None
    fix_reopened_after: FixState | None = None
    fix_owner: str | None
    item: Item | None = None
    own_help: OwnHelp | None = None


class Cause(Answer):
    """What many findings of a sweep have in common; the fields of a finding are those of ``best``,
    the place that shows it best.

    ``by_template`` tells that a template prints it: nearly all elements of the same build have it.
    ``pictures`` are hashes of evidence, up to three places. ``waived`` places are covered by
    waivers; the fix is that of the sweep's environment.
    """

    key: str
    position: int
    sweep_id: int
    check: str
    outcome: OutcomeName
    weight: WeightName
    zone: str
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
    fix_reopened_after: FixState | None = None
    fix_owner: str | None


ChangeKind = Literal["new", "still", "gone", "reopened"]


class ChangeFigure(Answer):
    """How many findings of a weight are of a kind of change; ``doubtful`` are those that a person
    has to look at."""

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


class Cut(Answer):
    """Where a picture is seen: the reading whose page was pictured, and the box on it (x, y, width,
    height in CSS px)."""

    reading: int
    box: list[int]


class PictureFile(Answer):
    """A picture by its file: uses, the texts in use; ``contradictory`` where they differ
    (decorative in one place may well have a text in another)."""

    key: str
    file: str
    source: str
    uses: int
    pages: int
    as_decorative: int
    without_text: int
    texts: list[str]
    first_path: str
    cut: Cut | None
    contradictory: bool


class PictureUse(Answer):
    """One use of a picture with the text it has there."""

    path: str
    selector: str
    text: str
    decorative: bool
    cut: Cut | None


class ColourPair(Answer):
    """A pair of text and background colour; ``passes`` where all its uses reach what AA asks at
    their size."""

    text: str
    background: str
    ratio: float
    required: float
    passes: bool
    uses: int
    pages: int
    first_path: str


class LinkText(Answer):
    """Links of one text to one address (that of the site itself without its origin), and how it is
    written first.

    ``state`` is what it was found to lead to when it was asked last, with the reason, the HTTP
    status and the redirects; None before that.
    """

    text: str
    target: str
    address: str
    uses: int
    pages: int
    first_path: str
    state: LinkStateName | None
    says: str | None
    status: int | None
    chain: list[str] | None
    asked_at: datetime | None


class LinkCheck(Answer):
    """The last time that a site's links were followed: of how many addresses how many were asked;
    how many lead to what."""

    sweep_id: int
    total: int
    asked: int
    begun_at: datetime
    ended_at: datetime | None
    asked_by: str | None
    states: dict[LinkStateName, int] | None


class TitleShared(Answer):
    """A title, how many pages have it, and up to ten of them."""

    title: str
    pages: int
    paths: list[str]


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
