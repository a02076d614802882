"""Whether the way through a site's work is seen, and how far the gate is on it."""

from __future__ import annotations

from plumrake.records.queries import Connection, load, number, run

_QUERIES = load("ways")


async def is_put_away(connection: Connection, site_id: int) -> bool:
    """Tell whether nobody wants to see a site's way any more."""
    return await number(connection, _QUERIES["is_put_away"], site_id=site_id) > 0


async def put_away(connection: Connection, site_id: int, by_id: int) -> None:
    """Let a site's way be seen no more."""
    await run(connection, _QUERIES["put_away"], site_id=site_id, by_id=by_id)


async def show_again(connection: Connection, site_id: int) -> None:
    """Let a site's way be seen again."""
    await run(connection, _QUERIES["show_again"], site_id=site_id)


async def times_asked(connection: Connection, site_id: int) -> int:
    """Return how often the gate was asked for a site."""
    return await number(connection, _QUERIES["clearances"], site_id=site_id)
