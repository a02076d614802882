"""Tidying by age: evidence goes when it is old and no sweep that people still look at needs it."""

from __future__ import annotations

from plumrake.actions.ports import Connect
from plumrake.records import sweeps

OLD_DAYS = 90
KEPT_SWEEPS = 5
"""So many of the newest finished sweeps of each environment keep their pictures whatever their
age."""


async def tidy(connect: Connect) -> int:
    """Forget old evidence; return how many pieces went."""
    async with connect() as connection, connection.transaction():
        return await sweeps.forget_evidence(
            connection, older_than_days=OLD_DAYS, kept_sweeps=KEPT_SWEEPS
        )
