"""Workers on hosts of their own against one database: one host's network is cut in mid-sweep and
given back. Is anything lost or doubled, and how long do the others wait for what it held?

``python -m bench.hosts [PAGES] [HOSTS]`` (600 and 2), as root: each host is a network namespace
with a link of its own to the database and to the site. ``python -m bench.hosts pace [PAGES]``: how
fast one, two and four of them read so many pages each (60), every page in the browser, where each
has a third of a processor; and what the database spends on a page.
"""

from __future__ import annotations

import asyncio
import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg

from bench.made_site import make_pages, write_site
from bench.page_account import Account
from bench.service import EMAIL, PASSWORD, served
from plumrake.actions.people import add_person
from plumrake.actions.sweeps import SweepRequest, start_sweep
from plumrake.demo.cluster import Cluster, address_as
from plumrake.jobs.app import Queue, make_app
from plumrake.records import sites
from plumrake.records.migrate import migrate
from plumrake.records.roles import WORKING

NETWORK, HERE = "10.77.0.0/24", "10.77.0.1"
BRIDGE = "plr-bench"
CUT_SECONDS = 60.0
SHARE = 0.35
"""So much of a processor has each host where their paces are compared."""
DEADLINE = 1500.0
"""In seconds: a sweep that is not done by then is lost."""


def main(pages: int = 600, hosts: int = 2) -> None:
    """Print the pace before, during and after the cut, and what each host read."""
    with _sweep_under_way(pages, hosts, {}, None) as (connection, sweep):
        _watched(connection, sweep)


def compare_paces(pages: int = 60) -> None:
    """Print pages per second and the database's share of a page, by the number of hosts."""
    alone = 0.0
    for hosts in (1, 2, 4):
        policy = {"reading": "browser"}
        with _sweep_under_way(pages * hosts, hosts, policy, SHARE) as (connection, sweep):
            pace, spent = _paced(connection, sweep)
        alone = alone or pace
        print(
            f"{hosts} host(s) with {SHARE} of a processor each: {pace:.2f} pages/s, "
            f"{pace / alone:.2f} times one; database {1000 * spent:.0f} ms a page",
            flush=True,
        )


@contextlib.contextmanager
def _sweep_under_way(
    pages: int, hosts: int, policy: dict[str, Any], share: float | None
) -> Iterator[tuple[psycopg.Connection, int]]:
    """Give a connection and the number of a sweep that so many hosts read."""
    folder = Path(tempfile.mkdtemp(prefix="plr-hosts-"))
    made = make_pages(pages)
    write_site(folder / "site", made)
    with _network(hosts), contextlib.ExitStack() as running:
        running.callback(shutil.rmtree, folder, ignore_errors=True)
        cluster = Cluster(Path(tempfile.mkdtemp(prefix="plr-hosts-db-")), network=NETWORK)
        running.callback(shutil.rmtree, cluster.folder, ignore_errors=True)
        cluster.start()
        running.callback(cluster.stop)
        migrate(cluster.address)
        origin = running.enter_context(served(folder / "site", HERE))
        paths = [page.path for page in made]
        sweep = asyncio.run(_begun(cluster.address, f"{origin}/", paths, policy))
        for number in range(hosts):
            running.enter_context(_worker(number, cluster, folder, share))
        with psycopg.connect(cluster.address, autocommit=True) as connection:
            yield connection, sweep


def _paced(connection: psycopg.Connection, sweep: int) -> tuple[float, float]:
    """Return pages per second, and the database's processor seconds a page, from the first fifth of
    a sweep's pages to the last."""

    def when(share: float) -> tuple[float, int]:
        while True:
            [(state, done, total)] = connection.execute(_DONE, [sweep]).fetchall()
            if total and done >= total * share:
                return time.monotonic(), done
            assert state in ("queued", "running"), state
            time.sleep(0.5)

    begun, first = when(0.2)
    with Account() as account:
        ended, last = when(1.0)
    return (last - first) / (ended - begun), account.spent["database"] / (last - first)


def _run(words: str) -> None:
    subprocess.run(words.split(), check=True, capture_output=True)


@contextlib.contextmanager
def _network(hosts: int) -> Iterator[None]:
    """A bridge, and a namespace for each host with a link to it."""
    _gone(hosts)
    _run(f"ip link add {BRIDGE} type bridge")
    _run(f"ip addr add {HERE}/24 dev {BRIDGE}")
    _run(f"ip link set {BRIDGE} up")
    for number in range(hosts):
        _run(f"ip netns add plr-host{number}")
        _run(f"ip link add plr-out{number} type veth peer name eth0 netns plr-host{number}")
        _run(f"ip link set plr-out{number} master {BRIDGE} up")
        inside = f"ip -n plr-host{number}"
        _run(f"{inside} addr add 10.77.0.{10 + number}/24 dev eth0")
        _run(f"{inside} link set eth0 up")
        _run(f"{inside} link set lo up")
    try:
        yield
    finally:
        _gone(hosts)


def _gone(hosts: int) -> None:
    for number in range(hosts):
        with contextlib.suppress(subprocess.CalledProcessError):
            _run(f"ip netns del plr-host{number}")
        with contextlib.suppress(OSError):
            _group_of(number).rmdir()
    with contextlib.suppress(subprocess.CalledProcessError):
        _run(f"ip link del {BRIDGE}")


@contextlib.contextmanager
def _worker(number: int, cluster: Cluster, folder: Path, share: float | None) -> Iterator[None]:
    """A worker on a host, with so much of a processor; its connections say which host."""
    address = address_as(cluster.address, WORKING).replace("127.0.0.1", HERE)
    words = ["ip", "netns", "exec", f"plr-host{number}", sys.executable, "-m", "plumrake", "worker"]
    environment = {
        **os.environ,
        "PLUMRAKE_DATABASE": f"{address}?application_name=host{number}",
        "PLUMRAKE_PAGE_SECONDS": "20",
    }
    with (folder / f"worker{number}.log").open("wb") as log:
        child = subprocess.Popen(words, env=environment, stdout=log, stderr=log)
        if share is not None:
            _limit(number, child.pid, share)
        try:
            yield
        finally:
            child.terminate()
            try:
                child.wait(20)
            except subprocess.TimeoutExpired:
                child.kill()


_OF_PROCESSORS = Path("/sys/fs/cgroup/cpu")
"""Where control groups of the first version bound processors; those of the second do so above."""


def _group_of(number: int) -> Path:
    """Return the control group of a host."""
    root = _OF_PROCESSORS if _OF_PROCESSORS.is_dir() else _OF_PROCESSORS.parent
    return root / f"plr-host{number}"


def _limit(number: int, process: int, share: float) -> None:
    """Let a process and all that it starts have so much of a processor."""
    group, period = _group_of(number), 100_000
    group.mkdir(exist_ok=True)
    if group.parent == _OF_PROCESSORS:
        (group / "cpu.cfs_quota_us").write_text(str(int(share * period)))
    else:
        (group / "cpu.max").write_text(f"{int(share * period)} {period}")
    (group / "cgroup.procs").write_text(str(process))


async def _begun(database: str, address: str, paths: list[str], policy: dict[str, Any]) -> int:
    """Register the site and begin a sweep of it; return its number."""
    app = make_app(database)
    async with (
        app.open_async(),
        await psycopg.AsyncConnection.connect(database) as connection,
    ):
        person = await add_person(connection, EMAIL, "Bench", "manager", PASSWORD)
        site = await sites.add_site(
            connection,
            sites.NewSite(
                slug="made",
                name="Made",
                live_address=address,
                staging_address=None,
                found_by="list",
                listed_paths=paths,
                private_leave=True,
                policy=policy,
                parallel=8,
            ),
        )
        assert site is not None
        return await start_sweep(connection, site, Queue(app), SweepRequest(), person.id)


_DONE = "SELECT w.state, w.read + w.unreadable, w.total FROM sweep w WHERE w.id = %s"
"""What the database spends on telling this is spent on the bench, so it is little."""
_STATE = """
SELECT w.state, w.read + w.unreadable AS done, w.total,
    (SELECT count(*) FROM reading r WHERE r.sweep_id = w.id) AS readings,
    (SELECT count(DISTINCT page_id) FROM reading r WHERE r.sweep_id = w.id) AS pages,
    w.unreadable
FROM sweep w WHERE w.id = %s"""
_HELD = """
SELECT coalesce(max(extract(EPOCH FROM now() - a.xact_start)), 0)::float
FROM pg_stat_activity a WHERE a.application_name LIKE %s AND a.state <> 'idle'
    AND a.datname = current_database()"""


def _watched(connection: psycopg.Connection, sweep: int) -> None:
    """Cut the first host off in mid-sweep, give its network back, and wait for the end."""
    began = time.monotonic()
    cut = back = 0.0
    at_cut = at_back = 0
    longest_held = 0.0
    while time.monotonic() - began < DEADLINE:
        [(state, done, total, readings, distinct, unread)] = connection.execute(
            _STATE, [sweep]
        ).fetchall()
        if not cut and total and done >= total // 4:
            _run("ip link set plr-out0 down")
            cut, at_cut = time.monotonic(), done
            print(f"host 0 cut off after {done} of {total} pages, {cut - began:.0f} s", flush=True)
        if cut and not back:
            [(held,)] = connection.execute(_HELD, ["host0%"]).fetchall()
            longest_held = max(longest_held, held)
            if time.monotonic() - cut > CUT_SECONDS or state == "done":
                _run("ip link set plr-out0 up")
                back, at_back = time.monotonic(), done
                print(f"given back after {back - cut:.0f} s, {done} pages", flush=True)
        if state in ("done", "failed"):
            break
        time.sleep(0.5)
    end = time.monotonic()
    print(f"the sweep is {state} after {end - began:.0f} s: {done} of {total} pages done")
    print(f"  read twice {readings - distinct}, not read {total - distinct}, unreadable {unread}")
    print(f"  longest transaction of the host that was cut off: {longest_held:.0f} s")
    if cut and back > cut and end > back:
        print(
            f"  pages/s before {at_cut / (cut - began):.1f}, with one host less "
            f"{(at_back - at_cut) / (back - cut):.1f}, after {(done - at_back) / (end - back):.1f}"
        )
    [(jobs,)] = connection.execute(
        "SELECT count(*) FROM procrastinate_jobs WHERE status = 'failed'"
    ).fetchall()
    print(f"  jobs that failed for good: {jobs}")


if __name__ == "__main__":
    if sys.argv[1:2] == ["pace"]:
        compare_paces(*map(int, sys.argv[2:]))
    else:
        main(*map(int, sys.argv[1:]))
