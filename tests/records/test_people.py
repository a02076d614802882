"""People, groups, parts, invitations and filters: each query among rows of others
that it must leave alone."""

from __future__ import annotations

from plumrake.records import people, sign_ins
from tests.records.conftest import Rows


async def test_people_are_listed_by_name_and_known_whatever_the_case(rows: Rows) -> None:
    """One address is one person, however it is written; a second one with it is not added."""
    ruth, ned = await rows.person("Ruth", "manager"), await rows.person("Ned")
    assert [one.id for one in await people.all_people(rows.connection)] == [ned, ruth]
    known = await people.person_by_email(rows.connection, "NED@Harrowmere.example")
    assert known is not None
    assert (known.id, known.role, known.active) == (ned, "editor", True)
    again = await people.add_person(rows.connection, "Ned@harrowmere.example", "N", "editor", "x")
    assert again is None
    assert await people.person_by_id(rows.connection, ned + 99) is None


async def test_managers_are_counted_while_they_may_sign_in(rows: Rows) -> None:
    """Neither editors nor managers who were switched off are among them."""
    away = await rows.person("Away", "manager")
    await rows.person("Ruth", "manager")
    await rows.person("Ned")
    assert await people.count_managers(rows.connection) == 2
    await people.change_person(
        rows.connection,
        away,
        name="Gone",
        role="manager",
        active=False,
        digest=False,
        immediately=False,
    )
    assert await people.count_managers(rows.connection) == 1
    changed = await people.person_by_id(rows.connection, away)
    assert changed is not None
    assert (changed.name, changed.active, changed.digest) == ("Gone", False, False)


async def test_parts_belong_to_a_person_or_a_group(rows: Rows) -> None:
    """A pattern has one owner, who may change; a site's parts are its own."""
    ned = await rows.person("Ned")
    group = await people.add_group(rows.connection, "Boating desk")
    site, other = await rows.site("trust"), await rows.site("museum")
    await people.assign_responsibility(rows.connection, site, "/visit/*", ned)
    await people.assign_responsibility(rows.connection, site, "/boating/*", None, group)
    await people.assign_responsibility(rows.connection, other, "/visit/*", None, group)
    parts = await people.responsibilities_of(rows.connection, site)
    assert [(one.pattern, one.owner) for one in parts] == [
        ("/boating/*", "Boating desk"),
        ("/visit/*", "Ned"),
    ]
    await people.assign_responsibility(rows.connection, site, "/visit/*", None, group)
    parts = await people.responsibilities_of(rows.connection, site)
    assert [(one.owner_id, one.group_id) for one in parts] == [(None, group), (None, group)]
    assert await people.drop_part(rows.connection, site, "/visit/*")
    assert not await people.drop_part(rows.connection, site, "/visit/*")
    assert len(await people.responsibilities_of(rows.connection, other)) == 1


async def test_groups_have_members_and_one_name(rows: Rows) -> None:
    """Members are replaced as a whole; people there are not are passed over; a group that goes
    leaves its people."""
    ned, ruth, imke = [await rows.person(name) for name in ("Ned", "Ruth", "Imke")]
    desk = await people.add_group(rows.connection, "Desk")
    web = await people.add_group(rows.connection, "Web")
    assert await people.add_group(rows.connection, "DESK") is None
    assert desk is not None
    assert web is not None
    await people.set_members(rows.connection, desk, [ned, ruth, 4_000])
    await people.set_members(rows.connection, web, [ned])
    await people.set_members(rows.connection, desk, [ruth, imke])
    found = await people.groups(rows.connection)
    assert [(one.name, one.members) for one in found] == [("Desk", [ruth, imke]), ("Web", [ned])]
    assert await people.drop_group(rows.connection, desk)
    assert not await people.drop_group(rows.connection, desk)
    assert len(await people.all_people(rows.connection)) == 3


async def test_invitations_hold_until_taken_up_over_or_replaced(rows: Rows) -> None:
    """A second one to an address takes the first one's place; each secret opens its own."""
    by = await rows.person("Ruth", "manager")

    async def invite(email: str, token: bytes, days: int = 7) -> int:
        made = await people.invite(rows.connection, email, "X", "editor", token, by, days)
        return made.id

    await invite("ned@harrowmere.example", b"first")
    second = await invite("Ned@Harrowmere.example", b"second")
    other = await invite("imke@harrowmere.example", b"other")
    over = await invite("osric@harrowmere.example", b"over", days=0)
    open_now = [one.id for one in await people.invitations(rows.connection)]
    assert open_now == [second, other, over]
    assert await people.invitation_by_secret(rows.connection, b"first") is None
    assert await people.invitation_by_secret(rows.connection, b"over") is None
    found = await people.invitation_by_secret(rows.connection, b"second")
    assert found is not None
    assert found.id == second
    await people.accept_invitation(rows.connection, second)
    assert await people.invitation_by_secret(rows.connection, b"second") is None
    assert not await people.drop_invitation(rows.connection, second)
    assert await people.drop_invitation(rows.connection, other)


async def test_feeds_passwords_and_answers_are_each_persons_own(rows: Rows) -> None:
    """A feed's secret finds its person; an answer is kept by person and key."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    await people.set_feed(rows.connection, ned, b"feed of ned")
    await people.set_feed(rows.connection, ruth, b"feed of ruth")
    found = await people.person_by_feed(rows.connection, b"feed of ned")
    assert found is not None
    assert found.id == ned
    await people.set_feed(rows.connection, ned, None)
    assert await people.person_by_feed(rows.connection, b"feed of ned") is None
    await sign_ins.set_password(rows.connection, ned, "new hash")
    hashes = [one.password_hash for one in await people.all_people(rows.connection)]
    assert hashes == ["new hash", "no hash"]
    await people.keep_answer(rows.connection, ned, "k", "hash", {"id": 1})
    await people.keep_answer(rows.connection, ruth, "k", "other", {"id": 2})
    kept = await people.kept_answer(rows.connection, ned, "k")
    assert kept is not None
    assert (kept.request_hash, kept.answer) == ("hash", {"id": 1})
    assert await people.kept_answer(rows.connection, ned, "l") is None
    await rows.run("UPDATE idempotency SET created_at = now() - interval '25 hours'")
    await people.keep_answer(rows.connection, ned, "m", "hash", {})
    assert await rows.run("SELECT key FROM idempotency") == [("m",)]


async def test_the_start_key_is_one_and_used_up(rows: Rows) -> None:
    """A later key takes the place of the earlier; it is given once."""
    await people.keep_start_key(rows.connection, b"first")
    await people.keep_start_key(rows.connection, b"second")
    assert await people.take_start_key(rows.connection) == b"second"
    assert await people.take_start_key(rows.connection) is None


async def test_filters_are_saved_by_person_site_view_and_name(rows: Rows) -> None:
    """The same name of a view is replaced, whatever its case; of another view, site or person it is
    another filter."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    site, other = await rows.site("trust"), await rows.site("museum")

    async def save(person: int, at: int, view: str, name: str, **query: str) -> int:
        return (await people.save_filter(rows.connection, person, at, view, name, query)).id

    first = await save(ned, site, "causes", "Mine", weight="barrier")
    assert await save(ned, site, "causes", "mine", weight="friction") == first
    await save(ned, site, "pages", "Mine")
    await save(ned, site, "causes", "Alone")
    theirs = await save(ruth, site, "causes", "Mine")
    await save(ned, other, "causes", "Mine")
    saved = await people.saved_filters(rows.connection, ned, site)
    assert [(one.view, one.name, one.query) for one in saved] == [
        ("causes", "Alone", {}),
        ("causes", "mine", {"weight": "friction"}),
        ("pages", "Mine", {}),
    ]
    assert await people.count_filters(rows.connection, ned, site) == 3
    assert not await people.drop_filter(rows.connection, ned, site, theirs)
    assert not await people.drop_filter(rows.connection, ned, other, first)
    assert await people.drop_filter(rows.connection, ned, site, first)
    assert await people.count_filters(rows.connection, ned, site) == 2
