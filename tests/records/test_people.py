"""People, sessions, tokens, groups, parts, invitations and filters: each query among rows of others
that it must leave alone."""

from __future__ import annotations

from plumrake.records import people
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


async def test_attempts_are_counted_by_address_and_forgotten(rows: Rows) -> None:
    """Another address' attempts and old ones do not count."""
    for _ in range(3):
        counted = await people.count_attempt(rows.connection, "Ned@harrowmere.example", 60)
    assert counted == 3
    assert await people.count_attempt(rows.connection, "ruth@harrowmere.example", 60) == 1
    await rows.run(
        "UPDATE sign_in_attempt SET at = now() - interval '2 minutes'"
        " WHERE at < (SELECT max(at) FROM sign_in_attempt WHERE email = %s)",
        "ned@harrowmere.example",
    )
    assert await people.count_attempt(rows.connection, "ned@harrowmere.example", 60) == 2
    await people.forget_attempts(rows.connection, "NED@harrowmere.example")
    assert await people.count_attempt(rows.connection, "ned@harrowmere.example", 60) == 1
    assert await people.count_attempt(rows.connection, "ruth@harrowmere.example", 600) == 2


async def test_sessions_end_by_time_by_hand_and_with_the_person(rows: Rows) -> None:
    """A session says who comes; of several of a person one may be left."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    for token, person in ((b"one", ned), (b"two", ned), (b"three", ned), (b"four", ruth)):
        await people.add_session(rows.connection, token, person, f"csrf {token!r}", 8)
    caller = await people.caller_by_session(rows.connection, b"two")
    assert caller is not None
    assert (caller.id, caller.csrf_token, caller.scopes) == (ned, "csrf b'two'", ["read", "write"])
    await rows.run("UPDATE session SET expires_at = now() WHERE token_hash = %s", b"one")
    assert await people.caller_by_session(rows.connection, b"one") is None
    await people.end_sessions(rows.connection, ned, but=b"two")
    there = [await people.caller_by_session(rows.connection, one) for one in (b"two", b"three")]
    assert [one is not None for one in there] == [True, False]
    await people.end_session(rows.connection, b"two")
    assert await people.caller_by_session(rows.connection, b"two") is None
    assert await people.caller_by_session(rows.connection, b"four") is not None
    await rows.run("UPDATE person SET active = false WHERE id = %s", ruth)
    assert await people.caller_by_session(rows.connection, b"four") is None


async def test_tokens_work_until_they_are_revoked(rows: Rows) -> None:
    """Nobody revokes another's token; all of one person's go at once, and no one else's."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    first = await people.add_token(rows.connection, ned, "CI", b"ci", ["read"])
    await people.add_token(rows.connection, ned, "CMS", b"cms", ["read", "write"])
    await people.add_token(rows.connection, ruth, "hers", b"hers", ["read"])
    caller = await people.caller_by_token(rows.connection, b"ci")
    assert caller is not None
    assert (caller.id, caller.scopes, caller.csrf_token) == (ned, ["read"], None)
    names = [
        (one.name, one.last_used_at is not None)
        for one in await people.tokens_of(rows.connection, ned)
    ]
    assert names == [("CI", True), ("CMS", False)]
    assert not await people.revoke_token(rows.connection, first.id, ruth)
    assert await people.revoke_token(rows.connection, first.id, ned)
    assert not await people.revoke_token(rows.connection, first.id, ned)
    assert await people.caller_by_token(rows.connection, b"ci") is None
    await people.revoke_tokens(rows.connection, ned)
    assert await people.tokens_of(rows.connection, ned) == []
    assert len(await people.tokens_of(rows.connection, ruth)) == 1


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
    await people.set_password(rows.connection, ned, "new hash")
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
