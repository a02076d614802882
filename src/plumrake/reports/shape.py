"""The one shape of findings, pages and summaries that every machine-readable format and the API share."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from plumrake.core.dom import whole
from plumrake.core.findings import WEIGHTS, Finding, Outcome, weights_from


@dataclass(frozen=True, slots=True)
class Reported:
    """A page as reports need it; ``problem`` is code and sentence, ``untested`` pairs of check and missing evidence."""

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


def holds(finding: Finding, hold: str) -> bool:
    """Tell whether a finding holds a publication: it is ``failed`` and at or above the weight ``hold`` (``none``: never)."""
    return finding.outcome == Outcome.FAILED and finding.weight in weights_from(hold)


def is_ready(page: Reported, hold: str) -> bool:
    """Tell whether a page may be published: it was read and nothing on it holds."""
    return page.problem is None and not any(holds(finding, hold) for finding in page.findings)


def finding_dict(finding: Finding) -> dict[str, Any]:
    """Return a finding with the fields and their order of ``look --as json``; boxes are whole CSS px."""
    return {
        "check": finding.check,
        "outcome": finding.outcome,
        "weight": finding.weight,
        "criteria": list(finding.criteria),
        "says": finding.says,
        "question": finding.question,
        "selector": finding.selector,
        "line": finding.line,
        "column": finding.column,
        "box": whole(finding.box),
        "visible": finding.visible,
        "nearest_visible": finding.nearest_visible,
        "nearest_box": whole(finding.nearest_box),
        "excerpt": finding.excerpt,
        "facts": finding.facts,
        "mends": [dict(mend) for mend in finding.mends],
        "place_key": finding.place_key,
        "cause_key": finding.cause_key,
        "region": finding.region,
    }


def page_dict(page: Reported) -> dict[str, Any]:
    """Return a page with its findings."""
    return {
        "address": page.address,
        "lens": page.lens,
        "title": page.title,
        "language": page.language,
        "status": page.status,
        "problem": {"code": page.problem[0], "says": page.problem[1]} if page.problem is not None else None,
        "content_hash": page.content_hash,
        "untested": [{"check": check, "needs": needs} for check, needs in page.untested],
        "findings": [finding_dict(finding) for finding in page.findings],
    }


def summary_dict(pages: Iterable[Reported], hold: str) -> dict[str, Any]:
    """Return the figures over all pages; ``by_weight`` counts failed findings, ``by_check`` both outcomes."""
    pages = list(pages)
    findings = [finding for page in pages for finding in page.findings]
    outcomes = Counter(finding.outcome for finding in findings)
    weights = Counter(finding.weight for finding in findings if finding.outcome == Outcome.FAILED)
    return {
        "pages": len(pages),
        "unreadable": sum(page.problem is not None for page in pages),
        "failed": outcomes[Outcome.FAILED],
        "cantTell": outcomes[Outcome.CANT_TELL],
        "by_weight": {weight.value: weights[weight] for weight in WEIGHTS},
        "by_check": dict(sorted(Counter(finding.check for finding in findings).items())),
        "ready": sum(is_ready(page, hold) for page in pages),
    }
