"""A rolling upgrade: the database is migrated while the version before works on it, then the
service is the new one and the worker the old one, then both are new. Is anything lost, doubled or
refused?

``python -m bench.upgrade [COMMIT]``: the version before is a commit of this repository; default:
the one before the newest migration.
"""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import psycopg

from bench.made_site import make_pages, write_site
from bench.service import EMAIL, PASSWORD, served
from plumrake import models
from plumrake.client import PlumRake, PlumRakeError
from plumrake.demo.cluster import Cluster
from plumrake.demo.ports import free_port
from plumrake.records.roles import ROLES

ROOT = Path(__file__).parent.parent
MIGRATIONS = "src/plumrake/records/migrations"
PAGES = 150
PAGE = (
    "<!doctype html><html lang=en><title>Moorings</title>"
    "<main><h1>Moorings</h1>{}<p>Open all year.</p></main>"
)


def main(commit: str = "") -> None:
    """Print what each step of the upgrade did."""
    before = commit or _git("log", "-1", "--format=%H", "--", MIGRATIONS) + "^"
    folder = Path(tempfile.mkdtemp(prefix="plr-upgrade-"))
    with contextlib.ExitStack() as running:
        running.callback(shutil.rmtree, folder, ignore_errors=True)
        old = running.enter_context(_checked_out(before, folder / "before"))
        pages = make_pages(PAGES)
        write_site(folder / "site", pages)
        origin = running.enter_context(served(folder / "site"))
        cluster = Cluster(Path(tempfile.mkdtemp(prefix="plr-upgrade-db-")))
        running.callback(shutil.rmtree, cluster.folder, ignore_errors=True)
        cluster.start()
        running.callback(cluster.stop)
        parts = Parts(cluster, folder, free_port())
        running.callback(parts.stop)
        parts.migrate(old)
        parts.add_manager(old)
        print(f"the version before: {_git('log', '-1', '--format=%h %s', before)}")
        parts.start("serve", old)
        parts.start("worker", old)
        with PlumRake(parts.address) as rake:
            parts.sign_in(rake)
            rake.sites.add(
                models.NewSite(
                    slug="made",
                    name="Made",
                    live_address=f"{origin}/",
                    found_by="list",
                    listed_paths=[page.path for page in pages],
                    private_leave=True,
                )
            )
        _upgraded(parts, old)


class Parts:
    """The parts of the service, each of one version or the other."""

    def __init__(self, cluster: Cluster, folder: Path, port: int) -> None:
        self.cluster, self._folder, self._port = cluster, folder, port
        self.address = f"http://127.0.0.1:{port}"
        self._children: list[subprocess.Popen[bytes]] = []

    def _environment(self, database: str, source: Path) -> dict[str, str]:
        return {
            **os.environ,
            "PYTHONPATH": str(source / "src"),
            "PLUMRAKE_DATABASE": database,
            "PLUMRAKE_PORT": str(self._port),
            "PLUMRAKE_PAGE_SECONDS": "20",
        }

    def start(self, part: str, source: Path) -> subprocess.Popen[bytes]:
        """Start the service or a worker of a version."""
        environment = self._environment(self.cluster.address_as(ROLES[part]), source)
        with (self._folder / f"{part}.log").open("ab") as log:
            child = subprocess.Popen(
                [sys.executable, "-m", "plumrake", part], env=environment, stdout=log, stderr=log
            )
        self._children.append(child)
        return child

    def end(self, child: subprocess.Popen[bytes]) -> None:
        """Ask a part to end, and wait until it has."""
        child.terminate()
        with contextlib.suppress(subprocess.TimeoutExpired):
            child.wait(30)
        child.kill()

    def migrate(self, source: Path) -> float:
        """Migrate to a version, again where the tables were busy; return the seconds of it."""
        start = time.monotonic()
        for _ in range(20):
            done = subprocess.run(
                [sys.executable, "-m", "plumrake", "migrate"],
                env=self._environment(self.cluster.address, source),
                capture_output=True,
                text=True,
                check=False,
            )
            if done.returncode == 0:
                return time.monotonic() - start
            print(f"  again: {done.stderr.strip().splitlines()[-1]}")
        raise RuntimeError(done.stderr)

    def add_manager(self, source: Path) -> None:
        """Add the bench's person, by the version's own code."""
        code = (
            "import asyncio, os, psycopg\n"
            "from plumrake.actions.people import add_person\n"
            "async def add():\n"
            "    at = os.environ['PLUMRAKE_DATABASE']\n"
            "    async with await psycopg.AsyncConnection.connect(at) as connection:\n"
            f"        await add_person(connection, {EMAIL!r}, 'Bench', 'manager', {PASSWORD!r})\n"
            "asyncio.run(add())\n"
        )
        subprocess.run(
            [sys.executable, "-c", code],
            env=self._environment(self.cluster.address, source),
            check=True,
        )

    def sign_in(self, rake: PlumRake) -> None:
        """Sign in as soon as the service answers."""
        for _ in range(200):
            with contextlib.suppress(PlumRakeError):
                rake.people.sign_in(EMAIL, PASSWORD)
                return
            time.sleep(0.3)
        raise RuntimeError((self._folder / "serve.log").read_text()[-2000:])

    def stop(self) -> None:
        """End all that still runs."""
        for child in self._children:
            self.end(child)


def _upgraded(parts: Parts, old: Path) -> None:
    [serving, working] = parts._children
    with PlumRake(parts.address) as rake:
        parts.sign_in(rake)
        sweep = rake.sweeps.start("made")
        while (now := rake.sweeps.show(sweep.id)).read < PAGES // 5:
            time.sleep(0.5)
        seconds = parts.migrate(ROOT)
        after = rake.sweeps.show(sweep.id)
        print(
            f"migrated in {seconds:.1f} s while the version before read: {now.read} pages before, "
            f"{after.read} after"
        )
        _asked(rake, "old service, old worker")
    parts.end(serving)
    parts.start("serve", ROOT)
    with PlumRake(parts.address) as rake:
        parts.sign_in(rake)
        _asked(rake, "new service, old worker")
        _told(parts, rake, sweep.id, "the sweep that was under way")
        parts.start("worker", ROOT)
        fresh = rake.sweeps.start("made", fresh=True)
        while rake.sweeps.show(fresh.id).read < PAGES // 5:
            time.sleep(0.5)
        parts.end(working)
        _told(parts, rake, fresh.id, "a sweep by both, the old worker ended in it")
        _asked(rake, "new service, new worker")
        first, second = (
            sorted(
                (one.check, one.path, one.selector) for one in rake.findings.list("made", sweep=n)
            )
            for n in (sweep.id, fresh.id)
        )
        print(f"findings: {len(first)} and {len(second)}, the same: {first == second}")


def _told(parts: Parts, rake: PlumRake, sweep: int, what: str) -> None:
    for _ in range(2400):
        shown = rake.sweeps.show(sweep)
        if shown.state not in ("queued", "running"):
            break
        time.sleep(0.5)
    with psycopg.connect(parts.cluster.address) as connection:
        [(readings, pages)] = connection.execute(
            "SELECT count(*), count(DISTINCT page_id) FROM reading WHERE sweep_id = %s", [sweep]
        ).fetchall()
        [(failed,)] = connection.execute(
            "SELECT count(*) FROM procrastinate_jobs WHERE status = 'failed'"
        ).fetchall()
    print(
        f"{what}: {shown.state}, {shown.read} of {shown.total} read, {readings - pages} twice, "
        f"{shown.unreadable} unreadable, {failed} jobs failed"
    )


def _asked(rake: PlumRake, what: str) -> None:
    good = rake.gate.ask("made", "/moorings/", document=PAGE.format(""), lens="markup")
    bad = rake.gate.ask(
        "made", "/moorings/", document=PAGE.format("<img src=/a.png>"), lens="markup"
    )
    print(f"the gate, {what}: {good.decision} and {bad.decision}")


@contextlib.contextmanager
def _checked_out(commit: str, folder: Path) -> Iterator[Path]:
    _git("worktree", "add", "--detach", str(folder), commit)
    try:
        yield folder
    finally:
        _git("worktree", "remove", "--force", str(folder))


def _git(*words: str) -> str:
    return subprocess.run(
        ["git", "-C", str(ROOT), *words], capture_output=True, text=True, check=True
    ).stdout.strip()


if __name__ == "__main__":
    main(*sys.argv[1:])
