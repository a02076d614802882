"""Kills in mid-sweep: nothing is lost, nothing is read twice, the sweep ends."""

import contextlib
import os
import signal
from collections import Counter
from collections.abc import Iterator

import psycopg
import pytest

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from plumrake.demo.site import answer_key, build_environment, journey_answers
from tests.conftest import Running, wait_for
from tests.hostile import PROBLEMS, hostile_server
from tests.preloaded import Started
from tests.services import below, serve_in_thread
from tests.trust import SLOWEST

TAKES_LONG = True

SECTIONS = ("/visit/", "/boating/", "/news/")
PATHS = [page.address for page in build_environment("live") if page.address.startswith(SECTIONS)]
"""So many of the demo's pages that a sweep is under way for a while."""


@pytest.fixture(scope="module", autouse=True)
def listed(manager: PlumRake) -> None:
    """The demo's site is those pages."""
    manager.sites.change(
        SITE,
        models.SiteChange(found_by="list", listed_paths=PATHS, policy={"without": [SLOWEST]}),
        manager.sites.show(SITE).tag,
    )


def kill_tree(child: Started) -> None:
    """Kill a process and all that it started, at once."""
    os.killpg(child.pid, signal.SIGKILL)
    child.wait(10)


def browsers_of(child: Started) -> list[int]:
    """Return the browser processes below a worker."""
    return [
        number
        for number, words in below(child.pid).items()
        if "chromium-headless-shell --" in words and "bwrap" not in words
    ]


def assessors_of(child: Started) -> list[int]:
    """Return the processes below a worker in which pages are assessed."""
    return [
        number
        for server, words in below(child.pid).items()
        if "forkserver" in words
        for number in below(server)
    ]


@contextlib.contextmanager
def working(running: Running) -> Iterator[Started]:
    """A worker that ends with the test, however that ends."""
    worker = running.start("worker", page_seconds="8")
    try:
        yield worker
    finally:
        worker.terminate()
        worker.wait(15)


def wait_until_some_are_read(manager: PlumRake, sweep_id: int) -> None:
    wait_for(lambda: manager.sweeps.show(sweep_id).read >= 8, 60, "the first batch")


def assert_whole(running: Running, manager: PlumRake, sweep_id: int) -> None:
    """A sweep ended with one reading per page and the findings of the answer key, each once."""
    sweep = manager.sweeps.show(sweep_id)
    assert (sweep.state, sweep.read, sweep.unreadable) == ("done", sweep.total, 0)
    with psycopg.connect(running.database) as connection:
        most = connection.execute(
            (
                "SELECT max(n) FROM (SELECT count(*) AS n FROM reading WHERE sweep_id = %s GROUP "
                "BY page_id) c"
            ),
            (sweep_id,),
        )
        assert most.fetchone() == (1,)
    found = Counter(
        (one.path, one.check, one.selector)
        for one in manager.findings.list(SITE, sweep=sweep_id, words="with")
    )
    assert found == Counter(
        (a["address"], a["check"], a["selector"])
        for a in [*answer_key("live"), *journey_answers()]
        if a["address"].startswith(SECTIONS) and a["check"] != SLOWEST
    )


def last_progress(manager: PlumRake, sweep_id: int) -> models.Progress:
    return list(manager.sweeps.follow(sweep_id))[-1]


def test_worker_killed(running: Running, manager: PlumRake) -> None:
    """A worker killed in mid-sweep: another one takes up what it held."""
    first = running.start("worker", page_seconds="8")
    sweep = manager.sweeps.start(SITE)
    wait_until_some_are_read(manager, sweep.id)
    kill_tree(first)
    assert manager.sweeps.show(sweep.id).state == "running"
    with working(running):
        assert last_progress(manager, sweep.id).kind == "done"
    assert_whole(running, manager, sweep.id)


def test_browser_killed(running: Running, manager: PlumRake) -> None:
    """The browser killed in mid-sweep: the worker starts it again and reads the pages that were
    open once more."""
    with working(running) as worker:
        sweep = manager.sweeps.start(SITE, fresh=True)
        wait_until_some_are_read(manager, sweep.id)
        found = browsers_of(worker)
        assert found, "the browser runs below the worker"
        for process in found:
            with contextlib.suppress(ProcessLookupError):
                os.kill(process, signal.SIGKILL)
        assert last_progress(manager, sweep.id).kind == "done"
    assert_whole(running, manager, sweep.id)


def test_worker_stops_when_asked(running: Running) -> None:
    """SIGTERM ends an idle worker with its browser, soon and cleanly."""
    log = running.folder / "worker.log"
    before = log.read_text().count("the worker is ready") if log.exists() else 0
    worker = running.start("worker", page_seconds="8")
    wait_for(lambda: log.read_text().count("the worker is ready") > before, 90, "the worker")
    worker.terminate()
    assert worker.wait(15) == 0


def test_hostile_site(running: Running, manager: PlumRake) -> None:
    """Each hostile page is a reading with its problem code, and the sweep ends."""
    problems = {path: code for path, code in PROBLEMS.items() if path != "/inline-data"}
    server = hostile_server()
    origin = serve_in_thread(server)
    site = models.NewSite(
        slug="hostile",
        name="Hostile",
        live_address=f"{origin}/",
        found_by="list",
        listed_paths=list(problems),
        private_leave=True,
    )
    manager.sites.add(site)
    with working(running):
        sweep = manager.sweeps.start("hostile")
        assert last_progress(manager, sweep.id).kind == "done"
    server.shutdown()
    assert {
        reading.path: reading.problem_code for reading in manager.sweeps.readings(sweep.id)
    } == problems
    unread = list(manager.sweeps.readings(sweep.id, status="unreadable"))
    assert all(reading.problem_says and not reading.ready for reading in unread)


@pytest.mark.parametrize(
    ("address", "says"),
    [
        ("http://no-such-host.invalid/", "no host is called"),
        ("http://10.1.2.3/", "private address"),
    ],
)
def test_site_that_cannot_be_found(
    running: Running, manager: PlumRake, address: str, says: str
) -> None:
    """A site whose pages cannot be found ends its sweep as failed, with the reason."""
    slug = f"gone-{len(address)}"
    manager.sites.add(models.NewSite(slug=slug, name="Gone", live_address=address))
    with working(running):
        last = last_progress(manager, manager.sweeps.start(slug).id)
    assert last.kind == "failed"
    assert says in (last.problem or "")
