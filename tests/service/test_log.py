"""What was done: each change is noted with who made it, from where, and what it was before; no
entry can be changed or taken out unseen; and nothing secret stands in it, nor in any other log."""

from __future__ import annotations

from typing import Any

import httpx
import psycopg
import pytest

from plumrake.client import NotAllowed, PlumRake
from plumrake.models import LogEntry, NewSite, SiteChange
from plumrake.records.queries import load
from tests.conftest import EDITOR, PASSWORD, SITE, Running, wait_for

OTHER = "logged"
NEW = "winding holes at dusk"


@pytest.fixture(scope="module")
def site(manager: PlumRake) -> str:
    manager.sites.add(NewSite(slug=OTHER, name="Logged", live_address="http://logged.example/"))
    return OTHER


def newest(rake: PlumRake, site: str | None = None, kind: str | None = None) -> LogEntry:
    return next(iter(rake.log.entries(site, kind=kind)))


def test_changes_are_noted_with_what_was_before(manager: PlumRake, site: str) -> None:
    """Policy, members, webhooks, tokens: by whom, from where."""
    before = manager.sites.show(site)
    manager.sites.change(site, SiteChange(policy={"tried-anyway": 5}), before.tag)
    entry = newest(manager, site)
    assert (entry.kind, entry.about, entry.site) == ("site.changed", site, site)
    assert (entry.by, entry.from_address) == ("Philippa Wren", "127.0.0.1")
    assert entry.before == {"policy": {}}
    assert entry.after == {"policy": {"tried-anyway": 5}}

    member = manager.people.add_member(site, EDITOR, "reader")
    manager.people.add_member(site, EDITOR, "developer")
    entry = newest(manager, site, "member")
    assert (entry.kind, entry.about) == ("member.changed", "Ned Osier")
    assert (entry.before, entry.after) == ({"role": "reader"}, {"role": "developer"})
    manager.people.drop_member(site, member.id)
    assert newest(manager, site).kind == "member.gone"

    hook = manager.notifications.add_webhook(site, "https://hooks.example/rake", ["sweep.done"])
    entry = newest(manager, site)
    assert (entry.kind, entry.about) == ("webhook.added", "https://hooks.example/rake")
    manager.notifications.end_webhook(site, hook.id)
    assert newest(manager, site).kind == "webhook.changed"

    manager.people.assign_responsibility(site, "/news/*", person=member.id)
    assert newest(manager, site).after == {"owner_id": member.id, "group_id": None}

    token = manager.people.make_token("nightly", ["read"], site, days=3)
    manager.people.revoke_token(token.id)
    entry = newest(manager, kind="token")
    assert (entry.kind, entry.about, entry.by) == ("token.changed", "nightly", "Philippa Wren")


def test_nothing_changed_is_nothing_noted(manager: PlumRake, site: str) -> None:
    count = len(list(manager.log.entries()))
    shown = manager.sites.show(site)
    manager.sites.change(site, SiteChange(name=shown.name), shown.tag)
    manager.people.set_preferences(digest=True)
    assert len(list(manager.log.entries())) == count


def test_sign_ins_and_refusals_are_noted(running: Running, manager: PlumRake) -> None:
    """Not what was typed where the e-mail address stands: it might be a password."""
    for email, password in ((EDITOR, "wrong password"), ("my secret by mistake", "x")):
        httpx.post(
            f"{running.address}/api/v1/session",
            json={"email": email, "password": password},
            timeout=60,
        )
    with running.client(EDITOR):
        pass
    done, unknown, wrong = list(manager.log.entries(kind="sign-in"))[:3]
    assert (done.kind, done.by, done.after) == (
        "sign-in.done",
        "Ned Osier",
        {"by": "password", "second_factor": False},
    )
    assert (unknown.kind, unknown.about, unknown.by) == (
        "sign-in.refused",
        "nobody who is known",
        None,
    )
    assert (wrong.kind, wrong.about) == ("sign-in.refused", "Ned Osier")
    assert wrong.after == {"why": "bad-credentials"}


def test_passwords_are_noted_as_changed_alone(running: Running, manager: PlumRake) -> None:
    with running.client(EDITOR) as rake:
        rake.people.change_password(PASSWORD, NEW)
    entry = newest(manager, kind="person")
    assert (entry.kind, entry.by, entry.after) == (
        "person.changed",
        "Ned Osier",
        {"password_hash": "changed"},
    )


def test_managers_read_what_was_done_in_their_site(running: Running, site: str) -> None:
    """Editors do not; who runs the service reads all."""
    with running.client() as manager:
        manager.people.add_member(site, EDITOR, "manager")
        with running.client(EDITOR) as rake:
            assert {one.site for one in rake.log.entries(site)} == {site}
            for act in (lambda: rake.log.entries(SITE), rake.log.entries, rake.log.state):
                with pytest.raises(NotAllowed):
                    list(act())  # type: ignore[call-overload]


def test_a_long_log_is_read_in_pieces(manager: PlumRake, site: str) -> None:
    for number in range(7):
        shown = manager.sites.show(site)
        manager.sites.change(site, SiteChange(pause_ms=number + 1), shown.tag)
    pieces: list[int] = []
    path: str | None = f"/api/v1/sites/{site}/log?limit=3"
    while path is not None:
        found: dict[str, Any] = manager._http.get(path).json()
        pieces += [one["id"] for one in found["items"]]
        path = found["next"]
    assert pieces == sorted(pieces, reverse=True)
    assert pieces == [one.id for one in manager.log.entries(site)]


def run(running: Running, statement: str) -> list[tuple[Any, ...]]:
    with psycopg.connect(running.database) as connection:
        got = connection.execute(statement)  # type: ignore[arg-type]
        return got.fetchall() if got.description else []


def test_entries_are_sealed_by_a_worker(running: Running, manager: PlumRake, site: str) -> None:
    running.start("worker")
    manager.people.add_member(site, EDITOR, "reader")
    wait_for(lambda: manager.log.state().unsealed == 0, 60, running.logs)
    state = manager.log.state()
    assert state.sealed == len(list(manager.log.entries()))
    assert state.broken_at is None


def test_no_entry_is_changed_or_taken_out(running: Running, manager: PlumRake, site: str) -> None:
    """The database refuses; whoever goes around that is found by the chain."""
    for role in ("reader", "editor", "developer"):
        manager.people.add_member(site, EDITOR, role)  # type: ignore[arg-type]
    run(running, "SELECT seal_log()")
    whole = manager.log.state()
    for statement in (
        "UPDATE log_entry SET by_id = 1",
        "DELETE FROM log_entry",
        "UPDATE log_entry SET seal = NULL",
    ):
        with pytest.raises(psycopg.errors.RaiseException, match="only added to"):
            run(running, statement)
    around = "SET LOCAL session_replication_role = replica; "
    for tampered in (
        "UPDATE log_entry SET by_id = 0 WHERE place = {place}",
        "DELETE FROM log_entry WHERE place = {place}",
        "UPDATE log_entry SET after = '{{}}' WHERE place = {place}",
        "UPDATE log_entry SET place = place + 100 WHERE place >= {place}",
    ):
        place = whole.sealed - 1
        with psycopg.connect(running.database) as connection:
            connection.execute(around + tampered.format(place=place))  # type: ignore[arg-type]
            found = connection.execute(load("log")["check"]).fetchone()
            assert found is not None
            assert found[2] is not None, tampered
            connection.rollback()
    with psycopg.connect(running.database, autocommit=True) as connection:
        connection.execute(
            f"BEGIN; {around} DELETE FROM log_entry WHERE place = {whole.sealed - 1}; COMMIT"  # type: ignore[arg-type]
        )
    assert manager.log.state().broken_at == whole.sealed


def test_old_entries_go_and_the_rest_stays_whole(
    running: Running, manager: PlumRake, site: str
) -> None:
    manager.people.add_member(site, EDITOR, "reader")
    run(running, "SELECT seal_log()")
    count = manager.log.state().sealed
    assert run(running, "SELECT forget_log(30)") == [(0,)]
    assert run(running, "SELECT forget_log(0)") == [(count,)]
    assert manager.log.state().sealed == 0
    manager.people.add_member(site, EDITOR, "editor")
    run(running, "SELECT seal_log()")
    state = manager.log.state()
    assert (state.sealed, state.broken_at) == (1, None)


def test_what_is_secret_stands_in_no_log(running: Running, manager: PlumRake, site: str) -> None:
    """Canaries: a password, codes, tokens, secrets of hooks and connections, texts of pages."""
    with running.client(EDITOR) as rake:
        rake.people.change_password(PASSWORD, NEW)
        token = rake.people.make_token("canary", ["read", "write"])
    feed = manager.people.make_feed()
    hook = manager.notifications.add_webhook(site, "https://hooks.example/canary", [])
    invited = manager.people.invite("canary@harrowmere.example", "Canary", "reader")
    page = "<h1>Kingfisher canary</h1><p>The lock is shut.</p>"
    running.start("worker")
    manager.gate.ask(SITE, "/canary/", document=page, lens="markup")
    httpx.get(f"{running.address}/api/v1/sites", headers={"Authorization": f"Bearer {NEW}"})
    secrets = [PASSWORD, NEW, token.secret, hook.secret, invited.secret, "Kingfisher canary"]
    secrets += [
        feed.rpartition("/")[2].removesuffix(".atom"),
        manager._http.headers["X-CSRF-Token"],
    ]
    kept = str(run(running, "SELECT * FROM log_entry"))
    said = "".join(file.read_text() for file in running.folder.glob("*.log"))
    assert "canary" in kept  # the token's name, so that the look is one
    for secret in secrets:
        assert secret
        assert secret not in kept
        assert secret not in said


def test_waivers_and_overruling_are_noted(running: Running, manager: PlumRake) -> None:
    running.start("worker")
    asked = manager.gate.ask(SITE, "/canary/", document="<img src=a.png>", lens="markup")
    assert asked.decision == "held"
    manager.gate.overrule(asked.id, "the picture is on its way")
    entry = newest(manager, SITE, "clearance")
    assert (entry.kind, entry.about, entry.by) == ("clearance.changed", "/canary/", "Philippa Wren")
    assert entry.after is not None
    assert entry.after["overruled_why"] == "the picture is on its way"
