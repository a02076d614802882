"""What several transactions do at the same time: each sees what it has to, and one alone acts."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator

import psycopg
from psycopg import AsyncConnection

from plumrake.records import gate
from plumrake.records.queries import Connection

ANSWER = gate.NewAnswer(
    decision="clear",
    reason="nothing holds it",
    title="Fees",
    problem_code=None,
    judged=[],
    live_count=0,
    untested=[],
    picture=None,
    seconds=0.1,
    content_hash="sha256:0",
    minutes=10,
    policy_version="p1",
    core_version="c1",
)


@contextlib.asynccontextmanager
async def two(database: str) -> AsyncIterator[tuple[Connection, Connection]]:
    """Two connections, each with a transaction of its own that the test ends."""
    async with (
        await AsyncConnection.connect(database) as one,
        await AsyncConnection.connect(database) as other,
    ):
        yield one, other


def asked(database: str, pages: int) -> tuple[int, list[int]]:
    """A release of so many pages that wait for their answers: its number and theirs."""
    with psycopg.connect(database) as connection:

        def number(query: str, *values: object) -> int:
            row = connection.execute(query, values).fetchone()  # type: ignore[arg-type]
            assert row is not None
            return int(row[0])

        person = number(
            "INSERT INTO person (email, name, role, password_hash)"
            " VALUES ('ned@x.example', 'Ned', 'manager', 'none') RETURNING id"
        )
        site = number(
            "INSERT INTO site (slug, name, live_address, found_by)"
            " VALUES ('mill', 'Mill', 'http://127.0.0.1:9/', 'list') RETURNING id"
        )
        release = number(
            "INSERT INTO release (site_id, name, asked_by) VALUES (%s, 'spring', %s) RETURNING id",
            site,
            person,
        )
        clearances = [
            number(
                "INSERT INTO clearance (site_id, release_id, path, given_as, address, lens,"
                " asked_by) VALUES (%s, %s, %s, 'address', 'http://127.0.0.1:9/', 'markup', %s)"
                " RETURNING id",
                site,
                release,
                f"/{page}/",
                person,
            )
            for page in range(pages)
        ]
    return release, clearances


async def test_a_release_is_answered_by_whoever_comes_last(database: str) -> None:
    """Two workers answer its last two pages at the same time: the second waits for the first, and
    ends it; before, each saw the other's page wait, and nobody was told."""
    release, (first, second) = asked(database, 2)
    async with two(database) as (one, other):
        assert await gate.keep_answer(one, first, ANSWER)
        assert await gate.keep_answer(other, second, ANSWER)
        assert not await gate.end_release(one, release)
        ending = asyncio.create_task(gate.end_release(other, release))
        done, _ = await asyncio.wait([ending], timeout=0.5)
        assert not done
        await one.commit()
        assert await ending
        await other.commit()
        assert not await gate.end_release(one, release)


async def test_a_clearance_is_answered_once(database: str) -> None:
    """The second answer finds it answered, and changes nothing."""
    _, (clearance,) = asked(database, 1)
    async with two(database) as (one, other):
        assert await gate.keep_answer(one, clearance, ANSWER)
        late = asyncio.create_task(gate.keep_answer(other, clearance, ANSWER))
        await asyncio.wait([late], timeout=0.2)
        await one.commit()
        assert not await late


async def test_all_who_ask_first_get_the_same_key(database: str) -> None:
    """A key that nobody has made yet is made once, however many ask for it together."""
    async with two(database) as (one, other):
        made = await gate.secret(one, "seal-of-a-test", b"a" * 32)
        waiting = asyncio.create_task(gate.secret(other, "seal-of-a-test", b"b" * 32))
        await asyncio.wait([waiting], timeout=0.2)
        await one.commit()
        assert await waiting == made == b"a" * 32
