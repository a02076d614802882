"""Tidying by age: evidence goes when it is old and no sweep that people still look at needs it."""

from __future__ import annotations

from plumrake.actions.ports import Connect
from plumrake.records import log, sweeps

OLD_DAYS = 90
KEPT_SWEEPS = 5
"""So many of the newest finished sweeps of each environment keep their pictures whatever their
age."""


LOG_DAYS = 730
"""For so many days the log of what was done is kept, where nothing else is said."""


async def tidy(connect: Connect, log_days: int = LOG_DAYS) -> int:
    """Forget old evidence, and what the log says of long ago; return how many pieces of evidence
    went."""
    async with connect() as connection, connection.transaction():
        await log.forget(connection, log_days)
        return await sweeps.forget_evidence(
            connection, older_than_days=OLD_DAYS, kept_sweeps=KEPT_SWEEPS
        )
