"""The account of a site for its head and for auditors: figures over time, what is open and with
whom, what was tested by machine and by eye, and what was not. As HTML, Markdown or CSV."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import get_args

from jinja2 import Environment, PackageLoader, StrictUndefined, Template, select_autoescape

from plumrake import __version__
from plumrake.core.criteria import STANDARDS
from plumrake.report_forms import AccountForm
from plumrake.reports.as_csv import to_csv

ACCOUNT_FORMS: tuple[AccountForm, ...] = get_args(AccountForm)
ACCOUNT_MEDIA_TYPES: dict[AccountForm, str] = {
    "html": "text/html; charset=utf-8",
    "md": "text/markdown; charset=utf-8",
    "csv": "text/csv; charset=utf-8",
}


@dataclass(frozen=True, slots=True)
class Counted:
    """What a sweep of all pages counted, and when it ended."""

    on: date
    lens: str
    pages: int
    ready: int
    barriers: int
    obstacles: int
    frictions: int


@dataclass(frozen=True, slots=True)
class OpenCause:
    """A cause that is not mended: what it is, how wide, since when, with whom, until when."""

    says: str
    check: str
    weight: str
    criteria: tuple[str, ...]
    pages: int
    since: date
    owner: str
    state: str


@dataclass(frozen=True, slots=True)
class WithOwner:
    """What somebody has to mend."""

    owner: str
    open: int
    handed_in: int
    proven: int
    late: int


@dataclass(frozen=True, slots=True)
class OfSection:
    """The figures of a section of the site."""

    path: str
    pages: int
    ready: int
    barriers: int
    obstacles: int
    frictions: int


@dataclass(frozen=True, slots=True)
class TestedCriterion:
    """How a criterion was tested: by how many checks with how many causes found, and by how many
    answers of how many questions asked, with how many faults seen."""

    number: str
    name: str
    level: str
    checks: int
    causes: int
    asked: int
    answered: int
    faults: int

    @property
    def by_machine(self) -> str:
        """What the checks say."""
        if not self.checks:
            return "no check tells"
        found = f"{self.causes} to mend" if self.causes else "nothing found"
        return f"{self.checks} check{'s' * (self.checks != 1)}: {found}"

    @property
    def by_eye(self) -> str:
        """What people answered."""
        if not self.asked:
            return "nobody was asked"
        seen = f", {self.faults} fault{'s' * (self.faults != 1)} seen" if self.faults else ""
        return f"{self.answered} of {self.asked} answered{seen}"

    @property
    def is_tested(self) -> bool:
        """Whether anything at all tells about it: a check, or an answer."""
        return bool(self.checks or self.answered)


@dataclass(frozen=True, slots=True)
class Excused:
    """A waiver in force: what it is about, why, until when, by whom."""

    says: str
    reason: str
    until: date
    by: str


@dataclass(frozen=True, slots=True)
class Sampled:
    """A page that people were asked about, and why."""

    path: str
    because: str


@dataclass(frozen=True, slots=True)
class Account:
    """All that is accounted for of one environment of a site."""

    name: str
    address: str
    environment: str
    made_on: date
    standard: str
    level: str
    counted: tuple[Counted, ...]
    causes: tuple[OpenCause, ...]
    more_causes: int
    owners: tuple[WithOwner, ...]
    sections: tuple[OfSection, ...]
    criteria: tuple[TestedCriterion, ...]
    waivers: tuple[Excused, ...]
    sample: tuple[Sampled, ...]

    @property
    def judged_by(self) -> str:
        """The standard and level in words."""
        return f"WCAG {STANDARDS[self.standard]}, level {self.level.upper()}"

    @property
    def barriers(self) -> tuple[OpenCause, ...]:
        """The open causes that keep somebody out."""
        return tuple(one for one in self.causes if one.weight == "barrier")

    @property
    def untested(self) -> tuple[TestedCriterion, ...]:
        """The criteria that neither a check nor an answer tells about."""
        return tuple(one for one in self.criteria if not one.is_tested)


def account_as(form: AccountForm, accounts: Sequence[Account]) -> str:
    """Return the accounts of one site or of several as one document."""
    if form == "csv":
        return to_csv(_NAMES, _rows(accounts))
    return _template(form).render(accounts=accounts, version=__version__)


_NAMES = ("site", "part", "what", "weight", "pages", "count", "date", "who", "detail")


def _rows(accounts: Sequence[Account]) -> Iterator[Sequence[object]]:
    for one in accounts:
        for row in (*_figures(one), *_to_mend(one), *_tested(one)):
            yield one.name, *row


def _figures(one: Account) -> Iterator[Sequence[object]]:
    for at in one.counted:
        detail = f"{at.ready} pages ready, {at.lens}"
        for weight, count in (
            ("barrier", at.barriers),
            ("obstacle", at.obstacles),
            ("friction", at.frictions),
        ):
            yield "over time", "places that count", weight, at.pages, count, at.on, "", detail
    for section in one.sections:
        rest = (
            f"{section.ready} ready, {section.obstacles} obstacles, {section.frictions} frictions"
        )
        yield "section", section.path, "barrier", section.pages, section.barriers, "", "", rest


def _to_mend(one: Account) -> Iterator[Sequence[object]]:
    for cause in one.causes:
        detail = f"{cause.check} {' '.join(cause.criteria)} {cause.state}".strip()
        yield "open", cause.says, cause.weight, cause.pages, "", cause.since, cause.owner, detail
    for owner in one.owners:
        rest = f"{owner.handed_in} handed in, {owner.proven} proven, {owner.late} late"
        yield "with whom", "to mend", "", "", owner.open, "", owner.owner, rest
    for waiver in one.waivers:
        yield "waiver", waiver.says, "", "", "", waiver.until, waiver.by, waiver.reason


def _tested(one: Account) -> Iterator[Sequence[object]]:
    for criterion in one.criteria:
        name = f"{criterion.number} {criterion.name}"
        detail = f"{criterion.by_machine}; {criterion.by_eye}"
        yield "criterion", name, "", "", "", "", "", detail
    for page in one.sample:
        yield "sample", page.path, "", "", "", "", "", page.because


@cache
def _template(form: AccountForm) -> Template:
    environment = Environment(
        loader=PackageLoader("plumrake.reports"),
        autoescape=select_autoescape(["html"]),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.filters["cell"] = _cell
    return environment.get_template(f"account.{form}")


def _cell(text: object) -> str:
    """Return a text as a cell of a Markdown table holds it."""
    said = " ".join(str(text).split())
    return said.replace("\\", "\\\\").replace("|", "\\|").replace("<", "&lt;")
