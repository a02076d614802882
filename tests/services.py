"""What a whole run of the tests shares, in however many processes: a PostgreSQL server and the demo
site, started once."""

from __future__ import annotations

import contextlib
import fcntl
import shutil
import ssl
import subprocess
import tempfile
import threading
import time
import uuid
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from http.server import ThreadingHTTPServer
from pathlib import Path
from typing import Any

import psycopg
import uvicorn
from fastapi import FastAPI
from psycopg.sql import SQL, Identifier

from plumrake.demo.cluster import Cluster
from plumrake.demo.ports import free_port
from plumrake.demo.server import make_server
from plumrake.demo.site import ENVIRONMENTS, write_environment
from plumrake.records.migrate import migrate

MIGRATED = "template_plumrake"


@dataclass(frozen=True)
class Services:
    """Where they are: the address of a database of the server, the demo's origin by environment,
    and a folder of the run's own with the demo's files in it."""

    postgres: str
    origins: dict[str, str]
    folder: Path

    @property
    def demo_files(self) -> Path:
        return self.folder / "demo"

    def as_given(self) -> dict[str, Any]:
        """Return it as it may go to another process."""
        return {**asdict(self), "folder": str(self.folder)}

    @classmethod
    def from_given(cls, given: dict[str, Any]) -> Services:
        return cls(given["postgres"], given["origins"], Path(given["folder"]))

    @contextlib.contextmanager
    def alone_with(self, database: str) -> Iterator[bool]:
        """Keep all other processes of the run away from a database that is to be made; tell
        whether it is there already."""
        with (self.folder / f"{database}.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            with psycopg.connect(self.postgres) as connection:
                found = connection.execute(
                    "SELECT true FROM pg_database WHERE datname = %s", [database]
                ).fetchone()
            yield found is not None

    def rename(self, database: str, name: str) -> None:
        """Give the database at an address another name; whoever is still at it is sent away."""
        old = database.rpartition("/")[2]
        with psycopg.connect(self.postgres, autocommit=True) as connection:
            connection.execute(
                SQL("ALTER DATABASE {} ALLOW_CONNECTIONS false").format(Identifier(old))
            )
            connection.execute(
                "SELECT pg_terminate_backend(pid, 5000) FROM pg_stat_activity WHERE datname = %s",
                [old],
            )
            connection.execute(
                SQL("ALTER DATABASE {} RENAME TO {}").format(Identifier(old), Identifier(name))
            )


@contextlib.contextmanager
def services_started() -> Iterator[Services]:
    """Start them, and stop them at the end."""
    folder = Path(tempfile.mkdtemp(prefix="plr-test-"))
    with contextlib.ExitStack() as running:
        running.callback(shutil.rmtree, folder, ignore_errors=True)
        address = running.enter_context(cluster_started()).address
        migrate(copied(address, "template0", MIGRATED))
        origins = {}
        for environment in ENVIRONMENTS:
            files = folder / "demo" / environment
            files.mkdir(parents=True)
            server = make_server(files, 0)
            running.callback(server.shutdown)
            origins[environment] = serve_in_thread(server)
            write_environment(environment, files, origins[environment])
        yield Services(address, origins, folder)


@contextlib.contextmanager
def cluster_started() -> Iterator[Cluster]:
    """Start a PostgreSQL server in a folder of its own."""
    folder = Path(tempfile.mkdtemp(prefix="plr-postgres-"))
    cluster = Cluster(folder, durable=False)
    cluster.start()
    try:
        yield cluster
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


def copied(postgres: str, template: str, name: str = "") -> str:
    """Return the address of a new database that is a copy of another."""
    name = name or f"test_{uuid.uuid4().hex[:12]}"
    with psycopg.connect(postgres, autocommit=True) as connection:
        connection.execute(
            SQL("CREATE DATABASE {} TEMPLATE {}").format(Identifier(name), Identifier(template))
        )
    return f"{postgres.rpartition('/')[0]}/{name}"


def serve_in_thread(server: ThreadingHTTPServer) -> str:
    """Start a bound server in a thread; return its origin."""
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return f"http://127.0.0.1:{server.server_address[1]}"


def serve_app(app: FastAPI) -> str:
    """Serve an app in a thread until the tests are over; return its address."""
    port = free_port()
    server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="warning"))
    threading.Thread(target=server.run, daemon=True).start()
    while not server.started:
        time.sleep(0.05)
    return f"http://127.0.0.1:{port}"


def nobodys_certificate(folder: Path, host: str = "nobody.invalid") -> ssl.SSLContext:
    """Return a server's side of TLS with a certificate for a day (``cert.pem``) that nobody vouches
    for."""
    words = f"req -x509 -newkey rsa:2048 -nodes -days 1 -subj /CN={host}".split()
    words += ["-addext", f"subjectAltName=DNS:{host}"]
    key, certificate = folder / "key.pem", folder / "cert.pem"
    subprocess.run(
        ["openssl", *words, "-keyout", key, "-out", certificate], check=True, capture_output=True
    )
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(certificate, key)
    return context


def below(pid: int) -> dict[int, str]:
    """Return the processes below one, by number, with their command lines.

    From ``/proc`` itself: psutil leaves out what seems to be older than its parent, as it does
    where the clock of the machine is set back.
    """
    parents: dict[int, int] = {}
    for folder in Path("/proc").iterdir():
        if folder.name.isdigit():
            with contextlib.suppress(OSError, IndexError):
                state = (folder / "stat").read_text().rpartition(")")[2].split()
                parents[int(folder.name)] = int(state[1])
    found: dict[int, str] = {}
    around = {pid}
    while around:
        around = {child for child, parent in parents.items() if parent in around}
        for child in around:
            with contextlib.suppress(OSError):
                words = (Path("/proc") / str(child) / "cmdline").read_bytes()
                found[child] = words.replace(b"\0", b" ").decode(errors="replace")
    return found
