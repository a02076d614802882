"""Kills in mid-sweep: nothing is lost, nothing is read twice, the sweep ends."""

import contextlib
import os
import signal
import subprocess
from collections import Counter

import psutil
import psycopg
import pytest

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from plumrake.demo.site import answer_key, journey_answers
from tests.conftest import Running, serve_in_thread, wait_for
from tests.hostile import PROBLEMS, hostile_server


def kill_tree(child: subprocess.Popen[bytes]) -> None:
    """Kill a process and all that it started, at once."""
    os.killpg(child.pid, signal.SIGKILL)
    child.wait(10)


def browsers_of(child: subprocess.Popen[bytes]) -> list[psutil.Process]:
    """Return the browser processes below a worker."""
    return [
        process
        for process in psutil.Process(child.pid).children(recursive=True)
        if "chromium" in process.name() or "headless" in process.name()
    ]


def wait_until_some_are_read(manager: PlumRake, sweep_id: int) -> None:
    wait_for(lambda: manager.sweeps.show(sweep_id).read >= 8, 60, "the first batch")


def assert_whole(running: Running, manager: PlumRake, sweep_id: int) -> None:
    """A sweep ended with one reading per page and the findings of the answer key, each once."""
    sweep = manager.sweeps.show(sweep_id)
    assert (sweep.state, sweep.read, sweep.unreadable) == ("done", sweep.total, 0)
    with psycopg.connect(running.database) as connection:
        most = connection.execute(
            "SELECT max(n) FROM (SELECT count(*) AS n FROM reading WHERE sweep_id = %s GROUP BY page_id) c", (sweep_id,)
        )
        assert most.fetchone() == (1,)
    found = Counter((one.path, one.check, one.selector) for one in manager.findings.list(SITE, sweep=sweep_id))
    assert found == Counter((a["address"], a["check"], a["selector"]) for a in [*answer_key("live"), *journey_answers()])


def last_progress(manager: PlumRake, sweep_id: int) -> models.Progress:
    return list(manager.sweeps.follow(sweep_id))[-1]


def test_worker_killed(running: Running, manager: PlumRake) -> None:
    """A worker killed in mid-sweep: another one takes up what it held."""
    first = running.start("worker")
    sweep = manager.sweeps.start(SITE)
    wait_until_some_are_read(manager, sweep.id)
    kill_tree(first)
    assert manager.sweeps.show(sweep.id).state == "running"
    second = running.start("worker")
    assert last_progress(manager, sweep.id).kind == "done"
    assert_whole(running, manager, sweep.id)
    second.terminate()
    second.wait(15)


def test_browser_killed(running: Running, manager: PlumRake) -> None:
    """The browser killed in mid-sweep: the worker starts it again and reads the pages that were open once more."""
    worker = running.start("worker")
    sweep = manager.sweeps.start(SITE, fresh=True)
    wait_until_some_are_read(manager, sweep.id)
    found = browsers_of(worker)
    assert found, "the browser runs below the worker"
    for process in found:
        with contextlib.suppress(psutil.NoSuchProcess):
            process.kill()
    assert last_progress(manager, sweep.id).kind == "done"
    assert_whole(running, manager, sweep.id)
    worker.terminate()
    worker.wait(15)


def test_worker_stops_when_asked(running: Running) -> None:
    """SIGTERM ends an idle worker with its browser, soon and cleanly."""
    log = running.folder / "worker.log"
    before = log.read_text().count("the worker is ready")
    worker = running.start("worker")
    wait_for(lambda: log.read_text().count("the worker is ready") > before, 30, "the worker")
    worker.terminate()
    assert worker.wait(15) == 0


def test_hostile_site(running: Running, manager: PlumRake) -> None:
    """Each hostile page is a reading with its problem code, and the sweep ends."""
    server = hostile_server()
    origin = serve_in_thread(server)
    worker = running.start("worker")
    site = models.NewSite(
        slug="hostile", name="Hostile", live_address=f"{origin}/", found_by="list", listed_paths=list(PROBLEMS), private_leave=True
    )
    manager.sites.add(site)
    sweep = manager.sweeps.start("hostile")
    assert last_progress(manager, sweep.id).kind == "done"
    assert {reading.path: reading.problem_code for reading in manager.sweeps.readings(sweep.id)} == PROBLEMS
    unread = list(manager.sweeps.readings(sweep.id, status="unreadable"))
    assert all(reading.problem_says and not reading.ready for reading in unread)
    worker.terminate()
    worker.wait(15)
    server.shutdown()


@pytest.mark.parametrize(
    ("address", "says"),
    [("http://no-such-host.invalid/", "no host is called"), ("http://10.1.2.3/", "private address")],
)
def test_site_that_cannot_be_found(running: Running, manager: PlumRake, address: str, says: str) -> None:
    """A site whose pages cannot be found ends its sweep as failed, with the reason."""
    slug = f"gone-{len(address)}"
    manager.sites.add(models.NewSite(slug=slug, name="Gone", live_address=address))
    worker = running.start("worker")
    sweep = manager.sweeps.start(slug)
    last = last_progress(manager, sweep.id)
    assert last.kind == "failed"
    assert says in (last.problem or "")
    worker.terminate()
    worker.wait(15)
