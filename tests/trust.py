"""A demo of a module's own, whose files may be changed, with a mailbox that catches letters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest

from plumrake.client import PlumRake
from plumrake.connect.caught import catch_letters
from plumrake.demo.server import make_server
from plumrake.demo.site import EDITIONS, write_edition
from tests.conftest import Running, fill_with_demo, free_port, serve_in_thread

PEOPLE = ("philippa", "ned", "imke", "ruth", "osric", "tamsin")


@dataclass
class Trust:
    """The running demo: its service, the folder of its staging files, its people signed in."""

    running: Running
    live: Path
    staging: Path
    letters: Path
    mail_port: int
    people: dict[str, PlumRake]

    @property
    def manager(self) -> PlumRake:
        return self.people["philippa"]


@pytest.fixture(scope="module")
def trust(database: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Trust]:
    """The Trust with service, worker and mailbox."""
    folder, origins, servers = tmp_path_factory.mktemp("trust"), {}, []
    for edition in EDITIONS:
        (folder / edition).mkdir()
        servers.append(make_server(folder / edition, 0))
        origins[edition] = serve_in_thread(servers[-1])
        write_edition(edition, folder / edition, origins[edition])
    fill_with_demo(database, origins)
    port = free_port()
    catcher = catch_letters(folder / "letters", port)
    mail = {"mail_host": "127.0.0.1", "mail_port": str(port), "mail_folder": str(folder / "letters")}
    running = Running(database, free_port(), folder)
    running.start("serve", **mail)
    running.wait_until_ready()
    running.start("worker", address=running.address, **mail)
    people = {name: running.client(f"{name}@harrowmere.example") for name in PEOPLE}
    yield Trust(running, folder / "live", folder / "staging", folder / "letters", port, people)
    for rake in people.values():
        rake.close()
    running.stop()
    catcher.stop()
    for server in servers:
        server.shutdown()
