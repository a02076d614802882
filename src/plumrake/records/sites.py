"""Registered sites and their headline figures."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.records.queries import Connection, load, one, row_or_none, rows

_QUERIES = load("sites")


@dataclass(frozen=True, slots=True)
class Site:
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


@dataclass(frozen=True, slots=True)
class Figures:
    """What the last finished sweep of one edition of a site found."""

    site_id: int
    edition: str
    sweep_id: int
    finished_at: datetime
    pages: int
    ready: int
    unreadable: int
    barriers: int
    obstacles: int
    frictions: int
    doubtful: int


async def add_site(connection: Connection, new: NewSite) -> Site | None:
    """Register a site; None where the slug is taken."""
    values = {name: getattr(new, name) for name in NewSite.__slots__}
    return await row_or_none(connection, _QUERIES["add"], Site, **{**values, "policy": Jsonb(new.policy)})


async def site_by_slug(connection: Connection, slug: str) -> Site | None:
    """Return a site, or None."""
    return await row_or_none(connection, _QUERIES["by_slug"], Site, slug=slug)


async def site_by_id(connection: Connection, site_id: int) -> Site:
    """Return a site that is known to be there."""
    return await one(connection, _QUERIES["by_id"], Site, id=site_id)


async def all_sites(connection: Connection) -> list[Site]:
    """Return every site by name."""
    return await rows(connection, _QUERIES["all"], Site)


async def figures(connection: Connection, site_id: int | None = None) -> list[Figures]:
    """Return the figures of one site, or of all."""
    return await rows(connection, _QUERIES["figures"], Figures, site_id=site_id)
