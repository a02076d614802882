"""Findings as one HTML file for people: by cause, the worst first, with what to do; then page by
page. It needs no network and no scripts, and prints."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import cache

from jinja2 import Environment, PackageLoader, StrictUndefined, Template

from plumrake import __version__
from plumrake.core.findings import WEIGHTS, Finding, Outcome
from plumrake.core.policy import OwnHelp
from plumrake.core.registry import Check, catalogue
from plumrake.reports.pages import Summary, is_ready, was_tried
from plumrake.reports.report import About, ReportedPage

MOST_PLACES = 20
"""So many places of a cause are listed; the others are counted."""


@dataclass(slots=True)
class _Cause:
    """What was gathered of a cause so far."""

    first: Finding
    check: Check
    own_help: OwnHelp | None
    waived: str
    new: bool | None
    count: int = 0
    pages: int = 0
    last: ReportedPage | None = None
    places: list[tuple[str, Finding]] = field(default_factory=list)

    @property
    def is_doubtful(self) -> bool:
        """Whether a person has to look."""
        return self.first.outcome == Outcome.CANT_TELL


@dataclass(frozen=True, slots=True)
class _Page:
    """A line of the list of pages."""

    address: str
    title: str
    problem: str
    ready: bool
    faults: int
    doubtful: int


def html_pieces(pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield the document; a cause is kept once, whatever its places are many."""
    causes: dict[tuple[str, str], _Cause] = {}
    lines: list[_Page] = []
    summary = Summary(about.hold)
    untested: dict[str, str] = {}
    for reported in pages:
        summary.add(reported.counted)
        pairs = reported.page.untested
        untested.update((check, needs) for check, needs in pairs if not was_tried(needs))
        lines.append(_line(reported, about))
        for finding in reported.page.findings:
            _gather(causes, reported, finding, about)
    order = [weight.value for weight in WEIGHTS]
    in_order = sorted(
        causes.values(),
        key=lambda one: (one.is_doubtful, order.index(one.first.weight), -one.pages),
    )
    yield from _template().generate(
        about=about,
        version=__version__,
        figures=summary.as_dict(),
        causes=[one for one in in_order if not one.waived],
        waived=[one for one in in_order if one.waived],
        pages=lines,
        untested=sorted(untested.items()),
        most=MOST_PLACES,
        outcomes=Outcome,
    )


@cache
def _template() -> Template:
    loader = PackageLoader("plumrake.reports")
    environment = Environment(
        loader=loader,
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    return environment.get_template("report.html")


def _gather(
    causes: dict[tuple[str, str], _Cause], reported: ReportedPage, finding: Finding, about: About
) -> None:
    note = reported.note(finding)
    key = (finding.check, f"{note.cause or finding.cause_key}{note.waived}")
    cause = causes.get(key)
    if cause is None:
        check = catalogue()[finding.check]
        cause = _Cause(finding, check, about.policy.help_for(finding.check), note.waived, note.new)
        causes[key] = cause
    cause.count += 1
    cause.pages += cause.last is not reported
    cause.last = reported
    if len(cause.places) < MOST_PLACES:
        cause.places.append((reported.page.address, finding))


def _line(reported: ReportedPage, about: About) -> _Page:
    page = reported.counted
    outcomes = Counter(one.outcome for one in page.findings)
    return _Page(
        page.address,
        page.title,
        page.problem[1] if page.problem is not None else "",
        is_ready(page, about.hold),
        outcomes[Outcome.FAILED],
        outcomes[Outcome.CANT_TELL],
    )
