"""The walls between sites in the database itself, and what each role of it may: whatever a query
forgets."""

from __future__ import annotations

import os
import subprocess
import sys

import psycopg
import pytest
from psycopg.sql import SQL, Identifier

from plumrake.demo.cluster import address_as
from plumrake.records.roles import COPYING, SERVING, WORKING
from tests.services import copied

NO_WALL = frozenset(("invitation", "saved_filter"))
"""Found by a secret or by whose they are, before or beside the question of a site."""
OF_NO_SITE = frozenset(
    (
        *("authenticator", "challenge", "email", "idempotency", "known_browser", "notification"),
        *("passkey", "password_reset", "people_group", "people_group_member", "person"),
        *("recovery_code", "session", "sign_in_attempt", "token"),
        *("evidence", "evidence_dropped", "inventory", "page_evidence", "page_view", "source_text"),
        *("fix_state", "log_start", "service_secret", "standing_rule", "start_key"),
    )
)
"""Of people, of contents that are found by their hash alone, and of the service."""


@pytest.fixture(scope="module")
def database(postgres: str, swept_template: str) -> str:
    """The demo's site, swept, and a second one with a member of its own, and somebody who is in no
    site."""
    made = copied(postgres, swept_template)
    with psycopg.connect(made) as connection:
        connection.execute(
            "INSERT INTO site (slug, name, live_address, found_by, policy)"
            " SELECT 'other', 'Other', 'http://other.invalid/', found_by, policy FROM site"
        )
        for name in ("Mia", "Nobody"):
            connection.execute(
                "INSERT INTO person (email, name, password_hash) VALUES (%s, %s, 'x')",
                [f"{name}@other.invalid", name],
            )
        connection.execute(
            "INSERT INTO membership (person_id, site_id, role)"
            " SELECT p.id, s.id, 'manager' FROM person p, site s"
            " WHERE p.name = 'Mia' AND s.slug = 'other'"
        )
    return made


def walled(connection: psycopg.Connection) -> list[str]:
    """Return the tables that have a wall."""
    rows = connection.execute(
        "SELECT relname FROM pg_class WHERE relrowsecurity"
        " AND relnamespace = 'public'::regnamespace ORDER BY relname"
    ).fetchall()
    return [name for (name,) in rows]


def met(database: str, person: str) -> dict[str, int]:
    """Return how many rows of each walled table are met by the service's role for a person."""
    with psycopg.connect(address_as(database, SERVING)) as connection:
        connection.execute(
            "SELECT set_config('plumrake.person', coalesce((SELECT id::text FROM person"
            " WHERE name = %s), ''), TRUE)",
            [person],
        )
        return {
            table: connection.execute(
                SQL("SELECT count(*) FROM {}").format(Identifier(table))
            ).fetchall()[0][0]
            for table in walled(connection)
        }


def test_every_table_of_a_site_has_a_wall(database: str) -> None:
    """Each table either has one, or is of no site, and that is said here."""
    with psycopg.connect(database) as connection:
        tables = connection.execute(
            "SELECT tablename FROM pg_tables WHERE schemaname = 'public'"
            " AND tablename !~ '^(procrastinate|_?yoyo)'"
        ).fetchall()
        views = connection.execute(
            "SELECT relname FROM pg_class WHERE relkind = 'v'"
            " AND relnamespace = 'public'::regnamespace"
            " AND NOT coalesce(reloptions @> ARRAY['security_invoker=true'], FALSE)"
        ).fetchall()
        assert {name for (name,) in tables} - {*walled(connection)} == NO_WALL | OF_NO_SITE
    assert views == [], "a view that asks as its owner looks over the wall"


def test_a_query_without_a_condition_meets_the_sites_of_the_person_alone(database: str) -> None:
    """Whoever has a role in every site meets all; a member of another site that one; somebody of
    no site, or a transaction for nobody, nothing at all."""
    all_of_them = met(database, "Philippa Wren")
    assert all_of_them["site"] == 2
    assert min(all_of_them[table] for table in ("sweep", "reading", "finding", "page")) > 0
    for person, sites in (("Mia", 1), ("Nobody", 0), ("", 0)):
        found = {table: count for table, count in met(database, person).items() if count}
        added = {"membership": 1, "log_entry": found.get("log_entry")} if sites else {}
        assert found == ({"site": 1, **added} if sites else {}), person


def test_nothing_is_written_into_another_site(database: str) -> None:
    """Neither changed, nor added."""
    with psycopg.connect(address_as(database, SERVING)) as connection:
        connection.execute(
            "SELECT set_config('plumrake.person', (SELECT id::text FROM person"
            " WHERE name = 'Mia'), FALSE)"
        )
        assert connection.execute("UPDATE fix SET path = '/'").rowcount == 0
        assert connection.execute("DELETE FROM sweep").rowcount == 0
        connection.commit()
        with pytest.raises(psycopg.errors.InsufficientPrivilege, match="row-level security"):
            connection.execute(
                "INSERT INTO membership (person_id, site_id, role)"
                " SELECT person_served(), s, 'manager' FROM generate_series(1, 3) s"
            )


@pytest.mark.parametrize(
    ("role", "forbidden"),
    [
        (SERVING, "UPDATE log_entry SET kind = ''"),
        (SERVING, "DELETE FROM log_entry"),
        (SERVING, "ALTER TABLE fix DISABLE ROW LEVEL SECURITY"),
        (SERVING, "CREATE TABLE more (id int)"),
        (SERVING, "TRUNCATE finding"),
        (SERVING, "SET ROLE plumrake"),
        (WORKING, "SELECT * FROM session"),
        (WORKING, "SELECT * FROM token"),
        (WORKING, "SELECT * FROM authenticator"),
        (WORKING, "UPDATE person SET role = 'manager'"),
        (WORKING, "INSERT INTO membership (person_id, site_id, role) VALUES (1, 1, 'manager')"),
        (WORKING, "DROP TABLE fix"),
        (COPYING, "UPDATE person SET role = 'manager'"),
        (COPYING, "DELETE FROM sweep"),
    ],
)
def test_each_role_may_what_it_needs(database: str, role: str, forbidden: str) -> None:
    with (
        psycopg.connect(address_as(database, role)) as connection,
        pytest.raises(psycopg.errors.InsufficientPrivilege),
    ):
        connection.execute(forbidden)  # type: ignore[arg-type]


def test_who_does_not_own_the_tables_cannot_migrate(database: str) -> None:
    """And is told what to do, in one sentence."""
    done = subprocess.run(
        [sys.executable, "-m", "plumrake", "migrate"],
        env={**os.environ, "PLUMRAKE_DATABASE": address_as(database, SERVING)},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 2
    assert "migrate as the one that does" in done.stderr
    assert "Traceback" not in done.stderr


def test_who_copies_reads_everything(database: str) -> None:
    with psycopg.connect(address_as(database, COPYING)) as connection:
        counts = connection.execute(
            "SELECT (SELECT count(*) FROM site), (SELECT count(*) FROM finding) > 0"
        ).fetchall()
    assert counts == [(2, True)]
