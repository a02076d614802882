"""What goes by its age alone, whatever it is about: messages that were sent, jobs that ended."""

from __future__ import annotations

from plumrake.records.queries import Connection, load, run

_QUERIES = load("tidying")


async def forget_messages(connection: Connection, days: int) -> int:
    """Forget the e-mails and deliveries of webhooks that ended so long ago; return how many."""
    return await run(connection, _QUERIES["forget_emails"], days=days) + await run(
        connection, _QUERIES["forget_deliveries"], days=days
    )


async def forget_jobs(connection: Connection, days: int) -> int:
    """Forget the jobs that ended so long ago; return how many."""
    return await run(connection, _QUERIES["forget_jobs"], days=days)
