"""The one shape of findings, pages and summaries that every machine-readable format and the API
share."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from plumrake.core.decisions import finding_holds
from plumrake.core.findings import WEIGHTS, Finding, Needs, Outcome, as_dict
from plumrake.core.registry import catalogue


@dataclass(frozen=True, slots=True)
class Reported:
    """A page as reports need it; ``problem`` is code and sentence, ``untested`` pairs of check and
    missing evidence, or the path of the page that was tried in this one's stead."""

    address: str
    lens: str
    title: str
    language: str
    problem: tuple[str, str] | None
    content_hash: str | None
    findings: tuple[Finding, ...]
    untested: tuple[tuple[str, str], ...]

    @property
    def status(self) -> str:
        """``read`` or ``unreadable``."""
        return "read" if self.problem is None else "unreadable"


def was_tried(needs: str) -> bool:
    """Tell whether another page was tried in the stead of one that a check was not made on."""
    return needs.startswith("/")


def is_in_part(check: str, needs: str) -> bool:
    """Tell whether a check was made but for what hangs on a layout, which it does not want as a
    rule."""
    known = catalogue().get(check)
    return known is not None and needs == Needs.LAYOUT and Needs.LAYOUT not in known.needs


def why_untested(needs: str) -> str:
    """Return why a check was not made on a page, as the end of a sentence."""
    if was_tried(needs):
        return f"{needs} was tried, which is made of the same"
    return f"the lens gives no {needs}"


def is_ready(page: Reported, hold: str) -> bool:
    """Tell whether a page may be published: it was read and nothing on it holds."""
    return page.problem is None and not any(
        finding_holds(finding, hold) for finding in page.findings
    )


def page_dict(page: Reported) -> dict[str, Any]:
    """Return a page with its findings."""
    return {
        "address": page.address,
        "lens": page.lens,
        "title": page.title,
        "language": page.language,
        "status": page.status,
        "problem": {"code": page.problem[0], "says": page.problem[1]}
        if page.problem is not None
        else None,
        "content_hash": page.content_hash,
        "untested": [{"check": check, "needs": needs} for check, needs in page.untested],
        "findings": [as_dict(finding) for finding in page.findings],
    }


class Summary:
    """The figures over all pages, counted as they come by."""

    def __init__(self, hold: str) -> None:
        self._hold = hold
        self._pages = self._unreadable = self._ready = 0
        self._outcomes: Counter[str] = Counter()
        self._weights: Counter[str] = Counter()
        self._checks: Counter[str] = Counter()

    def add(self, page: Reported) -> None:
        """Count a page in."""
        self._pages += 1
        self._unreadable += page.problem is not None
        self._ready += is_ready(page, self._hold)
        for one in page.findings:
            self._outcomes[one.outcome] += 1
            self._checks[one.check] += 1
            self._weights[one.weight] += one.outcome == Outcome.FAILED

    def as_dict(self) -> dict[str, Any]:
        """Return the figures; ``by_weight`` counts failed findings, ``by_check`` both outcomes."""
        return {
            "pages": self._pages,
            "unreadable": self._unreadable,
            "failed": self._outcomes[Outcome.FAILED],
            "cantTell": self._outcomes[Outcome.CANT_TELL],
            "by_weight": {weight.value: self._weights[weight.value] for weight in WEIGHTS},
            "by_check": dict(sorted(self._checks.items())),
            "ready": self._ready,
        }


def summary_dict(pages: Iterable[Reported], hold: str) -> dict[str, Any]:
    """Return the figures over all pages."""
    summary = Summary(hold)
    for page in pages:
        summary.add(page)
    return summary.as_dict()
