"""The roles of the database that the parts of the service run as: one owns and migrates, one serves
behind the walls between sites, one works, one reads copies. Only the first has to be there."""

from __future__ import annotations

from types import MappingProxyType
from typing import Any

import psycopg
from psycopg.sql import SQL, Identifier, Literal

from plumrake.records.queries import load

_QUERIES = load("roles")
OWNER = "plumrake"
SERVING, WORKING, COPYING = "plumrake_serving", "plumrake_working", "plumrake_copying"
ROLES = MappingProxyType({"serve": SERVING, "worker": WORKING})
"""The role of each command that runs for years."""
MAKE = _QUERIES["make"]
"""What a superuser runs once on a server, so that the roles are there (``deploy/make-roles``)."""


def grant(connection: psycopg.Connection[Any]) -> None:
    """Give each role that is there what it may, on the newest shape; whoever owns the tables does
    it. Granting again changes nothing."""
    found = connection.execute(_QUERIES["there"], {"names": [SERVING, WORKING]}).fetchall()
    there = {name for (name,) in found}
    for name, query in (
        (SERVING, _QUERIES["plumrake_serving"]),
        (WORKING, _QUERIES["plumrake_working"]),
    ):
        if name in there:
            with connection.transaction():
                connection.execute(query)


def make_roles(connection: psycopg.Connection[Any], password: str) -> None:
    """Make the roles that are missing, all with one password; a superuser does it, on a server of
    its own."""
    connection.execute(MAKE)
    for name in (SERVING, WORKING, COPYING):
        connection.execute(
            SQL("ALTER ROLE {} PASSWORD {}").format(Identifier(name), Literal(password))
        )
