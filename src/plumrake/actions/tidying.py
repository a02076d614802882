"""Tidying by age: what is old goes where nobody needs it any more. A worker does it at night."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.actions.ports import Connect
from plumrake.records import evidence, log, tidying

OLD_DAYS = 90
JOBS_DAYS = 30
"""Jobs that ended well go at once; for so long the others are kept, for whoever looks into it."""
KEPT_SWEEPS = 5
"""So many of the newest finished sweeps of each environment keep their pictures, and all that they
found, whatever their age."""


@dataclass(frozen=True, slots=True)
class KeptDays:
    """For how many days the log of what was done is kept, and what sweeps read and found."""

    log: int = 730
    sweeps: int = 400


@dataclass(frozen=True, slots=True)
class Tidied:
    """How much went: sweeps with what they found, pieces of evidence, entries of the log, e-mails
    and deliveries, jobs."""

    sweeps: int
    evidence: int
    log_entries: int
    messages: int
    jobs: int


async def tidy(connect: Connect, kept: KeptDays | None = None) -> Tidied:
    """Forget what old sweeps found, old evidence, what the log says of long ago, messages that were
    sent and jobs that ended."""
    kept = kept or KeptDays()
    async with connect() as connection:
        forgotten = await tidying.forget_sweeps(connection, kept.sweeps, KEPT_SWEEPS)
        async with connection.transaction():
            return Tidied(
                sweeps=forgotten,
                log_entries=await log.forget(connection, kept.log),
                evidence=await evidence.forget(
                    connection, older_than_days=OLD_DAYS, kept_sweeps=KEPT_SWEEPS
                ),
                messages=await tidying.forget_messages(connection, OLD_DAYS),
                jobs=await tidying.forget_jobs(connection, JOBS_DAYS),
            )


async def make_room(connect: Connect) -> None:
    """Have the next partition of sweeps ready before it is needed."""
    async with connect() as connection:
        await tidying.make_room(connection)
