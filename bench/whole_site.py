"""A made site of thousands of pages, swept whole: all pages and faults found, causes right,
unchanged pages kept, memory flat.

``python -m bench.whole_site [PAGES] [WORKERS]`` (5,000 and 1).
"""

from __future__ import annotations

import shutil
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

from bench.made_site import MadePage, key_of, make_pages, write_site
from bench.service import Running, running
from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.server import make_server

SITE = "made"


def main(count: int = 5_000, workers: int = 1) -> None:
    """Print what each sweep found beside the key, its pace, and the memory of worker and browser
    over time."""
    folder = Path(tempfile.mkdtemp(prefix="plr-made-"))
    pages = make_pages(count)
    write_site(folder, pages)
    server = make_server(folder, 0)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    origin = f"http://127.0.0.1:{server.server_address[1]}"
    try:
        with running(workers) as service:
            add_site(service.rake, origin, pages)
            _three_sweeps(service, folder, pages)
    finally:
        server.shutdown()
        shutil.rmtree(folder, ignore_errors=True)


def _three_sweeps(service: Running, folder: Path, pages: list[MadePage]) -> None:
    first, memory = sweep(service)
    print(
        f"first sweep: {first.read} of {len(pages)} pages, {_pace(first):.2f} pages/s with "
        f"{len(service.workers)} worker(s)"
    )
    print(
        "  memory of worker and browser by tenths of the sweep, MiB: "
        f"{', '.join(str(one // 2**20) for one in memory)}"
    )
    tell(service.rake, first.id, pages)
    second, _ = sweep(service)
    print(
        f"second sweep, nothing changed: {second.unchanged} unchanged, {_pace(second):.1f} "
        f"pages/s, {_pace(second) / _pace(first):.0f} times the first's"
    )
    print(
        "  findings the same: "
        f"{findings(service.rake, first.id) == findings(service.rake, second.id)}"
    )
    revised = make_pages(len(pages), environment=1, changed=100)
    write_site(folder, revised)
    third, _ = sweep(service)
    differ = sum(one.html != other.html for one, other in zip(pages, revised, strict=True))
    print(
        f"third sweep, {differ} pages revised: {third.total - third.unchanged} read anew, "
        f"{_pace(third):.1f} pages/s"
    )


def add_site(rake: PlumRake, origin: str, pages: list[MadePage]) -> None:
    """Register the made site by a list of its pages."""
    paths = [page.path for page in pages]
    rake.sites.add(
        models.NewSite(
            slug=SITE,
            name="Made Canal",
            live_address=f"{origin}/",
            found_by="list",
            listed_paths=paths,
            private_leave=True,
        )
    )


def sweep(service: Running) -> tuple[models.Sweep, list[int]]:
    """Sweep the site; return the finished sweep and the memory at each tenth of it."""
    started = service.rake.sweeps.start(SITE)
    memory: list[int] = []
    while (now := service.rake.sweeps.show(started.id)).state in ("queued", "running"):
        if now.total and (now.read + now.unreadable) * 10 >= now.total * (len(memory) + 1):
            memory.append(service.memory())
        time.sleep(0.5)
    return now, memory


def findings(rake: PlumRake, sweep_id: int) -> Counter[tuple[str, ...]]:
    """Return what was found, without what differs from sweep to sweep by its nature."""
    return Counter(
        (one.path, one.check, one.selector, one.says, one.place_key, one.cause)
        for one in rake.findings.list(SITE, sweep=sweep_id)
    )


def tell(rake: PlumRake, sweep_id: int, pages: list[MadePage]) -> None:
    """Print what was found beside the key."""
    expected = key_of(pages)
    found = Counter((one.path, one.check) for one in rake.findings.list(SITE, sweep=sweep_id))
    print(
        f"  planted faults: {expected.faults.total()}, found "
        f"{(expected.faults & found).total()}, beside them "
        f"{(found - expected.faults).total()}"
    )
    causes = Counter(
        (one.check, one.pages, one.by_template) for one in rake.causes.list(SITE, sweep=sweep_id)
    )
    wrong = (expected.causes - causes) + (causes - expected.causes)
    print(
        f"  causes: {expected.causes.total()} planted, {causes.total()} gathered, "
        f"{wrong.total()} that differ {list(wrong)[:6] or ''}"
    )


def _pace(done: models.Sweep) -> float:
    assert done.started_at is not None
    assert done.finished_at is not None
    return done.total / (done.finished_at - done.started_at).total_seconds()


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
