"""The database's shape: migrations in pairs, applied once by whoever comes first, taken back;
queries named and said."""

import hashlib
import re
import runpy
import threading
from pathlib import Path

import psycopg
import pytest
from yoyo import get_backend, read_migrations

import plumrake.records
from plumrake.records.migrate import migrate
from tests.services import copied

FOLDER = Path(plumrake.records.__file__).parent
APPLIED = {
    "0001.queue.sql": "c70ec4b400a60ad9",
    "0002.start.sql": "d6e36fef52a4765a",
    "0003.whole_sites.sql": "4c954a9448569f75",
    "0004.journeys.sql": "e40ee40d3ea15904",
    "0005.fixes.sql": "c59183ca93eef0fc",
    "0006.console.sql": "236348d7b28eef2e",
    "0007.gate.sql": "fb1ecf5ed1ff26e3",
    "0008.words.sql": "f7ca2b1a4c8184e3",
    "0009.links.sql": "49004bf4cf3454bb",
    "0010.links_in_sweeps.sql": "dc9c404adc51b052",
    "0011.one_word_each.sql": "52c20c97ac4bde6d",
    "0012.one_owner.sql": "c67c800145e468d1",
    "0013.words_apart.sql": "b49d28340bb399be",
    "0014.mended_since.sql": "a53165d15db86b5e",
    "0015.every_table_says.sql": "bcf3c02d206a0d40",
    "0016.pages_left_out.sql": "de6f314510708435",
    "0017.one_rank.sql": "11206656bf82f927",
    "0018.corrections.sql": "5e1ccfdf027171ad",
    "0019.items.sql": "7e6a9ac46889b995",
    "0020.built_sources.sql": "5887cf79b7524d71",
    "0021.page_kinds.sql": "37c2f161dded02f9",
    "0022.library_texts.sql": "bbc18e2ecc8b7854",
    "0023.handed_over.sql": "c146914ee93a524b",
    "0024.reviews.sql": "d5e393ce3547e9fd",
    "0025.page_pictures.sql": "acc70d71041eb8d2",
    "0026.tried_patterns.sql": "632a69c318650c89",
    "0027.members.sql": "54d2751f892c76fe",
    "0028.signing_in.sql": "c876bac385565696",
    "0029.log.sql": "6addc07f908362be",
    "0030.read_by.sql": "955f66346f034ff6",
    "0031.walls.sql": "eb2926004a28140d",
    "0032.partitions.sql": "758437727157c812",
    "0033.evidence_store.sql": "31863995fca0873b",
    "0034.areas.sql": "ea22ac06fb9d5e1e",
    "0035.planned_once.sql": "379d16b4e64d8ba6",
    "0036.partition_kept.sql": "822d8ba552d6d260",
}


@pytest.fixture
def empty(postgres: str) -> str:
    """A database with nothing in it."""
    return copied(postgres, "template0")


def tables(database: str) -> set[str]:
    with psycopg.connect(database) as connection:
        return {
            row[0]
            for row in connection.execute(
                "SELECT tablename FROM pg_tables WHERE schemaname = 'public'"
            ).fetchall()
        }


def test_migrating_at_once_from_two_places(empty: str) -> None:
    """Two that start together apply each migration once."""
    applied: list[list[str]] = []
    threads = [threading.Thread(target=lambda: applied.append(migrate(empty))) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(300)
    assert sorted(map(len, applied)) == [0, len(list((FOLDER / "migrations").glob("*.sql"))) // 2]
    assert {"site", "finding", "procrastinate_jobs"} <= tables(empty)


def test_migrating_after_a_kill(empty: str) -> None:
    """A lock left behind by a killed migration is no obstacle."""
    migrate(empty)
    with psycopg.connect(empty) as connection:
        connection.execute("INSERT INTO yoyo_lock (locked, ctime, pid) VALUES (1, now(), 99999)")
    assert migrate(empty) == []


def test_migrations_can_be_taken_back(empty: str) -> None:
    """Every migration has its way back, and nothing of ours is left after it."""
    migrate(empty)
    backend = get_backend(empty.replace("postgresql://", "postgresql+psycopg://", 1))
    with backend.lock():
        backend.rollback_migrations(
            backend.to_rollback(read_migrations(str(FOLDER / "migrations")))
        )
    backend.connection.close()
    assert {name for name in tables(empty) if "yoyo" not in name} == set()


def test_applied_migrations_are_never_edited() -> None:
    """A migration that is out stays as it is; a change is a new file."""
    found = {
        file.name: hashlib.sha256(file.read_bytes()).hexdigest()[:16]
        for file in (FOLDER / "migrations").glob("*.sql")
        if "rollback" not in file.name
    }
    assert found == APPLIED


def test_every_query_has_a_name_and_a_comment() -> None:
    """Each ``-- name:`` is followed by a comment, names are unique in a file, and each is used by
    its module, or set into others (``{name}``, or ``if_`` and a filter's name)."""
    for file in FOLDER.glob("*.sql"):
        text = file.read_text()
        names = re.findall(r"^-- name: (\w+)\n-- \S.*$", text, re.MULTILINE)
        assert len(names) == text.count("-- name:") == len(set(names)), file.name
        module = file.with_suffix(".py").read_text()
        fragments = {
            name
            for name in names
            if f"{{{name}}}" in text or (name.startswith("if_") and "if_{name}" in module)
        }
        assert [
            name for name in names if name not in fragments and f'_QUERIES["{name}"]' not in module
        ] == [], file.name


def test_the_page_of_the_data_is_current(empty: str) -> None:
    """``docs/data.md`` says what the migrations make, and every table says what it holds."""
    migrate(empty)
    root = Path(__file__).parents[2]
    data_page = runpy.run_path(str(root / "scripts/make_data_page.py"))["data_page"]
    with psycopg.connect(empty) as connection:
        made = data_page(connection)
    assert not re.findall(r"^\| `\w+` \|  \|$", made, re.MULTILINE)
    assert (root / "docs/data.md").read_text() == made, "run scripts/make_data_page.py"
