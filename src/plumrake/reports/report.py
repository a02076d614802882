"""What every report is made of: pages one after the other, what is noted of their findings, and
what the report is about. Each format is written as a stream of pieces of text."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import get_args

from plumrake.core.findings import Finding, why_left
from plumrake.core.policy import Policy
from plumrake.report_forms import ReportForm
from plumrake.reports.pages import Reported

REPORT_FORMS: tuple[ReportForm, ...] = get_args(ReportForm)
"""The formats that programs and browsers read."""
MEDIA_TYPES: Mapping[ReportForm, str] = {
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "sarif": "application/sarif+json",
    "earl": "application/ld+json",
    "junit": "application/xml",
    "html": "text/html; charset=utf-8",
}
FILE_ENDS: Mapping[ReportForm, str] = {
    "json": "json",
    "csv": "csv",
    "sarif": "sarif",
    "earl": "earl.jsonld",
    "junit": "junit.xml",
    "html": "html",
}


@dataclass(frozen=True, slots=True)
class ReportedEdit:
    """A change of a page's source: from line and column to line and column, from 1, the end not
    included; ``text`` is what stands there then."""

    start: tuple[int, int]
    end: tuple[int, int]
    text: str


@dataclass(frozen=True, slots=True)
class Note:
    """What is known of a finding beside itself: the ``cause`` that it was gathered into, why it is
    ``waived`` (``""``: it is not), whether it is ``new`` against what the report is held against
    (None: against nothing), and a mend with its edits."""

    cause: str = ""
    waived: str = ""
    new: bool | None = None
    mend: str = ""
    edits: tuple[ReportedEdit, ...] = ()


@dataclass(frozen=True, slots=True)
class ReportedPage:
    """A page with notes by the place key of its findings, and the areas of checks (``links``) that
    have something to look at on it; None where that is not known."""

    page: Reported
    notes: Mapping[str, Note] = field(default_factory=dict)
    areas: frozenset[str] | None = None

    @property
    def counted(self) -> Reported:
        """The page with what counts of it: without what is waived."""
        counts = tuple(one for one in self.page.findings if not self.note(one).waived)
        return replace(self.page, findings=counts)

    def note(self, finding: Finding) -> Note:
        """Return what is noted of a finding."""
        return self.notes.get(finding.place_key, _NOTHING)


_NOTHING = Note()


def waived_by_author(finding: Finding) -> str:
    """Return why a finding is waived by a comment in its page, or ``""``."""
    reason = why_left(finding)
    return f"left by its author: {reason}" if reason else ""


@dataclass(frozen=True, slots=True)
class Gone:
    """A finding that the report is held against, and that is not there any more."""

    place_key: str
    check: str
    address: str


@dataclass(frozen=True, slots=True)
class About:
    """What a report is about: a name for it, the policy that was read by, when it was begun (ISO
    8601), how long it took (seconds; None: unknown), the checks that were asked, and what is
    gone."""

    name: str
    policy: Policy
    started: str
    checks: Sequence[str]
    seconds: float | None = None
    gone: Sequence[Gone] = ()

    @property
    def hold(self) -> str:
        """From which weight on a fault holds a page."""
        return self.policy.hold


def written(form: ReportForm, pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield a report piece by piece; what was yielded is not kept."""
    from plumrake.reports import as_earl, as_html, as_json, as_junit, as_rows, as_sarif

    writers = {
        "json": as_json.json_pieces,
        "csv": as_rows.csv_pieces,
        "sarif": as_sarif.sarif_pieces,
        "earl": as_earl.earl_pieces,
        "junit": as_junit.junit_pieces,
        "html": as_html.html_pieces,
    }
    return writers[form](pages, about)
