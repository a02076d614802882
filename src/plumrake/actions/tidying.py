"""Tidying by age: what is old goes where nobody needs it any more. A worker does it at night."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.actions.ports import Connect
from plumrake.records import log, sweeps, tidying

OLD_DAYS = 90
JOBS_DAYS = 30
"""Jobs that ended well go at once; for so long the others are kept, for whoever looks into it."""
KEPT_SWEEPS = 5
"""So many of the newest finished sweeps of each environment keep their pictures whatever their
age."""


LOG_DAYS = 730
"""For so many days the log of what was done is kept, where nothing else is said."""


@dataclass(frozen=True, slots=True)
class Tidied:
    """How much went: pieces of evidence, entries of the log, e-mails and deliveries, jobs."""

    evidence: int
    log_entries: int
    messages: int
    jobs: int


async def tidy(connect: Connect, log_days: int = LOG_DAYS) -> Tidied:
    """Forget old evidence, what the log says of long ago, messages that were sent and jobs that
    ended."""
    async with connect() as connection, connection.transaction():
        return Tidied(
            log_entries=await log.forget(connection, log_days),
            evidence=await sweeps.forget_evidence(
                connection, older_than_days=OLD_DAYS, kept_sweeps=KEPT_SWEEPS
            ),
            messages=await tidying.forget_messages(connection, OLD_DAYS),
            jobs=await tidying.forget_jobs(connection, JOBS_DAYS),
        )
