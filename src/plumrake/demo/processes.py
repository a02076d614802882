"""What a demo runs: a database of its own, the service, a worker and whatever else, kept running
and stopped together."""

from __future__ import annotations

import base64
import contextlib
import os
import secrets
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

import httpx

from plumrake.demo.cluster import Cluster, ClusterError
from plumrake.records.roles import OWNER, ROLES

Say = Callable[[str], None]
_READY_SECONDS = 30.0


def secret(folder: Path, name: str) -> str:
    """Return a secret of a demo's own, made once; a key as Fernet wants it."""
    file = folder / name
    if not file.is_file():
        file.parent.mkdir(parents=True, exist_ok=True)
        file.touch(0o600)
        file.write_bytes(base64.urlsafe_b64encode(secrets.token_bytes(32)))
    return file.read_text()


class Processes:
    """The processes of a demo below a folder; the service listens at ``port``."""

    def __init__(
        self,
        folder: Path,
        port: int,
        say: Say,
        settings: Mapping[str, str] | None = None,
        database: str = "database",
    ) -> None:
        self.folder = folder
        self.port = port
        self.cluster = Cluster(folder / database)
        self._say = say
        self._settings = dict(settings or {})
        self._children: dict[str, subprocess.Popen[bytes]] = {}
        self._words: dict[str, Sequence[str]] = {}

    @property
    def address(self) -> str:
        """Where the console is."""
        return f"http://127.0.0.1:{self.port}"

    def run(self, name: str, words: Sequence[str] = ()) -> None:
        """Start a command (default: the one of that name)."""
        self._words[name] = words or [name]
        environment = {
            **os.environ,
            "PLUMRAKE_DATABASE": self.cluster.address_as(ROLES.get(name, OWNER)),
            "PLUMRAKE_PORT": str(self.port),
            "PLUMRAKE_HOST": "127.0.0.1",
            "PLUMRAKE_ADDRESS": self.address,
            "PLUMRAKE_SECRETS_KEY": secret(self.folder, "secrets-key"),
            **self._settings,
        }
        log = (self.folder / f"{name}.log").open("ab")
        self._children[name] = subprocess.Popen(
            [sys.executable, "-m", "plumrake", *self._words[name]],
            env=environment,
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )

    def watch(self, start: Callable[[], None]) -> None:
        """Start everything and keep it running until a signal comes; whoever calls stops it."""
        stopping = threading.Event()
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: stopping.set())
        start()
        while not stopping.wait(1.0):
            self.keep_running()

    def keep_running(self) -> None:
        """Start again what stopped."""
        for name, child in list(self._children.items()):
            if child.poll() is not None:
                self._say(f"{name} stopped (status {child.returncode}); starting it again")
                self.run(name, self._words[name])

    def wait_until_ready(self) -> None:
        """Wait until the service answers. Raises ``ClusterError``."""
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

    def stop(self) -> None:
        """Stop everything, the database last."""
        for child in self._children.values():
            if child.poll() is None:
                child.send_signal(signal.SIGTERM)
        for child in self._children.values():
            try:
                child.wait(10)
            except subprocess.TimeoutExpired:
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(child.pid, signal.SIGKILL)
        self.cluster.stop()
