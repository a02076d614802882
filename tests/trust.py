"""A demo of a module's own, whose files may be changed, with a mailbox that catches e-mails."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import psycopg
import pytest
from psycopg.types.json import Jsonb

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.ports import free_port
from plumrake.demo.seed import SITE
from plumrake.demo.server import make_server
from plumrake.demo.site import ENVIRONMENTS, write_environment
from plumrake.outbound.caught_emails import catch_emails
from tests.conftest import Running, fill_with_demo
from tests.services import serve_in_thread

SLOWEST = "pictures/words-in-picture"
PEOPLE = ("philippa", "ned", "imke", "ruth", "osric", "tamsin")


@dataclass
class Trust:
    """The running demo: its service, the folder of its staging files, its people signed in."""

    running: Running
    live: Path
    staging: Path
    mailbox: Path
    mail_port: int
    people: dict[str, PlumRake]
    origins: dict[str, str]

    @property
    def manager(self) -> PlumRake:
        return self.people["philippa"]

    def write_files(self) -> None:
        """Let the files of both environments be as they are in the demo."""
        for environment, origin in self.origins.items():
            write_environment(environment, self.staging.parent / environment, origin)

    @contextmanager
    def policy(self, **more: object) -> Iterator[None]:
        """Add to the site's policy while the block lasts."""
        sites = self.manager.sites
        before = sites.show(SITE)
        sites.change(SITE, models.SiteChange(policy={**before.policy, **more}), before.tag)
        yield
        sites.change(SITE, models.SiteChange(policy=before.policy), sites.show(SITE).tag)


def leave_out_slowest(database: str) -> None:
    """Let the demo's policy do without the check that reads the words in pictures: it takes half of
    a reading's time, and what it finds is doubtful."""
    with psycopg.connect(database) as connection:
        connection.execute(
            "UPDATE site SET policy = policy || %s WHERE slug = %s",
            [Jsonb({"without": [SLOWEST]}), SITE],
        )


@pytest.fixture(autouse=True)
def files_as_written(request: pytest.FixtureRequest) -> Iterator[None]:
    """Each test finds the pages as the demo has them, whatever ran before."""
    yield
    if "trust" in request.fixturenames:
        request.getfixturevalue("trust").write_files()


@pytest.fixture(scope="module")
def trust(database: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Trust]:
    """The Trust with service, worker and mailbox."""
    folder, origins, servers = tmp_path_factory.mktemp("trust"), {}, []
    for environment in ENVIRONMENTS:
        (folder / environment).mkdir()
        servers.append(make_server(folder / environment, 0))
        origins[environment] = serve_in_thread(servers[-1])
        write_environment(environment, folder / environment, origins[environment])
    fill_with_demo(database, origins)
    leave_out_slowest(database)
    port = free_port()
    catcher = catch_emails(folder / "mailbox", port)
    mail = {
        "mail_host": "127.0.0.1",
        "mail_port": str(port),
        "mail_folder": str(folder / "mailbox"),
    }
    running = Running(database, free_port(), folder)
    running.start("serve", **mail)
    running.wait_until_ready()
    running.start("worker", address=running.address, **mail)
    people = {name: running.client(f"{name}@harrowmere.example") for name in PEOPLE}
    mailbox = folder / "mailbox"
    yield Trust(running, folder / "live", folder / "staging", mailbox, port, people, origins)
    for rake in people.values():
        rake.close()
    running.stop()
    catcher.stop()
    for server in servers:
        server.shutdown()
