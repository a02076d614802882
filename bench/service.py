"""Database, service and workers of a benchmark's own."""

from __future__ import annotations

import asyncio
import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path

import psutil
import psycopg

from plumrake import models
from plumrake.actions.people import add_person
from plumrake.client import PlumRake, PlumRakeError
from plumrake.demo.cluster import Cluster
from plumrake.demo.ports import free_port
from plumrake.demo.server import make_server
from plumrake.demo.site import write_environment
from plumrake.records.migrate import migrate
from plumrake.records.roles import ROLES

EMAIL, PASSWORD = "bench@harrowmere.example", "bench on loopback"


@dataclass(frozen=True, slots=True)
class Running:
    """A running service: a signed-in client, its address, its process, the workers' processes, the
    database's address, and what restarts the database or starts a worker."""

    rake: PlumRake
    address: str
    service: psutil.Process
    workers: list[psutil.Process]
    database: str
    restart_database: Callable[[], None]
    start_worker: Callable[[], psutil.Process]

    def kill_worker(self, number: int) -> None:
        """Kill a worker without a word, and start another in its place."""
        self.workers[number].kill()
        self.workers[number] = self.start_worker()

    def memory(self) -> int:
        """Return the bytes of memory of all workers with their browsers."""
        return sum(memory_of(worker) for worker in self.workers)


@contextlib.contextmanager
def running(workers: int = 1, **settings: str) -> Iterator[Running]:
    """Run database, service and so many workers, with settings by their names without prefix."""
    folder = Path(tempfile.mkdtemp(prefix="plr-bench-"))
    cluster = Cluster(folder)
    cluster.start()
    migrate(cluster.address)
    asyncio.run(_add_manager(cluster.address))
    port = str(free_port())
    environment = {
        **os.environ,
        "PLUMRAKE_PORT": port,
        "PLUMRAKE_REQUESTS_A_MINUTE": "100000",
    }
    environment |= {f"PLUMRAKE_{name.upper()}": value for name, value in settings.items()}
    quiet = subprocess.DEVNULL
    children: list[subprocess.Popen[bytes]] = []

    def start(part: str) -> psutil.Process:
        place = {"PLUMRAKE_DATABASE": cluster.address_as(ROLES[part])}
        words = [sys.executable, "-m", "plumrake", part]
        child = subprocess.Popen(words, env=environment | place, stdout=quiet, stderr=quiet)
        children.append(child)
        return psutil.Process(child.pid)

    service = start("serve")
    reading = [start("worker") for _ in range(workers)]
    address = f"http://127.0.0.1:{port}"
    try:
        with PlumRake(address) as rake:
            for _ in range(100):
                with contextlib.suppress(PlumRakeError):
                    rake.people.sign_in(EMAIL, PASSWORD)
                    break
                time.sleep(0.2)
            yield Running(
                rake,
                address,
                service,
                reading,
                cluster.address,
                cluster.restart,
                partial(start, "worker"),
            )
    finally:
        for child in children:
            child.terminate()
            child.wait(15)
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


async def _add_manager(database: str) -> None:
    async with await psycopg.AsyncConnection.connect(database) as connection:
        await add_person(connection, EMAIL, "Bench", "manager", PASSWORD)


def memory_of(process: psutil.Process) -> int:
    """Return the bytes of memory of a process and all below it."""
    total = 0
    with contextlib.suppress(psutil.Error):
        for one in [process, *process.children(recursive=True)]:
            with contextlib.suppress(psutil.Error):
                total += one.memory_info().rss
    return total


@contextlib.contextmanager
def served(folder: Path, host: str = "127.0.0.1") -> Iterator[str]:
    """Serve the files of a folder; give their origin."""
    server = make_server(folder, 0, host)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://{host}:{server.server_address[1]}"
    finally:
        server.shutdown()


@contextlib.contextmanager
def demo_site(rake: PlumRake, slug: str) -> Iterator[tuple[Path, str]]:
    """Serve the demo's live pages and register them as a site; give their folder and origin."""
    with tempfile.TemporaryDirectory() as folder:
        server = make_server(Path(folder), 0)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        origin = f"http://127.0.0.1:{server.server_address[1]}"
        write_environment("live", Path(folder), origin)
        rake.sites.add(
            models.NewSite(slug=slug, name="Bench", live_address=f"{origin}/", private_leave=True)
        )
        yield Path(folder), origin
        server.shutdown()
