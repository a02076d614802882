"""Drafting corrections in the service: from the press of Apply to what the page looks like with it,
through either lens, beside the browser's bare load of the pages.

``python -m bench.correcting [MOST]``. Service, worker, database and the demo site run for this
alone; times are those of the whole answer over HTTP. The first draft of a page reads it twice, each
further one once.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections import Counter

from bench.gate import bare_load
from bench.service import demo_site, running
from plumrake import models
from plumrake.client import PlumRake

SITE = "bench"
SECTION = "/visit/"
LENSES: tuple[models.Lens, ...] = ("markup", "rendered")


def main(most: int = 60) -> None:
    """Print the medians of first and of further drafts, and how many were drafted."""
    with running(workers=1) as service, demo_site(service.rake, SITE) as (_, origin):
        bare = bare_load(f"{origin}{SECTION}towpath/", 7)
        print(f"  bare load in the browser: {bare * 1000:.0f} ms")
        for lens in LENSES:
            _measure(service.rake, lens, most, bare)


def _measure(rake: PlumRake, lens: models.Lens, most: int, bare: float) -> None:
    sweep = rake.sweeps.start(SITE, section=SECTION, lens=lens, fresh=True)
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    spent: dict[str, list[float]] = {"first of a page": [], "further": []}
    states: Counter[str] = Counter()
    seen: set[str] = set()
    found = rake.findings.list(SITE, sweep=sweep.id, sort="page")
    for finding in [one for one in found if _mend_of(one) is not None][:most]:
        mend = _mend_of(finding)
        assert mend is not None
        start = time.perf_counter()
        made = rake.corrections.draft(SITE, finding.id, mend)
        which = "further" if finding.path in seen else "first of a page"
        spent[which].append(time.perf_counter() - start)
        seen.add(finding.path)
        states[made.first.state] += 1
        rake.corrections.move(made.first.id, "take_back") if made.first.state == "drafted" else None
    for which, times in spent.items():
        if times:
            median = statistics.median(times)
            print(
                f"  {lens:<9} {which:<16} {median * 1000:6.0f} ms at the median, "
                f"{max(times) * 1000:.0f} ms at most, {median / bare:.1f} × the bare load"
            )
    everything = [one for times in spent.values() for one in times]
    counts = ", ".join(f"{count} {state}" for state, count in states.items())
    print(f"  {lens:<9} {statistics.median(everything) * 1000:.0f} ms over all; {counts}")


def _mend_of(finding: models.Finding) -> dict[str, str] | None:
    """Return the first mend of a finding that can be carried out, with a text where it asks."""
    for mend in finding.mends:
        if mend["kind"] != "advice":
            return {"value": f"Words for place {finding.id} of this page"} | mend
    return None


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
