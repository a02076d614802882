"""Who is in which site, as what: one rule, and all that is asked by it."""

from __future__ import annotations

import pytest

from plumrake.records import members, people, sites
from plumrake.records.members import AtSite, Kind
from tests.records.conftest import Rows


async def nowhere(rows: Rows, name: str) -> int:
    """Put a person in who has no role in every site."""
    row = await people.add_person(
        rows.connection, f"{name.lower()}@harrowmere.example", name, None, "no hash"
    )
    assert row is not None
    return row.id


async def roles(rows: Rows, person: int) -> dict[str, str]:
    return {one.slug: one.role for one in await members.roles_of(rows.connection, person)}


async def test_a_membership_goes_before_the_role_in_every_site(rows: Rows) -> None:
    trust, museum = await rows.site("trust"), await rows.site("museum")
    ned, imke = await rows.person("Ned", "editor"), await nowhere(rows, "Imke")
    await members.put(rows.connection, ned, trust, "reader", None)
    await members.put(rows.connection, imke, trust, "editor", ned)
    await members.put(rows.connection, imke, trust, "manager", ned)
    assert [
        await members.role_in(rows.connection, person, site)
        for person in (ned, imke)
        for site in (trust, museum)
    ] == ["reader", "editor", "manager", None]
    assert await roles(rows, ned) == {"trust": "reader", "museum": "editor"}
    assert await roles(rows, imke) == {"trust": "manager"}
    assert [one.slug for one in await sites.sites_of(rows.connection, imke)] == ["trust"]
    assert await members.drop(rows.connection, ned, trust)
    assert not await members.drop(rows.connection, ned, trust)
    assert await members.role_in(rows.connection, ned, trust) == "editor"


async def test_nobody_lowers_the_role_of_who_runs_the_service(rows: Rows) -> None:
    """A manager of one site would lock them out of it."""
    trust, philippa = await rows.site("trust"), await rows.person("Philippa", "manager")
    await members.put(rows.connection, philippa, trust, "reader", None)
    [member] = await members.members_of(rows.connection, trust)
    assert (member.role, member.is_everywhere) == ("manager", True)


async def test_members_are_those_of_the_site_and_of_every_one(rows: Rows) -> None:
    trust, museum = await rows.site("trust"), await rows.site("museum")
    ned, imke = await rows.person("Ned", "editor"), await nowhere(rows, "Imke")
    ruth = await nowhere(rows, "Ruth")
    await members.put(rows.connection, imke, trust, "manager", None)
    await members.put(rows.connection, ruth, museum, "editor", None)
    assert [
        (one.name, one.role, one.is_everywhere)
        for one in await members.members_of(rows.connection, trust)
    ] == [("Imke", "manager", False), ("Ned", "editor", True)]
    assert await members.known_to(rows.connection, imke) == {imke, ned}
    assert await members.known_to(rows.connection, ned) == {ned, imke, ruth}


@pytest.mark.parametrize("kind", ["sweep", "reading", "finding", "evidence"])
async def test_what_was_read_belongs_to_its_site(rows: Rows, kind: Kind) -> None:
    """Whoever is elsewhere has no role there; a picture is not even found."""
    trust, museum = await rows.site("trust"), await rows.site("museum")
    inside, outside = await nowhere(rows, "Imke"), await nowhere(rows, "Ruth")
    await members.put(rows.connection, inside, trust, "editor", None)
    await members.put(rows.connection, outside, museum, "manager", None)
    await rows.run("INSERT INTO evidence (hash, media_type, content) VALUES ('h', 'i/x', 'x')")
    sweep = await rows.sweep(trust)
    reading = await rows.reading(sweep, "/a/", picture="h")
    finding = await rows.finding(reading, "links/vague", 0)
    keys = {"sweep": sweep, "reading": reading, "finding": finding, "evidence": "h"}
    found = await members.site_at(rows.connection, inside, kind, keys[kind])
    assert found == AtSite(trust, "trust", "editor", is_confined=False, is_walled=False)
    hidden = await members.site_at(rows.connection, outside, kind, keys[kind])
    assert hidden is None or hidden.role is None
    nothing = "none" if kind == "evidence" else 999_999
    assert await members.site_at(rows.connection, inside, kind, nothing) is None
