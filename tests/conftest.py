"""What the tests share: a private PostgreSQL, the demo site on loopback, the service and workers as real processes."""

from __future__ import annotations

import asyncio
import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from http.server import ThreadingHTTPServer
from pathlib import Path

import httpx
import psycopg
import pytest
from playwright.sync_api import Browser, sync_playwright

from plumrake.client import PlumRake
from plumrake.demo.cluster import Cluster
from plumrake.demo.seed import SITE, cast, seed
from plumrake.demo.server import make_server
from plumrake.demo.site import EDITIONS, write_edition
from plumrake.lenses.rendered.unprivileged import find_browser
from plumrake.records.migrate import migrate

MANAGER, EDITOR = "philippa@harrowmere.example", "ned@harrowmere.example"
PASSWORD = cast()["password"]


def free_port() -> int:
    """Return a port of loopback that nobody listens on."""
    with contextlib.closing(socket.socket()) as listener:
        listener.bind(("127.0.0.1", 0))
        return int(listener.getsockname()[1])


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A PostgreSQL server for the whole run."""
    folder = Path(tempfile.mkdtemp(prefix="plr-test-"))
    cluster = Cluster(folder)
    cluster.start()
    yield cluster
    cluster.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def template(cluster: Cluster) -> str:
    """The name of a migrated database that others are copied from."""
    with psycopg.connect(cluster.address, autocommit=True) as connection:
        connection.execute("CREATE DATABASE template_plumrake")
    migrate(cluster.address.rpartition("/")[0] + "/template_plumrake")
    return "template_plumrake"


def copied(cluster: Cluster, template: str, name: str = "") -> str:
    """Return the address of a new database that is a copy of another."""
    name = name or f"test_{uuid.uuid4().hex[:12]}"
    with psycopg.connect(cluster.address, autocommit=True) as connection:
        connection.execute(f"CREATE DATABASE {name} TEMPLATE {template}")  # type: ignore[arg-type]
    return f"{cluster.address.rpartition('/')[0]}/{name}"


def begins_swept(request: pytest.FixtureRequest) -> bool:
    """Tell whether a module says ``BEGINS_SWEPT = True``: it starts with a finished sweep of the demo's live edition."""
    return bool(getattr(request.module, "BEGINS_SWEPT", False))


@pytest.fixture(scope="module")
def database(request: pytest.FixtureRequest, cluster: Cluster, template: str) -> str:
    """The address of a migrated database of the module's own: empty, or with the swept demo where the module begins so."""
    return copied(cluster, request.getfixturevalue("swept_template") if begins_swept(request) else template)


def serve_in_thread(server: ThreadingHTTPServer) -> str:
    """Start a bound server in a thread; return its origin."""
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return f"http://127.0.0.1:{server.server_address[1]}"


@pytest.fixture(scope="session")
def demo_files(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo site's files, a folder per edition, as they are served by ``demo_site``."""
    return tmp_path_factory.mktemp("demo")


@pytest.fixture(scope="session")
def demo_site(demo_files: Path) -> Iterator[dict[str, str]]:
    """The demo site's editions on loopback: edition to origin."""
    origins, servers = {}, []
    for edition in EDITIONS:
        (demo_files / edition).mkdir()
        server = make_server(demo_files / edition, 0)
        servers.append(server)
        origins[edition] = serve_in_thread(server)
        write_edition(edition, demo_files / edition, origins[edition])
    yield origins
    for server in servers:
        server.shutdown()


@dataclass
class Running:
    """The service and its workers as processes of this test run."""

    database: str
    port: int
    folder: Path
    children: list[subprocess.Popen[bytes]] = field(default_factory=list)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self, part: str, **settings: str) -> subprocess.Popen[bytes]:
        """Start ``serve`` or ``worker`` with settings by their names without prefix."""
        environment = {**os.environ, "PLUMRAKE_DATABASE": self.database, "PLUMRAKE_PORT": str(self.port), "PLUMRAKE_PAGE_SECONDS": "8"}
        environment |= {f"PLUMRAKE_{name.upper()}": value for name, value in settings.items()}
        log = (self.folder / f"{part}.log").open("ab")
        child = subprocess.Popen(
            [sys.executable, "-m", "plumrake", part],
            env=environment,
            stdout=log,
            stderr=log,
            stdin=subprocess.DEVNULL,
            start_new_session=True,
        )
        self.children.append(child)
        return child

    def wait_until_ready(self) -> None:
        """Wait until the service answers."""
        wait_for(lambda: _answers(f"{self.address}/health/ready"), 30, f"the service; {self.logs()}")

    def logs(self) -> str:
        """Return the ends of the logs."""
        return "\n".join(file.read_text()[-2000:] for file in self.folder.glob("*.log"))

    def client(self, email: str = MANAGER) -> PlumRake:
        """Return a client that is signed in."""
        rake = PlumRake(self.address)
        rake.people.sign_in(email, PASSWORD)
        return rake

    def stop(self) -> None:
        """Stop every process that still runs."""
        for child in self.children:
            if child.poll() is None:
                child.send_signal(signal.SIGTERM)
        for child in self.children:
            with contextlib.suppress(ProcessLookupError):
                try:
                    child.wait(10)
                except subprocess.TimeoutExpired:
                    os.killpg(child.pid, signal.SIGKILL)


def _answers(address: str) -> bool:
    try:
        return httpx.get(address, timeout=2).is_success
    except httpx.TransportError:
        return False


def wait_for(condition: object, seconds: float, what: str) -> None:
    """Wait until ``condition()`` is true; fail with ``what`` after ``seconds``."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if condition():  # type: ignore[operator]
            return
        time.sleep(0.1)
    pytest.fail(f"waited {seconds} s for {what}")


def fill_with_demo(database: str, origins: dict[str, str]) -> None:
    """Put the demo's people and site into a database."""

    async def fill() -> None:
        async with await psycopg.AsyncConnection.connect(database) as connection:
            await seed(connection, f"{origins['live']}/", f"{origins['staging']}/")

    with ThreadPoolExecutor(1) as elsewhere:  # the browser's test library may have a loop in this thread
        elsewhere.submit(asyncio.run, fill()).result()


@pytest.fixture(scope="session")
def swept_template(cluster: Cluster, template: str, demo_site: dict[str, str], tmp_path_factory: pytest.TempPathFactory) -> str:
    """The name of a database in which the demo's live edition was swept once, that others are copied from."""
    name = "template_swept"
    database = copied(cluster, template, name)
    fill_with_demo(database, demo_site)
    running = Running(database, free_port(), tmp_path_factory.mktemp("swept"))
    running.start("serve")
    running.wait_until_ready()
    running.start("worker")
    with running.client() as rake:
        sweep = rake.sweeps.start(SITE)
        assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    running.stop()
    return name


@pytest.fixture(scope="module")
def running(request: pytest.FixtureRequest, database: str, demo_site: dict[str, str], tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """The service on a database with the demo's people and site; workers are started by whoever needs them."""
    if not begins_swept(request):
        fill_with_demo(database, demo_site)
    running = Running(database, free_port(), tmp_path_factory.mktemp("running"))
    running.start("serve")
    running.wait_until_ready()
    yield running
    running.stop()


@pytest.fixture(scope="module")
def manager(running: Running) -> Iterator[PlumRake]:
    """The demo's manager, signed in."""
    with running.client() as rake:
        yield rake


@pytest.fixture(scope="module")
def swept(running: Running, manager: PlumRake) -> int:
    """The finished sweep of the live edition that the module begins with; a worker is there."""
    running.start("worker")
    [sweep] = manager.sweeps.list(SITE)
    return sweep.id


@pytest.fixture(scope="module")
def browser() -> Iterator[Browser]:
    """A headless Chromium to use the console with."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_browser())
        yield browser
        browser.close()
