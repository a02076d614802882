"""``plumrake demo up``: database, demo site in two environments, service and worker, until
Ctrl-C."""

from __future__ import annotations

import asyncio
import base64
import os
import secrets
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path

import httpx
import psycopg
from aiosmtpd.controller import Controller

from plumrake import models
from plumrake.client import NotValid, PlumRake
from plumrake.demo.cluster import Cluster, ClusterError
from plumrake.demo.cms import restore_published
from plumrake.demo.seed import SITE, cast, seed
from plumrake.demo.server import make_server
from plumrake.demo.site import ENVIRONMENTS, write_environment
from plumrake.outbound.caught_emails import catch_emails
from plumrake.records.migrate import migrate

Say = Callable[[str], None]

_READY_SECONDS = 30.0


class Demo:
    """Everything that the demo starts, so that all of it can be stopped."""

    def __init__(self, folder: Path, port: int, say: Say) -> None:
        self.folder = folder
        self.port = port
        self._say = say
        self._children: dict[str, subprocess.Popen[bytes]] = {}
        self._cluster = Cluster(folder / "database")
        self._emails = folder / "e-mails"
        self._catcher: Controller | None = None
        self._stopping = threading.Event()

    @property
    def address(self) -> str:
        """Where the console is."""
        return f"http://127.0.0.1:{self.port}"

    def up(self) -> None:
        """Start everything, say where it is, and watch over it until a signal comes. Raises
        ``ClusterError``, ``OSError``."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: self._stopping.set())
        try:
            self._start()
            self._tell()
            while not self._stopping.wait(1.0):
                self._keep_running()
        finally:
            self._stop()

    def _start(self) -> None:
        self._say("building the demo site in two environments")
        for offset, environment in enumerate(ENVIRONMENTS, start=1):
            origin = f"http://127.0.0.1:{self.port + offset}"
            pages = write_environment(environment, self.folder / "site" / environment, origin)
            server = make_server(self.folder / "site" / environment, self.port + offset)
            threading.Thread(target=server.serve_forever, daemon=True).start()
            self._say(f"  {environment:<8} {pages} pages at {origin}")
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
        self._secret("cms/corrections-secret")
        self._say("starting service, worker and the stand-in describer")
        for name in ("serve", "worker", "describer"):
            self._run(name)
        self._wait_until_ready()
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
            secret=self._secret("cms/corrections-secret"),
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

    def _secret(self, name: str) -> str:
        """Return a secret of the demo's own, made once; a key as Fernet wants it."""
        file = self.folder / name
        if not file.is_file():
            file.parent.mkdir(parents=True, exist_ok=True)
            file.touch(0o600)
            file.write_bytes(base64.urlsafe_b64encode(secrets.token_bytes(32)))
        return file.read_text()

    async def _seed(self) -> None:
        async with await psycopg.AsyncConnection.connect(self._cluster.address) as connection:
            await seed(
                connection,
                f"http://127.0.0.1:{self.port + 1}/",
                f"http://127.0.0.1:{self.port + 2}/",
            )

    def _run(self, name: str) -> None:
        environment = {
            **os.environ,
            "PLUMRAKE_DATABASE": self._cluster.address,
            "PLUMRAKE_PORT": str(self.port),
            "PLUMRAKE_HOST": "127.0.0.1",
            "PLUMRAKE_ADDRESS": self.address,
            "PLUMRAKE_MAIL_HOST": "127.0.0.1",
            "PLUMRAKE_MAIL_PORT": str(self.port + 3),
            "PLUMRAKE_MAIL_FROM": "Plum Rake <plumrake@harrowmere.example>",
            "PLUMRAKE_MAIL_FOLDER": str(self._emails),
            "PLUMRAKE_SITE_FOLDERS": str((self.folder / "site").resolve()),
            "PLUMRAKE_SECRETS_KEY": self._secret("secrets-key"),
            "PLUMRAKE_DESCRIBER": f"http://127.0.0.1:{self.port + 5}/",
            "PLUMRAKE_DESCRIBER_TOKEN": self._secret("describer-token"),
        }
        log = (self.folder / f"{name}.log").open("ab")
        command = [sys.executable, "-m", "plumrake", *self._words_of(name)]
        self._children[name] = subprocess.Popen(
            command,
            env=environment,
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )

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

    def _wait_until_ready(self) -> None:
        end = time.monotonic() + _READY_SECONDS
        while time.monotonic() < end and self._children["serve"].poll() is None:
            try:
                if httpx.get(f"{self.address}/health/ready", timeout=2).is_success:
                    return
            except httpx.TransportError:
                time.sleep(0.2)
        raise ClusterError(
            f"the service did not start on port {self.port}; its log is {self.folder / 'serve.log'}"
        )

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

    def _tell(self) -> None:
        known = cast()
        self._say("")
        self._say(f"Plum Rake is at {self.address}")
        self._say(
            f"  sign in as {known['people'][0]['email']} with the password {known['password']}"
        )
        self._say(
            "the stand-in CMS, whose publish button asks the gate, is at "
            f"http://127.0.0.1:{self.port + 4}"
        )
        self._say("  sign in there as ruth@harrowmere.example with the same password")
        self._say(f"  logs are below {self.folder}; Ctrl-C stops everything")

    def _keep_running(self) -> None:
        for name, child in list(self._children.items()):
            if child.poll() is not None and not self._stopping.is_set():
                self._say(f"{name} stopped (status {child.returncode}); starting it again")
                self._run(name)

    def _stop(self) -> None:
        self._say("stopping")
        for child in self._children.values():
            if child.poll() is None:
                child.send_signal(signal.SIGTERM)
        for child in self._children.values():
            try:
                child.wait(10)
            except subprocess.TimeoutExpired:
                os.killpg(child.pid, signal.SIGKILL)
        if self._catcher is not None:
            self._catcher.stop()
        self._cluster.stop()
