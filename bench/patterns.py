"""What is lost by letting pages stand for others that are made of the same, and what it spares.

Each site is swept twice by services of their own: every page tried with other layouts and by Tab,
and pages standing for others as policy has it by default. Told are the pages that were not tried,
the findings of the checks concerned that only the first sweep has, and how fast both were.

``python -m bench.patterns [FOLDER|ADDRESS|made:PAGES|wordpress …]``; default: the demo's live
pages, a made site of twelve templates, and git-doc where it is installed. An address is a site with
a sitemap; of a folder that was not made here 240 pages are taken; ``wordpress`` is one with many
posts.
"""

from __future__ import annotations

import sys
import tempfile
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from bench.made_site import make_pages, write_site
from bench.service import Running, demo_site, running
from bench.started_sites import many_posts
from plumrake import models
from plumrake.actions.reading import tried_checks
from plumrake.demo.server import make_server

_GIT = Path("/usr/share/doc/git/html")
_MADE_SITE, _MADE = "made:", 240
_MOST = 240
_WORDPRESS = "wordpress"
_EVERY, _DEFAULT = 1, 10

Found = set[tuple[str, str]]


def main() -> None:
    """Print a line per site."""
    for_each_site(_compare)


def for_each_site(compare: Callable[[str, str], None]) -> None:
    """Have each given site compared, by its name and place; else the demo, a made site, and
    git-doc where it is installed."""
    default = ["", f"{_MADE_SITE}{_MADE}", *([str(_GIT)] if _GIT.is_dir() else [])]
    for one in sys.argv[1:] or default:
        if one == _WORDPRESS:
            with many_posts() as (origin, _):
                compare(one, f"{origin}/")
            continue
        if not one.startswith(_MADE_SITE):
            compare(one or "demo", one)
            continue
        with tempfile.TemporaryDirectory(prefix="plr-made-") as folder:
            write_site(Path(folder), make_pages(int(one.removeprefix(_MADE_SITE))))
            compare(one, folder)


def _compare(name: str, place: str) -> None:
    all_found, _, slow = _swept(place, _EVERY)
    found, spared, pace = _swept(place, _DEFAULT)
    lost = sorted(all_found - found)
    print(
        f"{name}: {spared[0]} of {spared[1]} pages stood for; {len(all_found)} findings of "
        f"{len(tried_checks())} checks where all are tried, {len(lost)} of them lost; "
        f"{pace:.1f} pages/s against {slow:.1f}"
    )
    for path, check in lost[:10]:
        print(f"  lost: {check} on {path}")


def _swept(place: str, tried_anyway: int) -> tuple[Found, tuple[int, int], float]:
    """Return the findings as paths and checks, how many pages others stood for of how many, and
    pages per second."""
    policy = {"tried-anyway": tried_anyway, "reading": "browser"}
    with running() as service, site(service, place, policy) as slug:
        rake = service.rake
        sweep = rake.sweeps.start(slug)
        for _ in rake.sweeps.follow(sweep.id):
            pass
        done = rake.sweeps.show(sweep.id)
        assert done.started_at is not None
        assert done.finished_at is not None
        found = {
            (one.path, one.check)
            for check in sorted(tried_checks())
            for one in rake.findings.list(slug, sweep=sweep.id, check=check)
        }
        shown = [rake.readings.show(one.id) for one in rake.sweeps.readings(sweep.id)]
        spared = sum(any("tried_at" in row for row in one.untested) for one in shown)
        seconds = (done.finished_at - done.started_at).total_seconds()
        return found, (spared, len(shown)), len(shown) / seconds


@contextmanager
def site(service: Running, place: str, policy: dict[str, object]) -> Iterator[str]:
    """Register a site (a folder, an address, or the demo where nothing is given) by a policy; give
    its slug."""
    rake = service.rake
    if not place:
        with demo_site(rake, "bench"):
            rake.sites.change(
                "bench", models.SiteChange(policy=policy), rake.sites.show("bench").tag
            )
            yield "bench"
        return
    folder = Path(place)
    server = None
    more: dict[str, object] = {"live_address": place, "found_by": "sitemap"}
    if folder.is_dir():
        server = make_server(folder, 0)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        files = sorted(file for file in folder.rglob("*.html") if not file.is_symlink())
        if not folder.name.startswith("plr-made-"):
            files = files[:_MOST]
        more = {
            "live_address": f"http://127.0.0.1:{server.server_address[1]}/",
            "found_by": "list",
            "listed_paths": ["/" + file.relative_to(folder).as_posix() for file in files],
        }
    given = {"slug": "bench", "name": "Bench", "private_leave": True, "policy": policy, **more}
    rake.sites.add(models.NewSite.model_validate(given))
    yield "bench"
    if server is not None:
        server.shutdown()


if __name__ == "__main__":
    main()
