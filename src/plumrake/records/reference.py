"""Tables that say in SQL what the core says: filled from it, so that each rule has one owner."""

from __future__ import annotations

import psycopg

from plumrake.core.decisions import every_standing
from plumrake.core.fixes import LIVE, TO_DO, FixState


def fill(connection: psycopg.Connection) -> None:
    """Make the tables of rules those of this version of the core, in one transaction."""
    with connection.transaction(), connection.cursor() as cursor:
        cursor.execute("DELETE FROM standing_rule")
        cursor.executemany(
            "INSERT INTO standing_rule (outcome, answer, waived, left_out, mended, standing)"
            " VALUES (%s, %s, %s, %s, %s, %s)",
            list(every_standing()),
        )
        cursor.execute("DELETE FROM fix_state")
        cursor.executemany(
            "INSERT INTO fix_state (name, is_live, is_to_do) VALUES (%s, %s, %s)",
            [(state.value, state in LIVE, state in TO_DO) for state in FixState],
        )
