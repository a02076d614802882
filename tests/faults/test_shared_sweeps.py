"""Several workers at one sweep, killed at any moment, and the database restarted in the middle: it
ends whole all the same."""

import contextlib
import os
import random
import signal
import time
from collections import Counter
from collections.abc import Iterator

import psycopg
import pytest

from bench.made_site import MadePage, key_of, make_pages, write_site
from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.cluster import Cluster
from plumrake.demo.server import make_server
from plumrake.records.migrate import migrate
from tests.conftest import Running, wait_for
from tests.faults.test_kills import assessors_of, browsers_of, kill_tree
from tests.preloaded import Started
from tests.services import cluster_started, copied, serve_in_thread

TAKES_LONG = True

KILLS = int(os.environ.get("PLUMRAKE_KILLS", "12"))
PAGES = make_pages(72)


@pytest.fixture(scope="module")
def own_cluster() -> Iterator[Cluster]:
    """A database server that may be restarted: nobody else is at it."""
    with cluster_started() as cluster:
        yield cluster


@pytest.fixture(scope="module")
def database(own_cluster: Cluster) -> str:
    """A migrated database of that server."""
    address = copied(own_cluster.address, "template0")
    migrate(address)
    return address


@pytest.fixture(scope="module")
def made(manager: PlumRake, tmp_path_factory: pytest.TempPathFactory) -> Iterator[list[MadePage]]:
    """A made site, served and registered."""
    folder = tmp_path_factory.mktemp("made")
    write_site(folder, PAGES)
    server = make_server(folder, 0)
    origin = serve_in_thread(server)
    paths = [page.path for page in PAGES]
    manager.sites.add(
        models.NewSite(
            slug="made",
            name="Made Canal",
            live_address=f"{origin}/",
            found_by="list",
            listed_paths=paths,
            private_leave=True,
        )
    )
    yield PAGES
    server.shutdown()


def assert_whole(running: Running, manager: PlumRake, sweep_id: int) -> None:
    """One reading per page, every planted fault once, every cause with its reach, and the counts
    are those of the rows."""
    sweep = manager.sweeps.show(sweep_id)
    assert (sweep.state, sweep.total, sweep.read, sweep.unreadable) == (
        "done",
        len(PAGES),
        len(PAGES),
        0,
    )
    with psycopg.connect(running.database) as connection:
        rows = connection.execute(
            (
                "SELECT count(*), count(DISTINCT page_id), count(*) FILTER (WHERE ready) FROM "
                "reading WHERE sweep_id = %s"
            ),
            (sweep_id,),
        )
        assert rows.fetchone() == (len(PAGES), len(PAGES), sweep.ready)
    expected = key_of(PAGES)
    assert (
        Counter((one.path, one.check) for one in manager.findings.list("made", sweep=sweep_id))
        == expected.faults
    )
    assert (
        Counter(
            (one.check, one.pages, one.by_template)
            for one in manager.causes.list("made", sweep=sweep_id)
        )
        == expected.causes
    )


def workers_at(database: str) -> int:
    """Return how many takers of jobs say that they are there, two for each worker."""
    with psycopg.connect(database) as connection:
        row = connection.execute("SELECT count(*) FROM procrastinate_workers").fetchone()
    return row[0] if row is not None else 0


def kill_one_of(worker: Started, chance: random.Random) -> bool:
    """Kill a worker with all that it started, or only its browser, or only who assesses a page;
    tell whether the worker itself is gone."""
    below = chance.choice([lambda _: [], browsers_of, assessors_of])(worker)
    if below:
        with contextlib.suppress(ProcessLookupError):
            os.kill(chance.choice(below), signal.SIGKILL)
        return False
    kill_tree(worker)
    return True


def test_random_kills(running: Running, manager: PlumRake, made: list[MadePage]) -> None:
    """Two workers share sweeps; a dozen times one of them, its browser or its assessor is killed at
    random. Nothing twice, nothing lost. (``PLUMRAKE_KILLS=100`` for more.)"""
    chance = random.Random(4)
    workers = [running.start("worker"), running.start("worker")]
    # each takes the jobs of sweeps and those of the gate
    wait_for(lambda: workers_at(running.database) >= 4, 120, "two workers")
    killed, sweeps = 0, []
    while killed < KILLS:
        sweep = manager.sweeps.start("made", fresh=True)
        sweeps.append(sweep.id)
        while manager.sweeps.show(sweep.id).state in ("queued", "running"):
            time.sleep(chance.uniform(0.5, 4))
            if killed < KILLS:
                victim = chance.randrange(2)
                if kill_one_of(workers[victim], chance):
                    workers[victim] = running.start("worker")
                killed += 1
    assert sweeps
    for sweep_id in sweeps:
        assert_whole(running, manager, sweep_id)
    for worker in workers:
        worker.terminate()
        worker.wait(20)


def test_database_restarted_in_mid_sweep(
    running: Running, manager: PlumRake, made: list[MadePage], own_cluster: Cluster
) -> None:
    """PostgreSQL restarts while pages are read: service and worker find it again, and the sweep
    ends whole."""
    worker = running.start("worker")
    sweep = manager.sweeps.start("made", fresh=True)
    wait_for(lambda: manager.sweeps.show(sweep.id).read >= 16, 60, "the first pages")
    own_cluster.restart()
    wait_for(lambda: manager.sweeps.show(sweep.id).state == "done", 180, "the end of the sweep")
    assert_whole(running, manager, sweep.id)
    worker.terminate()
    worker.wait(20)
