"""Registered sites and their headline figures."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import Connection, load, one, row_or_none, rows, run

_QUERIES = load("sites")


@dataclass(frozen=True, slots=True)
class SiteRow:
    """A site as kept."""

    id: int
    slug: str
    name: str
    live_address: str
    staging_address: str | None
    found_by: str
    listed_paths: list[str]
    private_leave: bool
    policy: dict[str, Any]
    created_at: datetime
    archive: str | None
    most_pages: int
    crawl_depth: int
    parallel: int
    pause_ms: int
    schedule: str | None
    schedule_environment: str
    scheduled_at: datetime
    changed_at: datetime
    journeys: list[dict[str, Any]]
    words_dropped: int
    second_factor_roles: list[str]


@dataclass(frozen=True, slots=True)
class NewSite:
    """What it takes to register a site."""

    slug: str
    name: str
    live_address: str
    staging_address: str | None
    found_by: str
    listed_paths: list[str]
    private_leave: bool
    policy: dict[str, Any]
    most_pages: int = 20_000
    crawl_depth: int = 20
    parallel: int = 4
    pause_ms: int = 0
    schedule: str | None = None
    schedule_environment: str = "live"
    journeys: list[dict[str, Any]] = field(default_factory=list)
    second_factor_roles: list[str] = field(default_factory=list)

    def as_values(self) -> dict[str, Any]:
        """Return the query's values."""
        return {
            name: Jsonb(getattr(self, name))
            if name in ("policy", "journeys")
            else getattr(self, name)
            for name in self.__slots__
        }


@dataclass(frozen=True, slots=True)
class ArchiveRow:
    """An archive of pages that was handed over."""

    name: str
    content: bytes


@dataclass(frozen=True, slots=True)
class FiguresRow:
    """What the last finished sweep of one environment of a site found."""

    site_id: int
    environment: str
    sweep_id: int
    finished_at: datetime
    pages: int
    left_out: int
    ready: int
    unreadable: int
    barriers: int
    obstacles: int
    frictions: int
    doubtful: int
    words: int
    waived: int


@dataclass(frozen=True, slots=True)
class UnderWayRow:
    """A sweep that waits or runs, and how far it is."""

    site_id: int
    environment: str
    sweep_id: int
    state: str
    total: int
    read: int
    unreadable: int


async def add_site(connection: Connection, new: NewSite) -> SiteRow | None:
    """Register a site; None where the slug is taken."""
    return await row_or_none(connection, _QUERIES["add"], SiteRow, **new.as_values())


async def site_by_slug(connection: Connection, slug: str) -> SiteRow | None:
    """Return a site, or None."""
    return await row_or_none(connection, _QUERIES["by_slug"], SiteRow, slug=slug)


async def site_by_id(connection: Connection, site_id: int) -> SiteRow:
    """Return a site that is known to be there."""
    return await one(connection, _QUERIES["by_id"], SiteRow, id=site_id)


async def sites_of(connection: Connection, person_id: int) -> list[SiteRow]:
    """Return the sites that are there for a person, by name."""
    return await rows(connection, _QUERIES["of_person"], SiteRow, person_id=person_id)


async def figures(connection: Connection, site_id: int | None = None) -> list[FiguresRow]:
    """Return the figures of one site, or of all."""
    return await rows(connection, _QUERIES["figures"], FiguresRow, site_id=site_id)


async def under_way(connection: Connection, site_id: int | None = None) -> list[UnderWayRow]:
    """Return the sweeps that wait or run, of one site or of all."""
    return await rows(connection, _QUERIES["under_way"], UnderWayRow, site_id=site_id)


async def change_site(connection: Connection, site: SiteRow, new: NewSite) -> SiteRow | None:
    """Change a site that is still as it was when it was looked at; None where somebody else changed
    it meanwhile."""
    return await row_or_none(
        connection,
        _QUERIES["change"],
        SiteRow,
        id=site.id,
        known=site.changed_at,
        **new.as_values(),
    )


async def drop_site(connection: Connection, site_id: int) -> None:
    """Forget a site and all that is known of it."""
    await run(connection, _QUERIES["drop"], id=site_id)


async def every_site(connection: Connection) -> list[SiteRow]:
    """Return all sites."""
    return await rows(connection, _QUERIES["every"], SiteRow)


async def scheduled(connection: Connection) -> list[SiteRow]:
    """Return the sites that are read by the clock, held against others until the transaction
    ends."""
    return await rows(connection, _QUERIES["scheduled"], SiteRow)


async def note_scheduled(connection: Connection, site_id: int, at: datetime) -> None:
    """Keep when the clock last started a sweep of a site."""
    await run(connection, _QUERIES["note_scheduled"], id=site_id, at=at)


async def keep_archive(
    connection: Connection, site_id: int, content_hash: str, name: str, content: bytes
) -> SiteRow:
    """Keep an archive as what the site's pages come from."""
    values = {"site_id": site_id, "hash": content_hash, "name": name, "content": content}
    return await one(connection, _QUERIES["keep_archive"], SiteRow, **values)


async def archive(connection: Connection, content_hash: str) -> ArchiveRow | None:
    """Return an archive, or None."""
    return await row_or_none(connection, _QUERIES["archive"], ArchiveRow, hash=content_hash)
