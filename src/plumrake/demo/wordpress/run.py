"""``plumrake demo wordpress``: a real WordPress beside a service, a worker and a database of their
own, until Ctrl-C."""

from __future__ import annotations

import asyncio
from pathlib import Path
from typing import Final

import psycopg

from plumrake import models
from plumrake.actions.people import add_person
from plumrake.client import PlumRake
from plumrake.demo.cluster import reachable
from plumrake.demo.processes import Processes, Say
from plumrake.demo.wordpress.content import AUTHORS, ITEMS
from plumrake.demo.wordpress.garden import fill
from plumrake.demo.wordpress.server import ADMIN, WordPress
from plumrake.records import people
from plumrake.records.migrate import migrate

SITE: Final = "garden"
PASSWORD: Final = "tarn-and-vale-demo"  # noqa: S105 - made up, and told at the start
"""The password of everybody in the demo's WordPress and service."""
MANAGER: Final = "orla"


class WordPressDemo:
    """Everything that the WordPress demo starts, so that all of it can be stopped."""

    def __init__(self, folder: Path, port: int, say: Say) -> None:
        self.folder = folder
        self._say = say
        self._processes = Processes(folder, port, say, database="garden-database")
        self._wordpress = WordPress(reachable(folder / "garden-wordpress"), port + 1)

    def up(self) -> None:
        """Start everything, say where it is, and watch over it until a signal comes. Raises
        ``ClusterError``, ``OSError``."""
        try:
            self._processes.watch(self._begin)
        finally:
            self._say("stopping")
            self._processes.stop()
            self._wordpress.stop()

    def _begin(self) -> None:
        self._start()
        self._tell()

    def _start(self) -> None:
        self._say("starting PostgreSQL, the service and a worker")
        self._processes.cluster.start()
        migrate(self._processes.cluster.address)
        asyncio.run(self._add_people())
        for name in ("serve", "worker"):
            self._processes.run(name)
        self._processes.wait_until_ready()
        self._say("starting WordPress and MariaDB")
        self._wordpress.start()
        with PlumRake(self._processes.address) as rake:
            rake.people.sign_in(f"{MANAGER}@tarnvale.example", PASSWORD)
            if all(site.slug != SITE for site in rake.sites.list()):
                self._connect(rake)

    async def _add_people(self) -> None:
        async with await psycopg.AsyncConnection.connect(
            self._processes.cluster.address
        ) as connection:
            for name, (called, _) in AUTHORS.items():
                email = f"{name}@tarnvale.example"
                if await people.person_by_email(connection, email) is None:
                    role = "manager" if name == MANAGER else "editor"
                    await add_person(connection, email, called, role, PASSWORD)

    def _connect(self, rake: PlumRake) -> None:
        """Register the site, fill it, and connect the two both ways."""
        rake.sites.add(
            models.NewSite(
                slug=SITE,
                name="Tarn Vale Botanic Garden",
                live_address=f"{self._wordpress.address}/",
                found_by="sitemap",
                private_leave=True,
                policy={"corrections": "write"},
            )
        )
        token = rake.people.make_token("WordPress", ["gate"], SITE)
        plugin = {
            "service": self._processes.address,
            "site": SITE,
            "token": token.secret,
            "user": "plumrake",
            "lens": "rendered",
            "wait": 20,
            "closed": True,
        }
        self._say(f"filling it with {len(ITEMS)} items by {len(AUTHORS)} authors")
        filled = fill(self._wordpress, PASSWORD, plugin)
        connection = models.NewConnection(
            kind="wordpress",
            address=self._wordpress.address,
            user="plumrake",
            secret=filled.password,
        )
        rake.corrections.connect(SITE, "live", connection)
        rake.items.sync(SITE)
        sweep = rake.sweeps.start(SITE)
        self._say(f"  first sweep is under way (number {sweep.id})")

    def _tell(self) -> None:
        self._say("")
        self._say(f"Plum Rake is at {self._processes.address}")
        self._say(f"  sign in as {MANAGER}@tarnvale.example with the password {PASSWORD}")
        self._say(f"WordPress is at {self._wordpress.address}/wp-admin/")
        names = ", ".join(AUTHORS)
        self._say(f"  sign in as one of {names} with the same password")
        self._say(f"  or as {ADMIN}, who administrates it, with {self._wordpress.password}")
        self._say(f"  logs are below {self.folder}; Ctrl-C stops everything")
