"""The demo's people and site in the database; run again it changes nothing."""

from __future__ import annotations

import contextlib
import tomllib
from importlib.resources import files
from typing import Any

from plumrake.actions.people import EmailTaken, add_person
from plumrake.demo.site import journeys
from plumrake.records import people, sites
from plumrake.records.queries import Connection

SITE = "harrowmere"


def cast() -> dict[str, Any]:
    """Return the demo's people and their common password."""
    return tomllib.loads(files("plumrake.demo").joinpath("people.toml").read_text(encoding="utf-8"))


async def seed(connection: Connection, live_address: str, staging_address: str) -> None:
    """Add the demo's people, its site (with leave for loopback) and who answers for which area."""
    known = cast()
    new = sites.NewSite(
        SITE,
        "Harrowmere Canal Trust",
        live_address,
        staging_address,
        "sitemap",
        [],
        private_leave=True,
        policy={},
        journeys=journeys(),
    )
    await sites.add_site(connection, new)
    site = await sites.site_by_slug(connection, SITE)
    assert site is not None
    for person in known["people"]:
        with contextlib.suppress(EmailTaken):
            await add_person(
                connection, person["email"], person["name"], person["role"], known["password"]
            )
        owner = await people.person_by_email(connection, person["email"])
        assert owner is not None
        for pattern in person["responsible_for"]:
            await people.assign_responsibility(connection, site.id, pattern, owner.id)
