"""Sweeps in partitions: what was there before stays, the next one is there in time, old ones go at
once, and nothing points to what is gone."""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from pathlib import Path
from typing import Any

import psycopg
import pytest
from yoyo import get_backend, read_migrations

import plumrake.records
from plumrake.client import PlumRakeError
from plumrake.demo.cluster import address_as
from plumrake.records import tidying
from plumrake.records.connecting import lasting
from plumrake.records.migrate import migrate
from plumrake.records.queries import Connection
from plumrake.records.roles import SERVING, WORKING
from tests.conftest import Running
from tests.services import copied

BEGINS_SWEPT = True
FOLDER = Path(plumrake.records.__file__).parent / "migrations"
CUT = ("reading", "finding", "sweep_page", "sweep_event")
KEEP = {"days": 30, "kept_sweeps": 1}


@pytest.fixture
def own(postgres: str, swept_template: str) -> str:
    """A database of the test's own, with the swept demo: what is done to its shape stays."""
    return copied(postgres, swept_template)


def counts(database: str) -> dict[str, list[tuple[Any, ...]]]:
    """How many rows of each table in partitions there are, and how many of what hangs on them."""
    with psycopg.connect(database) as connection:
        return {
            table: connection.execute(f"SELECT count(*) FROM {table}").fetchall()  # type: ignore[arg-type]
            for table in (*CUT, "cause", "cause_picture", "finding_row", "fix_row")
        }


def partitions(database: str) -> list[tuple[int, int]]:
    """The partitions that there are."""
    with psycopg.connect(database) as connection:
        return connection.execute(
            "SELECT first_sweep, before_sweep FROM sweep_partition ORDER BY 1"
        ).fetchall()


def working(database: str, act: Callable[[Connection], Awaitable[int]]) -> int:
    """Do something as a worker does."""

    async def acted() -> int:
        async with await psycopg.AsyncConnection.connect(
            address_as(database, WORKING)
        ) as connection:
            return await act(connection)

    return asyncio.run(acted())


def begun(database: str, number: int, *, copies: str = "", days: int = 0) -> list[int]:
    """Begin sweeps of the demo, ``days`` ago; each with ``copies`` of the newest one's rows."""
    with psycopg.connect(database) as connection:
        made = connection.execute(
            "INSERT INTO sweep (site_id, environment, lens, section, policy, scope, given_paths,"
            " fresh, ground, state, created_at)"
            " SELECT site_id, environment, lens, section, policy, 'given', '{}', fresh, ground,"
            " 'done', now() - make_interval(days => %s) FROM sweep, generate_series(1, %s)"
            " WHERE id = 1 RETURNING id",
            [days, number],
        ).fetchall()
        for table in copies.split():
            columns = ", ".join(
                f'"{name}"'
                for (name,) in connection.execute(
                    "SELECT column_name FROM information_schema.columns WHERE table_name = %s"
                    " AND table_schema = 'public' AND is_generated = 'NEVER'"
                    " AND column_name NOT IN ('id', 'sweep_id')",
                    [table],
                ).fetchall()
            )
            connection.execute(
                f"INSERT INTO {table} (sweep_id, {columns}) SELECT %s, {columns} FROM {table}"  # type: ignore[arg-type]
                " WHERE sweep_id = 1",
                [made[0][0]],
            )
    return [number for (number,) in made]


def around(database: str, sweep: int) -> tuple[int, int]:
    """The partition of a sweep."""
    return next((first, end) for first, end in partitions(database) if first <= sweep < end)


def back_to(database: str, version: str) -> None:
    """Take back the migrations after the one whose number begins so."""
    migrations = read_migrations(str(FOLDER))
    backend = get_backend(database.replace("postgresql://", "postgresql+psycopg://", 1))
    with backend.lock():
        newest_first = backend.to_rollback(migrations)
        backend.rollback_migrations(newest_first.filter(lambda one: one.id[:4] > version))
    backend.connection.close()


def in_use(database: str) -> None:
    """Begin sweeps until the newest partition has one."""
    while begun(database, 1)[0] < partitions(database)[-1][0]:
        pass


def test_what_was_there_is_the_first_partition(postgres: str, swept_template: str) -> None:
    """A database of the version before is cut without losing a row, and numbers go on; and back."""
    database = copied(postgres, swept_template)
    before = counts(database)
    back_to(database, "0031")
    with psycopg.connect(database) as connection:
        plain = connection.execute(
            "SELECT relname FROM pg_class WHERE relkind = 'r' AND relname = ANY(%s)", [[*CUT]]
        ).fetchall()
        last = connection.execute("SELECT max(id) FROM finding").fetchall()
    assert len(plain) == len(CUT)
    assert migrate(database)[0] == "0032.partitions"
    assert counts(database) == before
    assert partitions(database)[0][0] == 0 < partitions(database)[1][0]
    with psycopg.connect(database) as connection:
        where = connection.execute("SELECT DISTINCT tableoid::regclass::text FROM finding")
        assert where.fetchall() == [("partitions.finding_0",)]
    [number] = begun(database, 1, copies="finding")
    with psycopg.connect(database) as connection:
        added = connection.execute(
            "SELECT min(id) FROM finding WHERE sweep_id = %s", [number]
        ).fetchall()
    assert added[0][0] > last[0][0]


def test_the_next_partition_is_there_before_it_is_needed(own: str) -> None:
    """A worker makes it once the newest is in use, and then no other; where no worker did, the
    sweep that needs it does."""
    in_use(own)
    assert working(own, tidying.make_room)
    assert not working(own, tidying.make_room)
    before = partitions(own)
    (first, first_end), (second, second_end) = before[-2:]
    assert first < second == first_end < second_end
    begun(own, second_end - first)
    assert len(partitions(own)) > len(before)
    [number] = begun(own, 1, copies="reading finding sweep_page sweep_event")
    with psycopg.connect(own) as connection:
        found = connection.execute(
            "SELECT DISTINCT tableoid::regclass::text FROM finding WHERE sweep_id = %s", [number]
        ).fetchall()
    partition = max(first for first, _ in partitions(own) if first <= number)
    assert found == [(f"partitions.finding_{partition}",)]


def test_busy_tables_are_left_for_another_time(own: str) -> None:
    """Nobody waits for a partition to be made, nor is anything broken."""
    in_use(own)
    with psycopg.connect(own) as busy:
        busy.execute("UPDATE page SET redirects_to = NULL")
        assert not working(own, tidying.make_room)
    assert working(own, tidying.make_room)


def forget(database: str) -> int:
    """Forget as a worker does at night; return how many sweeps."""
    return working(database, lambda connection: tidying.forget_sweeps(connection, **KEEP))


def test_a_partition_of_old_sweeps_goes_at_once(own: str) -> None:
    """But nothing of or since the newest sweep of the whole site, and no partition with a sweep of
    today."""
    first = around(own, 1)
    end = first[1]
    *_, young = begun(own, end - 2, copies="reading finding", days=60)
    [newest] = begun(own, 1, copies="reading finding")
    assert young < first[1] <= newest
    with psycopg.connect(own) as connection:
        connection.execute("UPDATE sweep SET created_at = now() - interval '60 days' WHERE id = 1")
    assert forget(own) == 0
    with psycopg.connect(own) as connection:
        connection.execute("UPDATE sweep SET scope = 'all' WHERE id = %s", [newest])
        connection.execute("UPDATE sweep SET created_at = now() WHERE id = %s", [young])
    assert forget(own) == end - 2
    assert first in partitions(own)
    with psycopg.connect(own) as connection:
        found = connection.execute("SELECT DISTINCT sweep_id FROM finding").fetchall()
        connection.execute("UPDATE sweep SET created_at = '2020-01-01' WHERE id = %s", [young])
    assert found == [(newest,)]
    assert forget(own) == 1
    assert first not in partitions(own)
    with psycopg.connect(own) as connection:
        left = connection.execute(
            "SELECT (SELECT count(*) FROM cause), (SELECT count(*) FROM cause_picture),"
            " (SELECT count(*) FROM sweep WHERE forgotten_at IS NOT NULL)"
        ).fetchall()
    assert left == [(0, 0, end - 1)]


def test_the_newest_partition_stays_where_nothing_was_swept(own: str) -> None:
    """Nor is it dropped once all sites are gone: the next sweep can begin."""
    with psycopg.connect(own) as connection:
        connection.execute("DELETE FROM site")
    before = partitions(own)
    assert forget(own) == 0
    assert partitions(own) == before


def test_an_installation_without_a_partition_is_given_one(
    postgres: str, swept_template: str
) -> None:
    """As tidying left those that had no sweep; numbers of sweeps that could not begin are gone."""
    database = copied(postgres, swept_template)
    back_to(database, "0035")
    with psycopg.connect(database) as connection:
        connection.execute("TRUNCATE sweep RESTART IDENTITY CASCADE")
    assert forget(database) == 0
    assert partitions(database) == []
    burned = 70
    with psycopg.connect(database) as connection:
        connection.execute("SELECT nextval('sweep_id_seq') FROM generate_series(1, %s)", [burned])
    assert migrate(database) == ["0036.partition_kept"]
    [(first, end)] = partitions(database)
    assert first == 0
    assert end > burned + 1
    assert forget(database) == 0
    assert partitions(database) == [(first, end)]


def test_a_partition_goes_with_all_that_hangs_on_it(own: str) -> None:
    """Without a row being touched: causes, their pictures, and what a closed fix points to."""
    end = around(own, 1)[1]
    begun(own, end - 2, days=60)
    [newest] = begun(own, 1, copies="reading finding")
    with psycopg.connect(own) as connection:
        connection.execute("UPDATE sweep SET scope = 'all' WHERE id = %s", [newest])
        connection.execute("UPDATE sweep SET created_at = '2020-01-01' WHERE id = 1")
        connection.execute(
            "INSERT INTO fix (site_id, environment, cause, check_id, weight, rank, says, zone,"
            " by_template, path, places, pages, finding_id, state)"
            " SELECT 1, 'live', c.key, c.check_id, c.weight, 1, 'x', 'content', FALSE, '/', 1, 1,"
            " c.best, 'proven' FROM cause c LIMIT 1"
        )
    assert forget(own) == end - 1
    with psycopg.connect(own) as connection:
        left = connection.execute(
            "SELECT (SELECT count(*) FROM cause), (SELECT count(*) FROM cause_picture),"
            " (SELECT count(*) FROM fix), (SELECT count(finding_id) FROM fix)"
        ).fetchall()
    assert left == [(0, 0, 1, 0)]


def test_of_a_forgotten_sweep_the_counts_are_told(running: Running) -> None:
    """Its row stays in the list; whoever asks for more learns that it is gone, and when."""
    database = running.database
    with psycopg.connect(database) as connection:
        connection.execute("UPDATE sweep SET created_at = now() - interval '60 days'")
    [newer] = begun(database, 1, copies="reading finding")
    with psycopg.connect(database) as connection:
        connection.execute("UPDATE sweep SET scope = 'all', base_id = 1 WHERE id = %s", [newer])
    assert forget(database) == 1
    with running.client() as rake:
        shown = {one.id: one for one in rake.sweeps.list("harrowmere")}
        assert shown[1].forgotten_at is not None
        assert shown[1].total > 0
        assert (shown[newer].forgotten_at, shown[newer].base_id) == (None, None)
        for ask in (
            lambda: list(rake.sweeps.readings(1)),
            lambda: list(rake.findings.list("harrowmere", sweep=1)),
            lambda: list(rake.sweeps.follow(1)),
        ):
            with pytest.raises(PlumRakeError, match="only the counts are kept") as refused:
                ask()
            assert (refused.value.status, refused.value.code) == (410, "sweep-forgotten")


def test_nothing_points_to_what_is_gone(running: Running) -> None:
    """A fix that is under way keeps its sweep; once it is closed it loses the way to its finding
    alone."""
    database = running.database
    with running.client() as rake:
        cause = next(iter(rake.causes.list("harrowmere")))
        [fix] = rake.fixes.hand_out("harrowmere", causes=[cause.key])
    with psycopg.connect(database) as connection:
        connection.execute("UPDATE sweep SET created_at = now() - interval '60 days'")
        [newer] = begun(database, 1)
        connection.execute("UPDATE sweep SET scope = 'all' WHERE id = %s", [newer])
    assert forget(database) == 0
    with psycopg.connect(database) as connection:
        connection.execute("UPDATE fix SET state = 'proven'")
    assert forget(database) == 1
    with psycopg.connect(database) as connection:
        kept = connection.execute(
            "SELECT finding_id, says <> '' FROM fix WHERE id = %s", [fix.id]
        ).fetchall()
    assert kept == [(None, True)]


def test_only_workers_change_partitions(own: str) -> None:
    """Nor can they drop one that is to be kept."""
    with (
        psycopg.connect(address_as(own, SERVING)) as connection,
        pytest.raises(psycopg.errors.InsufficientPrivilege),
    ):
        connection.execute("SELECT drop_partition(1, 30, 1)")
    with psycopg.connect(address_as(own, WORKING)) as connection:
        assert connection.execute("SELECT drop_partition(1, 30, 1)").fetchall() == [(None,)]
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute("DROP TABLE partitions.finding_1")


async def test_no_query_is_compiled(database: str) -> None:
    """Each partition behind its wall makes a query look large, and compiling it takes a hundred
    times what it runs for; what an address asks for itself goes before."""
    for address, wanted in ((database, "off"), (f"{database}?options=-cjit%3Don", "on")):
        async with await psycopg.AsyncConnection.connect(lasting(address)) as connection:
            found = await (await connection.execute("SHOW jit")).fetchone()
            assert found == (wanted,)
