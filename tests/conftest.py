"""What the tests share: a private PostgreSQL, the demo site on loopback, the service and workers as
real processes."""

from __future__ import annotations

import asyncio
import contextlib
import os
import signal
import subprocess
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx
import hypothesis
import psycopg
import pytest
from playwright.sync_api import Browser, expect, sync_playwright

from plumrake.client import PlumRake
from plumrake.demo.cluster import address_as
from plumrake.demo.ports import free_port
from plumrake.demo.seed import SITE, cast, seed
from plumrake.lenses.rendered.jail import find_browser
from plumrake.models import Scope
from plumrake.records.roles import ROLES
from tests.preloaded import Started, preloaded
from tests.put_back import AsItWas
from tests.services import MIGRATED, Services, copied, services_started

MANAGER, EDITOR = "philippa@harrowmere.example", "ned@harrowmere.example"
PASSWORD = cast()["password"]
expect.set_options(timeout=20_000)  # a busy machine is no fault of the console
hypothesis.settings.register_profile(
    "busy", deadline=None, suppress_health_check=[hypothesis.HealthCheck.too_slow]
)
hypothesis.settings.load_profile("busy")  # nor of what is tried


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Modules that say ``TAKES_LONG = True`` go first, so that no process is left alone with one at
    the end; all else stays as it was mixed."""
    items.sort(key=lambda item: not getattr(getattr(item, "module", None), "TAKES_LONG", False))


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node: Any) -> None:
    """Give each process of a run in several the services that all of them share."""
    config = node.config
    if not hasattr(config, "shared_services"):
        config.shared_services = contextlib.ExitStack()
        config.services_given = config.shared_services.enter_context(services_started())
    node.workerinput["services"] = config.services_given.as_given()


def pytest_unconfigure(config: pytest.Config) -> None:
    """Stop what was started for all processes."""
    if hasattr(config, "shared_services"):
        config.shared_services.close()


@pytest.fixture(scope="session")
def services(request: pytest.FixtureRequest) -> Iterator[Services]:
    """The services of the whole run, started once whatever number of processes tests."""
    given = getattr(request.config, "workerinput", {}).get("services")
    if given is not None:
        yield Services.from_given(given)
        return
    with services_started() as started:
        yield started


@pytest.fixture(scope="session")
def postgres(services: Services) -> str:
    """The address of the run's PostgreSQL server."""
    return services.postgres


def begins_swept(request: pytest.FixtureRequest) -> bool:
    """Tell whether a module says ``BEGINS_SWEPT = True``: it starts with a finished sweep of the
    demo's live environment."""
    return bool(getattr(request.module, "BEGINS_SWEPT", False))


@pytest.fixture(scope="module")
def database(request: pytest.FixtureRequest, postgres: str) -> str:
    """The address of a migrated database of the module's own: empty, or with the swept demo where
    the module begins so."""
    return copied(
        postgres, request.getfixturevalue("swept_template") if begins_swept(request) else MIGRATED
    )


@pytest.fixture(scope="module")
def as_it_was(database: str) -> AsItWas:
    """What the module's fixtures put into its database."""
    return AsItWas(database)


@pytest.fixture(autouse=True)
def put_back(request: pytest.FixtureRequest) -> Iterator[None]:
    """Each test finds the database as the module's fixtures left it, whatever ran before."""
    if "database" not in request.fixturenames:
        yield
        return
    as_it_was: AsItWas = request.getfixturevalue("as_it_was")
    as_it_was.take()
    yield
    as_it_was.put_back()


@pytest.fixture(scope="session")
def demo_files(services: Services) -> Path:
    """The demo site's files, a folder per environment, as they are served by ``demo_site``. They
    are everybody's: no test changes them."""
    return services.demo_files


@pytest.fixture(scope="session")
def demo_site(services: Services) -> dict[str, str]:
    """The demo site's environments on loopback: environment to origin."""
    return services.origins


@dataclass
class Running:
    """The service and its workers as processes of this test run."""

    database: str
    port: int
    folder: Path
    children: list[Started] = field(default_factory=list)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self, part: str, **settings: str) -> Started:
        """Start ``serve`` or ``worker`` with settings by their names without prefix."""
        environment = {
            **os.environ,
            "PLUMRAKE_DATABASE": address_as(self.database, ROLES[part]),
            "PLUMRAKE_PORT": str(self.port),
            "PLUMRAKE_PAGE_SECONDS": "20",
            "PLUMRAKE_REQUESTS_A_MINUTE": "100000",
        }
        environment |= {f"PLUMRAKE_{name.upper()}": value for name, value in settings.items()}
        log = self.folder / f"{part}.log"
        log.touch()
        child = preloaded.start(part, environment, log)
        self.children.append(child)
        return child

    def wait_until_ready(self) -> None:
        """Wait until the service answers."""
        wait_for(
            lambda: _answers(f"{self.address}/health/ready"),
            90,
            lambda: f"the service; {self.logs()}",
        )

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


def token_of(rake: PlumRake, *scopes: Scope) -> str:
    """Return the secret of a token of whoever is signed in, however long ago that was."""
    rake.people.confirm(PASSWORD)
    return rake.people.make_token("test", [*scopes]).secret or ""


def _answers(address: str) -> bool:
    try:
        return httpx.get(address, timeout=2).is_success
    except httpx.TransportError:
        return False


def wait_for(
    condition: Callable[[], object], seconds: float, what: str | Callable[[], str]
) -> None:
    """Wait until ``condition()`` is true; fail with ``what`` (said then) after ``seconds``."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if condition():
            return
        time.sleep(0.1)
    pytest.fail(f"waited {seconds} s for {what if isinstance(what, str) else what()}")


def fill_with_demo(database: str, origins: dict[str, str]) -> None:
    """Put the demo's people and site into a database."""

    async def fill() -> None:
        async with await psycopg.AsyncConnection.connect(database) as connection:
            await seed(connection, f"{origins['live']}/", f"{origins['staging']}/")

    with ThreadPoolExecutor(
        1
    ) as elsewhere:  # the browser's test library may have a loop in this thread
        elsewhere.submit(asyncio.run, fill()).result()


@pytest.fixture(scope="session")
def swept_template(services: Services, tmp_path_factory: pytest.TempPathFactory) -> str:
    """The name of a database in which the demo's live environment was swept once, that others are
    copied from. The first process that needs it makes it; others wait for that."""
    name = "template_swept"
    with services.alone_with(name) as is_there:
        if is_there:
            return name
        database = copied(services.postgres, MIGRATED, f"{name}_{os.getpid()}")
        fill_with_demo(database, services.origins)
        running = Running(database, free_port(), tmp_path_factory.mktemp("swept"))
        running.start("serve")
        running.wait_until_ready()
        running.start("worker")
        with running.client() as rake:
            sweep = rake.sweeps.start(SITE)
            assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
        running.stop()
        services.rename(database, name)
    return name


@pytest.fixture(scope="module")
def running(
    request: pytest.FixtureRequest,
    database: str,
    demo_site: dict[str, str],
    tmp_path_factory: pytest.TempPathFactory,
) -> Iterator[Running]:
    """The service on a database with the demo's people and site; workers are started by whoever
    needs them."""
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
    """The finished sweep of the live environment that the module begins with; a worker is there."""
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
