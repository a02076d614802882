"""Reports of many findings: memory against that of few, and the time of each finding.

``python -m bench.reports [FINDINGS]``; the default is a million.
"""

from __future__ import annotations

import sys
import time
import tracemalloc
from collections.abc import Iterator
from dataclasses import replace

from plumrake.core.assess import checks_asked
from plumrake.core.findings import Finding
from plumrake.core.policy import Policy
from plumrake.report_forms import ReportForm
from plumrake.reports.pages import Reported
from plumrake.reports.report import REPORT_FORMS, About, ReportedPage, written

MOST = 1_000_000
FEW = 1_000
PER_PAGE = 100


def pages(findings: int) -> Iterator[ReportedPage]:
    """Yield made pages with so many findings in all, of a thousand causes."""
    finding = Finding(
        check="links/vague",
        outcome="failed",
        weight="obstacle",
        criteria=("2.4.4",),
        says="The link text “here” does not say that it leads to /fees/.",
        question=None,
        message="",
        selector="main > p:nth-of-type(2) > a",
        line=7,
        column=3,
        box=None,
        visible=True,
        nearest_visible=None,
        nearest_box=None,
        excerpt='<a href="/fees/">here</a>',
        facts={"name": "here"},
        mends=({"kind": "replace-text", "says": "Write into the link what it leads to."},),
        place_key="",
        cause_key="",
    )
    for page in range(findings // PER_PAGE):
        own = tuple(
            replace(finding, place_key=f"{page}-{at}", cause_key=f"{(page * at) % 1000}")
            for at in range(PER_PAGE)
        )
        address = f"https://canal.example/{page}/"
        yield ReportedPage(
            Reported(address, "markup", f"Page {page}", "en", None, "sha256:0", own, ())
        )


def measured(form: ReportForm, findings: int) -> tuple[float, float, int]:
    """Return the peak of memory (MiB), seconds, and characters of a report."""
    policy = Policy()
    about = About(
        "made", policy, "2026-11-28T09:00:00+00:00", [one.id for one in checks_asked(policy)]
    )
    list(written(form, pages(PER_PAGE), about))  # what is loaded once is not counted
    tracemalloc.start()
    begun = time.perf_counter()
    size = sum(len(piece) for piece in written(form, pages(findings), about))
    seconds = time.perf_counter() - begun
    peak = tracemalloc.get_traced_memory()[1] / 2**20
    tracemalloc.stop()
    return peak, seconds, size


def main(most: int = MOST) -> None:
    """Print, for each format, memory with many findings against memory with few."""
    print(f"{most:,} findings on {most // PER_PAGE:,} pages, against {FEW:,}")
    for form in REPORT_FORMS:
        few, _, _ = measured(form, FEW)
        peak, seconds, size = measured(form, most)
        print(
            f"  {form:<6} {peak:6.1f} MiB, {peak / few:5.1f} times that of few; "
            f"{seconds / most * 1e6:5.0f} µs a finding (traced); {size / 2**20:,.0f} MiB written"
        )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else MOST)
