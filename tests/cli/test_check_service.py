"""What ``plumrake check`` says of a service, and of what is wrong with it."""

from __future__ import annotations

import os
import subprocess
import sys
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

import psycopg
import pytest

from plumrake.demo.ports import free_port
from tests.conftest import Running, wait_for
from tests.services import copied, nobodys_certificate, serve_in_thread


def check(database: str, **settings: str) -> tuple[int, dict[str, str], str]:
    """Return exit status, what is said of each thing, and what is missing."""
    given = {f"PLUMRAKE_{name.upper()}": value for name, value in settings.items()}
    done = subprocess.run(
        [sys.executable, "-m", "plumrake", "check"],
        env={**os.environ, "PLUMRAKE_DATABASE": database, **given},
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )
    told = {line[:20].strip(): line[20:].strip() for line in done.stdout.splitlines()}
    return done.returncode, told, done.stderr


def test_a_service_is_looked_at(running: Running) -> None:
    """Without a worker, mail and keys: each is said with what to do."""
    status, told, lacks = check(
        running.database, mail_port=str(free_port()), address="http://x.example"
    )
    assert status == 3
    assert told["database"].startswith("PostgreSQL ")
    assert (told["migrations"], told["log"], told["workers"]) == ("all applied", "whole", "none")
    for said in ("start 'plumrake worker'", "PLUMRAKE_MAIL_HOST", "PLUMRAKE_SECRETS_KEY", "TLS"):
        assert said in lacks
    running.start("worker")

    def is_alive() -> bool:
        return check(running.database)[1]["workers"] == "alive"

    wait_for(is_alive, 90, running.logs)


def test_what_is_wrong_with_the_database_is_said(running: Running, postgres: str) -> None:
    away = f"postgresql://nobody@127.0.0.1:{free_port()}/plumrake"
    assert "check PLUMRAKE_DATABASE" in check(away)[2]
    assert "run 'plumrake migrate'" in check(copied(postgres, "template0"))[2]
    with psycopg.connect(running.database) as connection:
        connection.execute("SELECT seal_log()")
        connection.execute("SET LOCAL session_replication_role = replica")
        connection.execute("UPDATE log_entry SET kind = 'other' WHERE place = 2")
    _, told, lacks = check(running.database)
    assert told["log"] == "does not hold from place 2 on"
    assert "find out who" in lacks


def test_connections_and_certificates_are_looked_at(running: Running, tmp_path: Path) -> None:
    """Of all sites: what does not answer is said with its site, a certificate that browsers refuse
    with its host; and nothing where there is neither."""
    folder = tmp_path / "pages"
    folder.mkdir()
    _, told, _ = check(running.database)
    assert (told["connections"], told["certificates"]) == ("none", "none")
    with psycopg.connect(running.database) as connection:
        connection.execute(
            "INSERT INTO connection (site_id, environment, kind, settings)"
            " SELECT id, e, 'folder', jsonb_build_object('folder', f) FROM site,"
            " (VALUES ('live', %s), ('staging', %s)) v (e, f)",
            [str(folder), str(tmp_path / "gone")],
        )
        connection.execute(
            "INSERT INTO site (slug, name, live_address, found_by, private_leave)"
            " VALUES ('locks', 'Locks', %s, 'sitemap', TRUE)",
            [f"https://localhost:{free_port()}/"],
        )
    status, told, lacks = check(running.database, site_folders=str(tmp_path))
    assert status == 3
    assert told["connections"] == "1 of 2 in order"
    assert "harrowmere, staging: folder: there is no folder" in lacks
    assert told["certificates"] == "0 of 1 in order"
    assert "localhost: no TLS on port" in lacks


def test_a_certificate_that_ends_soon_is_told_of(
    running: Running, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """In time to renew it; one that nobody vouches for is told of too."""
    context = nobodys_certificate(tmp_path, "localhost")
    server = ThreadingHTTPServer(("127.0.0.1", 0), BaseHTTPRequestHandler)
    server.socket = context.wrap_socket(server.socket, server_side=True)
    origin = serve_in_thread(server).replace("http:", "https:").replace("127.0.0.1", "localhost")
    settings = {"address": origin}
    assert "localhost: browsers refuse its certificate" in check(running.database, **settings)[2]
    monkeypatch.setenv("SSL_CERT_FILE", str(tmp_path / "cert.pem"))
    _, told, lacks = check(running.database, **settings)
    assert told["certificates"].startswith("0 of 1 in order, the first ends on 2")
    assert "localhost: its certificate ends on" in lacks
    server.shutdown()
