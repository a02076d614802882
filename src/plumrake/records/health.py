"""How a database and what works on it are, for whoever looks after the service."""

from __future__ import annotations

import time
from dataclasses import dataclass

from psycopg import AsyncConnection

from plumrake.records import log
from plumrake.records.queries import Connection, load, one

_QUERIES = load("health")
_SECONDS = 5


@dataclass(frozen=True, slots=True)
class StateRow:
    """How the database and what works on it are; ages in seconds, 0 where nothing waits."""

    version: str
    clock: float
    worked_on: int
    oldest_job_seconds: float
    oldest_question_seconds: float
    oldest_sweep_seconds: float
    is_walled: bool
    emails_failing: int
    oldest_picture_seconds: float
    bytes: int


@dataclass(frozen=True, slots=True)
class Health:
    """The database's version and size, by how many seconds its clock is off this machine's, how
    many queues are worked on (each worker takes two), how long the oldest job waits, whether the
    role that asks meets the walls between sites, and from which place on the log does not hold
    (None: all of it that the role sees does)."""

    version: str
    bytes: int
    clock_off: float
    worked_on: int
    oldest_job_seconds: float
    is_walled: bool
    log_broken_at: int | None


async def state_of(connection: Connection) -> StateRow:
    """Return how the database and what works on it are."""
    return await one(connection, _QUERIES["health"], StateRow)


async def health_of(database: str) -> Health:
    """Return how a database is. Raises ``psycopg.Error`` where it does not answer."""
    connection = await AsyncConnection.connect(database, connect_timeout=_SECONDS)
    async with connection:
        before = time.time()
        found = await state_of(connection)
        state = await log.check(connection)
    return Health(
        found.version,
        found.bytes,
        found.clock - before,
        found.worked_on,
        found.oldest_job_seconds,
        found.is_walled,
        state.broken_at,
    )
