"""All that is kept comes back from a file, into an empty database, from the version before too;
what lets somebody in does not."""

from __future__ import annotations

import stat
from pathlib import Path

import psycopg
import pytest
from yoyo import get_backend, read_migrations

from plumrake.demo.cluster import address_as
from plumrake.records.backup import BackupFailed, back_up, restore
from plumrake.records.roles import COPYING
from tests.conftest import fill_with_demo
from tests.records.test_database import FOLDER
from tests.services import MIGRATED, copied

SESSION = (
    "INSERT INTO session (token_hash, person_id, csrf_token, expires_at) "
    "SELECT 'secret', id, 'csrf', now() + interval '1 hour' FROM person LIMIT 1"
)


@pytest.fixture(scope="module")
def kept(postgres: str, demo_site: dict[str, str]) -> str:
    """A database with people, a site, a picture, a session, and a log that is sealed."""
    database = copied(postgres, MIGRATED)
    fill_with_demo(database, demo_site)
    with psycopg.connect(database) as connection:
        connection.execute(SESSION)
        connection.execute(
            "INSERT INTO evidence (hash, media_type, content) VALUES "
            "('sha256:x', 'image/jpeg', '\\x00ff00')"
        )
        connection.execute("SELECT seal_log()")
    return database


@pytest.fixture
def empty(postgres: str) -> str:
    return copied(postgres, "template0")


def rows(database: str) -> dict[str, list[str]]:
    """Return every row of every table, as text."""
    with psycopg.connect(database) as connection:
        tables = connection.execute(
            "SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1"
        ).fetchall()
        return {
            table: sorted(
                str(row)
                for (row,) in connection.execute(f"SELECT t::text FROM {table} t").fetchall()  # type: ignore[arg-type]
            )
            for (table,) in tables
        }


def test_all_comes_back_but_for_what_lets_somebody_in(
    kept: str, empty: str, tmp_path: Path
) -> None:
    file = tmp_path / "copy.plumrake"
    assert back_up(address_as(kept, COPYING), file) == file.stat().st_size
    assert stat.S_IMODE(file.stat().st_mode) == 0o600
    assert list(tmp_path.iterdir()) == [file]
    found = restore(empty, file)
    assert (found.counts["site"], found.counts["person"], found.migrations) == (1, 6, [])
    before, after = rows(kept), rows(empty)
    assert before["session"]
    assert after["session"] == []
    changing = {"session", "yoyo_lock"}
    assert {name: before[name] for name in before if name not in changing} == {
        name: after[name] for name in after if name not in changing
    }
    with psycopg.connect(empty) as connection:
        connection.execute("UPDATE person SET role = 'editor' WHERE role = 'reader'")
        connection.execute("INSERT INTO people_group (name) VALUES ('Desk')")
        [(kind,)] = connection.execute(
            "SELECT kind FROM log_entry ORDER BY id DESC LIMIT 1"
        ).fetchall()
        assert kind == "group.added"  # numbers, triggers and functions came back too


def test_a_copy_of_the_version_before_is_brought_on(
    postgres: str, demo_site: dict[str, str], empty: str, tmp_path: Path
) -> None:
    old = copied(postgres, MIGRATED)
    fill_with_demo(old, demo_site)
    backend = get_backend(old.replace("postgresql://", "postgresql+psycopg://", 1))
    newest = read_migrations(str(FOLDER / "migrations"))[-1]
    with backend.lock():
        backend.rollback_migrations(
            backend.to_rollback(read_migrations(str(FOLDER / "migrations")))[:1]
        )
    backend.connection.close()
    file = tmp_path / "old.plumrake"
    back_up(old, file)
    found = restore(empty, file)
    assert found.migrations == [newest.id]
    assert found.counts["person"] == 6


def test_what_cannot_be_is_said_and_nothing_is_changed(
    kept: str, empty: str, tmp_path: Path
) -> None:
    file = tmp_path / "copy.plumrake"
    back_up(kept, file)
    with pytest.raises(BackupFailed, match="there already"):
        back_up(kept, file)
    with pytest.raises(BackupFailed, match="not empty"):
        restore(kept, file)
    with pytest.raises(BackupFailed, match="no file"):
        restore(empty, tmp_path / "nowhere")
    broken = tmp_path / "broken"
    broken.write_bytes(file.read_bytes()[:-2000])
    with pytest.raises(BackupFailed):
        restore(empty, broken)
    assert rows(empty) == {}
    with pytest.raises(BackupFailed, match="cannot be written"):
        back_up(kept, tmp_path / "no folder" / "copy")
