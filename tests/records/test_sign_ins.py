"""Tried sign-ins, sessions, tokens, second factors and secrets: each query among rows of others
that it must leave alone."""

from __future__ import annotations

from plumrake.records import people, sign_ins
from plumrake.records.sign_ins import AttemptsRow, CallerRow, ComesFrom
from tests.records.conftest import Rows

NED, RUTH = "ned@harrowmere.example", "ruth@harrowmere.example"
HERE, THERE = ComesFrom("192.0.2.1"), ComesFrom("192.0.2.2")


async def tried(rows: Rows, email: str, came: ComesFrom) -> AttemptsRow:
    return await sign_ins.count_attempt(rows.connection, email, came, 60, 600)


async def test_attempts_are_counted_by_person_place_and_browser(rows: Rows) -> None:
    """Each of the four counts has its own; old ones do not count."""
    ned = await rows.person("Ned")
    await sign_ins.know_browser(rows.connection, ned, b"his")
    for _ in range(3):
        counted = await tried(rows, NED.upper(), HERE)
    assert (counted.of_email_here, counted.of_email, counted.from_here) == (3, 3, 3)
    assert (counted.is_known, counted.of_browser) == (False, 0)
    counted = await tried(rows, NED, THERE)
    assert (counted.of_email_here, counted.of_email, counted.from_here) == (1, 4, 1)
    counted = await tried(rows, RUTH, HERE)
    assert (counted.of_email_here, counted.of_email, counted.from_here) == (1, 1, 4)
    counted = await tried(rows, NED, ComesFrom(HERE.address, browser_hash=b"his"))
    assert (counted.is_known, counted.of_browser, counted.of_email) == (True, 1, 4)
    # Another's browser is known for its person alone.
    counted = await tried(rows, RUTH, ComesFrom(HERE.address, browser_hash=b"his"))
    assert (counted.is_known, counted.of_browser, counted.of_email) == (False, 0, 2)
    await rows.run("UPDATE sign_in_attempt SET at = now() - interval '2 minutes'")
    counted = await tried(rows, NED, HERE)
    assert (counted.of_email_here, counted.of_email, counted.from_here) == (1, 5, 1)


async def test_attempts_are_forgotten_where_it_worked(rows: Rows) -> None:
    """What strangers tried elsewhere still counts."""
    await rows.person("Ned")
    for came in (HERE, HERE, THERE):
        await tried(rows, NED, came)
    await sign_ins.forget_attempts(rows.connection, NED, HERE)
    counted = await tried(rows, NED, HERE)
    assert (counted.of_email_here, counted.of_email) == (1, 2)


async def test_twenty_browsers_of_a_person_are_known(rows: Rows) -> None:
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    await sign_ins.know_browser(rows.connection, ruth, b"hers")
    for number in range(22):
        await sign_ins.know_browser(rows.connection, ned, f"browser {number}".encode())
    known = [bytes(one) for (one,) in await rows.run("SELECT token_hash FROM known_browser")]
    assert len(known) == 21
    assert b"hers" in known
    assert b"browser 21" in known
    assert b"browser 0" not in known


async def session_of(rows: Rows, token: bytes, *roles: str) -> CallerRow | None:
    return await sign_ins.caller_by_session(rows.connection, token, 30, roles)


async def test_sessions_end_by_time_by_hand_and_with_the_person(rows: Rows) -> None:
    """A session says who comes; of several of a person one may be left."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    for token, person in ((b"one", ned), (b"two", ned), (b"three", ned), (b"four", ruth)):
        await sign_ins.add_session(
            rows.connection, token, person, f"csrf {token!r}", 8, HERE, second_factor=False
        )
    caller = await session_of(rows, b"two")
    assert caller is not None
    assert (caller.id, caller.csrf_token, caller.scopes) == (ned, "csrf b'two'", ["read", "write"])
    await rows.run("UPDATE session SET expires_at = now() WHERE token_hash = %s", b"one")
    assert await session_of(rows, b"one") is None
    found = await sign_ins.sessions_of(rows.connection, ned, 30)
    assert [one.from_address for one in found] == [HERE.address] * 2
    assert not await sign_ins.end_session_of(rows.connection, found[0].id, ruth)
    await sign_ins.end_sessions(rows.connection, ned, but=b"two")
    assert await session_of(rows, b"two") is not None
    assert await session_of(rows, b"three") is None
    await sign_ins.end_session(rows.connection, b"two")
    assert await session_of(rows, b"two") is None
    assert await session_of(rows, b"four") is not None
    await rows.run("UPDATE person SET active = false WHERE id = %s", ruth)
    assert await session_of(rows, b"four") is None


async def test_idle_sessions_are_over_and_streams_keep_none_alive(rows: Rows) -> None:
    ned = await rows.person("Ned")
    await sign_ins.add_session(rows.connection, b"one", ned, "csrf", 8, HERE, second_factor=False)
    idle = "UPDATE session SET last_used_at = now() - make_interval(mins => %s)"
    await rows.run(idle, 29)
    watched = await sign_ins.caller_by_session(rows.connection, b"one", 30, (), is_use=False)
    assert watched is not None
    [(used,)] = await rows.run("SELECT last_used_at > now() - interval '1 minute' FROM session")
    assert not used
    assert await session_of(rows, b"one") is not None
    [(used,)] = await rows.run("SELECT last_used_at > now() - interval '1 minute' FROM session")
    assert used
    await rows.run(idle, 31)
    assert await session_of(rows, b"one") is None
    assert await sign_ins.sessions_of(rows.connection, ned, 30) == []


async def test_a_second_factor_is_wanted_by_service_and_by_site(rows: Rows) -> None:
    """By the role in every site, and by that in a site that wants it; of nobody else."""
    ned, guest = await rows.person("Ned"), await rows.person("Guest", "reader")
    site, other = await rows.site("trust"), await rows.site("museum")
    wants = sign_ins.wants_second_factor
    assert not await wants(rows.connection, ned, ())
    assert await wants(rows.connection, ned, ("editor",))
    assert not await wants(rows.connection, ned, ("manager",))
    await rows.run("UPDATE site SET second_factor_roles = '{editor}' WHERE id = %s", site)
    assert await wants(rows.connection, ned, ())
    assert not await wants(rows.connection, guest, ())
    await rows.add("membership", person_id=ned, site_id=site, role="reader")
    assert not await wants(rows.connection, ned, ())
    await rows.add("membership", person_id=guest, site_id=other, role="manager")
    assert await wants(rows.connection, guest, ("manager",))


async def test_tokens_work_until_they_are_revoked_or_over(rows: Rows) -> None:
    """Nobody revokes another's token; all of one person's go at once, and no one else's."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    site = await rows.site("trust")
    connection = rows.connection
    first = await sign_ins.add_token(connection, ned, "CI", b"ci", ["read"], days=7)
    await sign_ins.add_token(
        connection,
        ned,
        "CMS",
        b"cms",
        ["read", "write"],
        days=7,
        site_ids=[site],
        ends_with_password=True,
    )
    await sign_ins.add_token(connection, ruth, "hers", b"hers", ["read"], days=7)
    caller = await sign_ins.caller_by_token(connection, b"ci", ())
    assert caller is not None
    assert (caller.id, caller.scopes, caller.site_ids) == (ned, ["read"], None)
    found = await sign_ins.tokens_of(connection, ned)
    assert [(one.name, one.last_used_at is not None, one.sites) for one in found] == [
        ("CI", True, None),
        ("CMS", False, ["trust"]),
    ]
    await rows.run("DELETE FROM site WHERE id = %s", site)
    narrowed = await sign_ins.caller_by_token(connection, b"cms", ())
    assert narrowed is not None
    assert narrowed.site_ids == [site]  # never more than it was for
    assert (await sign_ins.tokens_of(connection, ned))[1].sites == []
    await sign_ins.revoke_tokens(connection, ned, only_with_password=True)
    assert await sign_ins.caller_by_token(connection, b"cms", ()) is None
    assert not await sign_ins.revoke_token(connection, first.id, ruth)
    assert await sign_ins.revoke_token(connection, first.id, ned)
    assert not await sign_ins.revoke_token(connection, first.id, ned)
    assert await sign_ins.caller_by_token(connection, b"ci", ()) is None
    await rows.run("UPDATE token SET expires_at = now() WHERE token_hash = %s", b"hers")
    assert await sign_ins.caller_by_token(connection, b"hers", ()) is None
    assert await sign_ins.tokens_of(connection, ruth) == []


async def test_secrets_for_new_passwords_hold_once_and_for_a_while(rows: Rows) -> None:
    """Not more than one in five minutes; none for whom nobody knows, or may not come in."""
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    connection = rows.connection
    for email in (NED.upper(), "nobody@harrowmere.example", NED):
        await sign_ins.want_reset(connection, email)
    assert [one.id for one in await sign_ins.resets_to_send(connection, 60)] == [ned]
    await sign_ins.note_reset(connection, ned, b"secret")
    await sign_ins.want_reset(connection, NED)  # too soon: the first one holds
    assert await sign_ins.resets_to_send(connection, 60) == []
    found = await sign_ins.person_by_reset(connection, b"secret", 60)
    assert found is not None
    assert found.id == ned
    await sign_ins.set_password(connection, ruth, "other")
    assert await sign_ins.person_by_reset(connection, b"secret", 60) is not None
    await rows.run("UPDATE password_reset SET wanted_at = now() - interval '61 minutes'")
    assert await sign_ins.person_by_reset(connection, b"secret", 60) is None
    await sign_ins.want_reset(connection, NED)
    assert [one.id for one in await sign_ins.resets_to_send(connection, 60)] == [ned]
    await sign_ins.set_password(connection, ned, "new")
    assert await sign_ins.resets_to_send(connection, 60) == []


async def test_factors_and_challenges_are_each_persons_own(rows: Rows) -> None:
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    connection = rows.connection
    for person in (ned, ruth):
        await sign_ins.put_authenticator(connection, person, f"sealed {person}".encode())
        await sign_ins.put_recovery_codes(connection, person, [b"a", b"b"])
    await sign_ins.note_step(connection, ned, 7)
    app = await sign_ins.authenticator_of(connection, ned)
    assert app is not None
    assert (bytes(app.secret), app.last_step, app.is_on) == (f"sealed {ned}".encode(), 7, True)
    assert await sign_ins.use_recovery_code(connection, ned, b"a")
    assert not await sign_ins.use_recovery_code(connection, ned, b"a")
    assert await sign_ins.count_recovery_codes(connection, ruth) == 2
    await sign_ins.put_recovery_codes(connection, ned, [b"b", b"c"])
    assert await sign_ins.count_recovery_codes(connection, ned) == 2
    await sign_ins.drop_authenticator(connection, ned)
    assert await sign_ins.authenticator_of(connection, ned) is None
    assert await sign_ins.authenticator_of(connection, ruth) is not None

    await sign_ins.put_challenge(connection, b"one", "passkey", {"challenge": "x"})
    assert await sign_ins.take_challenge(connection, b"one", "new-passkey") is None
    taken = await sign_ins.take_challenge(connection, b"one", "passkey")
    assert taken is not None
    assert (taken.person_id, taken.content) == (None, {"challenge": "x"})
    assert await sign_ins.take_challenge(connection, b"one", "passkey") is None
    await sign_ins.put_challenge(connection, b"old", "new-passkey", {}, ned)
    await rows.run("UPDATE challenge SET made_at = now() - interval '11 minutes'")
    assert await sign_ins.take_challenge(connection, b"old", "new-passkey") is None


async def test_passkeys_and_subjects_name_one_person(rows: Rows) -> None:
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    connection = rows.connection
    kept = await sign_ins.add_passkey(connection, ned, b"id", b"key", 0, "Laptop")
    assert kept is not None
    assert await sign_ins.add_passkey(connection, ruth, b"id", b"other", 0, "Stolen") is None
    await sign_ins.note_passkey_used(connection, kept.id, 4)
    found = await sign_ins.passkey_by_credential(connection, b"id")
    assert found is not None
    assert (found.person_id, found.sign_count, found.last_used_at is None) == (ned, 4, False)
    assert not await sign_ins.drop_passkey(connection, kept.id, ruth)
    assert await sign_ins.drop_passkey(connection, kept.id, ned)
    assert await sign_ins.passkeys_of(connection, ned) == []
    await sign_ins.set_subject(connection, ned, "https://id.example 1")
    known = await sign_ins.person_by_subject(connection, "https://id.example 1")
    assert known is not None
    assert known == await people.person_by_email(connection, NED)
