"""What breaks off again and again does not leave a sweep hanging: the batch's pages are unreadable,
the sweep ends."""

import contextlib
from collections.abc import AsyncIterator
from typing import Any

import psycopg
import pytest

from plumrake.actions import planning, sweeps
from plumrake.records import sites
from plumrake.records import sweeps as kept
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow

JOBS: list[tuple[str, dict[str, Any]]] = []


async def enqueue(
    connection: Connection, name: str, arguments: dict[str, Any], *, priority: int = 0
) -> None:
    """Remember a job instead of queueing it."""
    JOBS.append((name, arguments))


@pytest.fixture
async def connection(database: str) -> AsyncIterator[Connection]:
    """A connection to a database without site."""
    JOBS.clear()
    async with await psycopg.AsyncConnection.connect(database, autocommit=True) as connection:
        await connection.execute("DELETE FROM site")
        yield connection


def lending(connection: Connection) -> Any:
    """Lend the one connection to whoever asks."""

    @contextlib.asynccontextmanager
    async def connect() -> AsyncIterator[Connection]:
        yield connection

    return connect


async def begun(connection: Connection, paths: list[str]) -> tuple[SiteRow, int]:
    """A site by list and a queued sweep of it."""
    site = await sites.add_site(
        connection,
        sites.NewSite("mill", "Mill", "http://mill.invalid/", None, "list", paths, False, {}),
    )
    assert site is not None
    return site, await sweeps.start_sweep(connection, site, enqueue, sweeps.SweepRequest(), None)


async def test_batch_that_breaks_off_is_given_up(connection: Connection) -> None:
    """Its pages are unreadable with a code of their own; the other batches are not touched, and the
    last one ends the sweep."""
    _, sweep_id = await begun(connection, [f"/{number}/" for number in range(10)])
    connect = lending(connection)
    await planning.plan_sweep(connect, enqueue, None, sweep_id)  # type: ignore[arg-type]
    assert [name for name, _ in JOBS] == ["plan_sweep", "read_batch", "read_batch"]
    await sweeps.give_up_batch(connect, enqueue, sweep_id, 0)
    sweep = await kept.sweep_by_id(connection, sweep_id)
    assert sweep is not None
    assert (sweep.read, sweep.unreadable, sweep.state) == (0, 8, "running")
    rows = await kept.readings(connection, sweep_id, sort="path", after=None, limit=20)
    assert {row.problem_code for row in rows} == {"reader-failed"}
    await sweeps.give_up_batch(connect, enqueue, sweep_id, 0)
    await sweeps.give_up_batch(connect, enqueue, sweep_id, 1)
    again = await kept.sweep_by_id(connection, sweep_id)
    assert again is not None
    assert again.unreadable == 10
    assert JOBS[-1] == ("finish_sweep", {"sweep_id": sweep_id})


async def test_sweep_that_cannot_be_planned_fails(connection: Connection) -> None:
    """A queued sweep fails with its reason; one that is planned already does not."""
    _, sweep_id = await begun(connection, ["/a/"])
    await planning.give_up_planning(lending(connection), sweep_id, "its pages could not be found")
    sweep = await kept.sweep_by_id(connection, sweep_id)
    assert sweep is not None
    assert (sweep.state, sweep.problem) == ("failed", "its pages could not be found")
    events = await kept.events_after(connection, sweep_id, 0)
    assert events[-1].kind == "failed"


async def test_lost_batches_are_taken_up(connection: Connection) -> None:
    """A running sweep for which nothing is queued is taken up from the first page without a
    reading."""
    _, sweep_id = await begun(connection, [f"/{number}/" for number in range(20)])
    connect = lending(connection)
    await planning.plan_sweep(connect, enqueue, None, sweep_id)  # type: ignore[arg-type]
    await sweeps.give_up_batch(connect, enqueue, sweep_id, 0)
    JOBS.clear()
    await sweeps.take_up_unfinished(connect, enqueue)
    assert [("read_batch", {"sweep_id": sweep_id, "batch": 1})] == JOBS
