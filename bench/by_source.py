"""What is lost by reading pages by their source where the browser has shown what they are made of,
and what it spares.

Each site is swept by services of its own: every page in the browser, and as policy has it by
default, twice. Told are the findings that only one of the two has, how many pages were read by
their source, and pages per second of each sweep.

``python -m bench.by_source [FOLDER|ADDRESS|made:PAGES|wordpress …]``; default: the demo's live
pages, a made site of twelve templates, and git-doc where it is installed. An address is a site with
a sitemap; ``wordpress`` is one with many posts.
"""

from __future__ import annotations

from collections import Counter

from bench.patterns import for_each_site, site
from bench.service import Running, running

Found = Counter[tuple[str, str, str]]


def main() -> None:
    """Print a line per site."""
    for_each_site(_compare)


def _compare(name: str, place: str) -> None:
    with running() as service, site(service, place, {"reading": "browser"}) as slug:
        wanted, _, pages, slow = _swept(service, slug)
    with running() as service, site(service, place, {}) as slug:
        for time in ("first", "again"):
            found, stood, pages, pace = _swept(service, slug)
            lost, more = wanted - found, found - wanted
            print(
                f"{name}, {time}: {stood} of {pages} pages by their source; {wanted.total()} "
                f"findings in the browser, {lost.total()} lost, {more.total()} more; "
                f"{pace:.1f} pages/s against {slow:.1f}",
                flush=True,
            )
            for kind, rows in (("lost", lost), ("more", more)):
                for path, check, cause in sorted(rows)[:8]:
                    print(f"  {kind}: {check} on {path} ({cause[:12]})")


def _swept(service: Running, slug: str) -> tuple[Found, int, int, float]:
    """Return the findings by path, check and place, the pages read by their source, all pages, and
    pages per second."""
    rake = service.rake
    sweep = rake.sweeps.start(slug, fresh=True)
    for _ in rake.sweeps.follow(sweep.id):
        pass
    done = rake.sweeps.show(sweep.id)
    assert done.started_at is not None
    assert done.finished_at is not None
    found = Counter(
        (one.path, one.check, one.place_key) for one in rake.findings.list(slug, sweep=sweep.id)
    )
    readings = list(rake.sweeps.readings(sweep.id))
    stood = sum(one.lens == "markup" for one in readings)
    seconds = (done.finished_at - done.started_at).total_seconds()
    return found, stood, len(readings), len(readings) / seconds


if __name__ == "__main__":
    main()
