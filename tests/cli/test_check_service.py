"""What ``plumrake check`` says of a service, and of what is wrong with it."""

from __future__ import annotations

import os
import subprocess
import sys

import psycopg

from plumrake.demo.ports import free_port
from tests.conftest import Running, wait_for
from tests.services import copied


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
