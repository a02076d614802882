"""The one shape of findings, pages and summaries that every machine-readable format and the API
share."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from plumrake.core.decisions import finding_holds
from plumrake.core.findings import WEIGHTS, Finding, Outcome, as_dict


@dataclass(frozen=True, slots=True)
class Reported:
    """A page as reports need it; ``problem`` is code and sentence, ``untested`` pairs of check and
    missing evidence."""

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


def summary_dict(pages: Iterable[Reported], hold: str) -> dict[str, Any]:
    """Return the figures over all pages; ``by_weight`` counts failed findings, ``by_check`` both
    outcomes."""
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
