"""What goes by its age: what sweeps found, partition by partition, messages that were sent, jobs
that ended."""

from __future__ import annotations

from psycopg.errors import LockNotAvailable

from plumrake.records.queries import Connection, load, number_or_none, numbers, run

_QUERIES = load("tidying")

_PATIENCE = "SET LOCAL lock_timeout = '400ms'"
"""Whoever changes the partitions gives way to those who read and write in them, before anybody
could wait for the other (``deadlock_timeout`` is a second): there is another time."""
_MOST_AT_ONCE = 500


async def make_room(connection: Connection) -> bool:
    """Make the next partition of sweeps where the newest is in use; tell whether one was made.
    Nobody is kept waiting: where the tables are busy, it is left to the next time."""
    if await number_or_none(connection, _QUERIES["last_partition_begun"]) is None:
        return False
    try:
        async with connection.transaction():
            await run(connection, _PATIENCE)
            await run(connection, _QUERIES["make_partition"])
    except LockNotAvailable:
        return False
    return True


async def forget_sweeps(connection: Connection, days: int, kept_sweeps: int) -> int:
    """Forget what sweeps older than so many days read and found, but for the newest of each
    environment; return how many. Partitions of which nothing is to be kept go at once, others sweep
    by sweep, each in a transaction of its own."""
    how = {"days": days, "kept_sweeps": kept_sweeps}
    forgotten = 0
    partitions = await numbers(connection, _QUERIES["old_partitions"])
    await connection.commit()  # else all that follows were one transaction, with all its locks
    for first_sweep in partitions:
        try:
            async with connection.transaction():
                await run(connection, _PATIENCE)
                forgotten += (
                    await number_or_none(
                        connection, _QUERIES["drop_partition"], first_sweep=first_sweep, **how
                    )
                    or 0
                )
        except LockNotAvailable:
            continue
    single = await numbers(connection, _QUERIES["forgettable"], limit=_MOST_AT_ONCE, **how)
    await connection.commit()
    for sweep_id in single:
        async with connection.transaction():
            forgotten += await run(connection, _QUERIES["forget_sweep"], sweep_id=sweep_id)
    return forgotten


async def forget_messages(connection: Connection, days: int) -> int:
    """Forget the e-mails and deliveries of webhooks that ended so long ago; return how many."""
    return await run(connection, _QUERIES["forget_emails"], days=days) + await run(
        connection, _QUERIES["forget_deliveries"], days=days
    )


async def forget_jobs(connection: Connection, days: int) -> int:
    """Forget the jobs that ended so long ago; return how many."""
    return await run(connection, _QUERIES["forget_jobs"], days=days)
