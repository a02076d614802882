"""``plumrake demo up``: database, demo site in two environments, service and worker, until
Ctrl-C."""

from __future__ import annotations

import asyncio
import threading
import time
from pathlib import Path

import psycopg
from aiosmtpd.controller import Controller

from plumrake import models
from plumrake.client import NotValid, PlumRake
from plumrake.demo import second_site
from plumrake.demo.cms import restore_published
from plumrake.demo.processes import Processes, Say, secret
from plumrake.demo.seed import SITE, cast, seed
from plumrake.demo.server import make_server
from plumrake.demo.site import ENVIRONMENTS, write_environment
from plumrake.outbound.caught_emails import catch_emails
from plumrake.records.migrate import migrate

_READY_SECONDS = 30.0


class Demo:
    """Everything that the demo starts, so that all of it can be stopped."""

    def __init__(self, folder: Path, port: int, say: Say) -> None:
        self.folder = folder
        self.port = port
        self._say = say
        self._processes = Processes(folder, port, say, self._settings())
        self._cluster = self._processes.cluster
        self._emails = folder / "e-mails"
        self._catcher: Controller | None = None

    @property
    def address(self) -> str:
        """Where the console is."""
        return self._processes.address

    @property
    def _second(self) -> str:
        return f"http://127.0.0.1:{self.port + 6}"

    def up(self) -> None:
        """Start everything, say where it is, and watch over it until a signal comes. Raises
        ``ClusterError``, ``OSError``."""
        try:
            self._processes.watch(self._begin)
        finally:
            self._stop()

    def _begin(self) -> None:
        self._start()
        self._tell()

    def _settings(self) -> dict[str, str]:
        """Return what its processes are told beside where the database is."""
        return {
            "PLUMRAKE_MAIL_HOST": "127.0.0.1",
            "PLUMRAKE_MAIL_PORT": str(self.port + 3),
            "PLUMRAKE_MAIL_FROM": "Plum Rake <plumrake@harrowmere.example>",
            "PLUMRAKE_MAIL_FOLDER": str(self.folder / "e-mails"),
            "PLUMRAKE_SITE_FOLDERS": str((self.folder / "site").resolve()),
            "PLUMRAKE_DESCRIBER": f"http://127.0.0.1:{self.port + 5}/",
            "PLUMRAKE_DESCRIBER_TOKEN": secret(self.folder, "describer-token"),
        }

    def _start(self) -> None:
        self._say("building the demo site in two environments")
        for offset, environment in enumerate(ENVIRONMENTS, start=1):
            origin = f"http://127.0.0.1:{self.port + offset}"
            pages = write_environment(environment, self.folder / "site" / environment, origin)
            server = make_server(self.folder / "site" / environment, self.port + offset)
            threading.Thread(target=server.serve_forever, daemon=True).start()
            self._say(f"  {environment:<8} {pages} pages at {origin}")
        second_site.write_pages(self.folder / "site" / "second")
        server = make_server(self.folder / "site" / "second", self.port + 6)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self._say(f"  and a second site of other people at {self._second}")
        restore_published(self.folder / "cms", self.folder / "site" / "live")
        self._say(f"starting PostgreSQL below {self._cluster.folder}")
        self._cluster.start()
        applied = migrate(self._cluster.address)
        self._say(f"  database ready, {len(applied)} migrations applied")
        asyncio.run(self._seed())
        self._catcher = catch_emails(self._emails, self.port + 3)
        self._say(
            f"catching e-mails at 127.0.0.1:{self.port + 3}; the console shows them under E-mails"
        )
        secret(self.folder, "cms/corrections-secret")
        self._say("starting service, worker and the stand-in describer")
        for name in ("serve", "worker", "describer"):
            self._run(name)
        self._processes.wait_until_ready()
        self._first_sweep()
        self._start_cms()

    def _start_cms(self) -> None:
        """Start the stand-in CMS, which hears of the gate's answers by webhook, and takes
        corrections of the live site; those of staging are written to its folder."""
        known = cast()
        with PlumRake(self.address) as rake:
            rake.people.sign_in(known["people"][0]["email"], known["password"])
            secret_file, place = (
                self.folder / "cms" / "webhook-secret",
                f"http://127.0.0.1:{self.port + 4}/webhook",
            )
            secret_file.parent.mkdir(parents=True, exist_ok=True)
            if not secret_file.is_file() or all(
                one.address != place for one in rake.notifications.webhooks(SITE)
            ):
                made = rake.notifications.add_webhook(
                    SITE, place, ["clearance.answered", "release.answered"]
                )
                secret_file.write_text(made.secret or "")
                secret_file.chmod(0o600)
            self._run("cms")
            self._connect_sources(rake)

    def _connect_sources(self, rake: PlumRake) -> None:
        """Say where the site's sources are, unless that was said before."""
        if len(list(rake.corrections.connections(SITE))) == len(ENVIRONMENTS):
            return
        site = rake.sites.show(SITE)
        policy = {**site.policy, "corrections": "write", "describer": "on-request"}
        rake.sites.change(SITE, models.SiteChange(policy=policy), site.tag)
        folder = str((self.folder / "site" / "staging").resolve())
        rake.corrections.connect(
            SITE, "staging", models.NewConnection(kind="folder", folder=folder)
        )
        cms = models.NewConnection(
            kind="stand-in",
            address=f"http://127.0.0.1:{self.port + 4}",
            secret=secret(self.folder, "cms/corrections-secret"),
        )
        end = time.monotonic() + _READY_SECONDS
        while True:
            try:
                rake.corrections.connect(SITE, "live", cms)
            except NotValid:
                if time.monotonic() >= end:
                    raise
                time.sleep(0.3)
            else:
                return

    async def _seed(self) -> None:
        async with await psycopg.AsyncConnection.connect(self._cluster.address) as connection:
            await seed(
                connection,
                f"http://127.0.0.1:{self.port + 1}/",
                f"http://127.0.0.1:{self.port + 2}/",
            )
            await second_site.seed_second(connection, f"{self._second}/", cast()["password"])

    def _run(self, name: str) -> None:
        self._processes.run(name, self._words_of(name))

    def _words_of(self, name: str) -> list[str]:
        if name == "describer":
            token = str(self.folder / "describer-token")
            return ["demo", "describer", "--token-file", token, "--port", str(self.port + 5)]
        if name != "cms":
            return [name]
        live, drafts = self.folder / "site" / "live", self.folder / "cms"
        return [
            "demo",
            "cms",
            "--live",
            str(live),
            "--drafts",
            str(drafts),
            "--service",
            self.address,
            "--port",
            str(self.port + 4),
        ]

    def _first_sweep(self) -> None:
        """Start a sweep of each environment that was never swept."""
        known = cast()
        with PlumRake(self.address) as rake:
            rake.people.sign_in(known["people"][0]["email"], known["password"])
            swept = {sweep.environment for sweep in rake.sweeps.list(SITE)}
            for environment in ENVIRONMENTS:
                if environment not in swept:
                    sweep = rake.sweeps.start(SITE, environment=environment)
                    self._say(f"  first sweep of {environment} is under way (number {sweep.id})")
            if not list(rake.sweeps.list(second_site.SITE)):
                rake.sweeps.start(second_site.SITE)

    def _tell(self) -> None:
        known = cast()
        self._say("")
        self._say(f"Plum Rake is at {self.address}")
        self._say(
            f"  sign in as {known['people'][0]['email']} with the password {known['password']}"
        )
        self._say(f"  or, to see what people of another site see, as {second_site.PEOPLE[0][0]}")
        self._say(
            "the stand-in CMS, whose publish button asks the gate, is at "
            f"http://127.0.0.1:{self.port + 4}"
        )
        self._say("  sign in there as ruth@harrowmere.example with the same password")
        self._say(f"  logs are below {self.folder}; Ctrl-C stops everything")

    def _stop(self) -> None:
        self._say("stopping")
        if self._catcher is not None:
            self._catcher.stop()
        self._processes.stop()
