"""Where the sources of sites are kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import Connection, load, row_or_none, rows, run, with_fragment

_QUERIES = with_fragment(load("connections"), "connection")


@dataclass(frozen=True, slots=True)
class SourceConnectionRow:
    """A connection of an environment of a site to where its sources are; ``secret`` is
    encrypted."""

    site_id: int
    environment: str
    kind: str
    settings: dict[str, Any]
    secret: bytes | None
    made_by: str | None
    made_by_id: int | None
    synced_at: datetime | None
    made_at: datetime


async def set_connection(
    connection: Connection,
    site_id: int,
    environment: str,
    kind: str,
    settings: Mapping[str, Any],
    secret: bytes | None,
    made_by: int,
) -> None:
    """Keep where the sources of an environment are, in place of what was said before."""
    await run(
        connection,
        _QUERIES["set"],
        site_id=site_id,
        environment=environment,
        kind=kind,
        settings=Jsonb(dict(settings)),
        secret=secret,
        made_by=made_by,
    )


async def connection_of(
    connection: Connection, site_id: int, environment: str
) -> SourceConnectionRow | None:
    """Return where the sources of an environment are, or None."""
    return await row_or_none(
        connection, _QUERIES["of"], SourceConnectionRow, site_id=site_id, environment=environment
    )


async def connections_of_site(connection: Connection, site_id: int) -> list[SourceConnectionRow]:
    """Return where the sources of a site are."""
    return await rows(connection, _QUERIES["of_site"], SourceConnectionRow, site_id=site_id)


async def every_connection(connection: Connection) -> list[SourceConnectionRow]:
    """Return where the sources of all sites are."""
    return await rows(connection, _QUERIES["every"], SourceConnectionRow)


async def drop_connection(connection: Connection, site_id: int, environment: str) -> bool:
    """End a connection; tell whether there was one."""
    return bool(await run(connection, _QUERIES["drop"], site_id=site_id, environment=environment))
