"""Who may do what: sessions, CSRF, tokens, scopes, roles, and that secrets are kept as hashes
only."""

from collections import Counter
from concurrent.futures import ThreadPoolExecutor

import httpx
import psycopg
import pytest

from plumrake.client import (
    BadCredentials,
    BadToken,
    ConflictError,
    NotAllowed,
    NotSignedIn,
    NotValid,
    PlumRake,
    TooManyRequests,
)
from plumrake.models import NewSite
from tests.conftest import EDITOR, MANAGER, PASSWORD, SITE, Running, token_of


@pytest.fixture
def raw(running: Running) -> httpx.Client:
    return httpx.Client(base_url=running.address)


READS = [
    "/session",
    "/sites",
    "/sites/harrowmere",
    "/sites/harrowmere/sweeps",
    "/sites/harrowmere/findings",
    "/checks",
    "/tokens",
    "/sweeps/1",
]


@pytest.mark.parametrize("path", READS)
def test_nothing_is_shown_to_strangers(raw: httpx.Client, path: str) -> None:
    """Every resource asks who is there."""
    answer = raw.get(f"/api/v1{path}")
    assert answer.status_code == 401
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["code"] == "not-signed-in"


def test_wrong_password_and_unknown_person_look_alike(running: Running) -> None:
    """The answer does not say which of the two was wrong."""
    says = []
    for email in (EDITOR, "nobody@harrowmere.example"):
        with PlumRake(running.address) as rake, pytest.raises(BadCredentials) as error:
            rake.people.sign_in(email, "wrong password")
        says.append(str(error.value))
    assert says[0] == says[1]


def test_guessing_is_slowed(running: Running) -> None:
    """After ten wrong tries an address has to wait, even with the right password."""
    with PlumRake(running.address) as rake:
        for _ in range(10):
            with pytest.raises(BadCredentials):
                rake.people.sign_in("osric@harrowmere.example", "wrong password")
        response = httpx.post(
            f"{running.address}/api/v1/session",
            json={"email": "osric@harrowmere.example", "password": PASSWORD},
        )
    assert response.status_code == 429
    assert response.json()["code"] == "too-many-attempts"
    assert int(response.headers["retry-after"]) > 0
    assert TooManyRequests.code


def test_guesses_in_one_burst_are_counted(running: Running) -> None:
    """Many at once are many: those after the tenth are not even looked at."""

    def guess(number: int) -> int:
        answer = httpx.post(
            f"{running.address}/api/v1/session",
            json={"email": "ruth@harrowmere.example", "password": f"guess number {number}"},
            timeout=60,
        )
        return answer.status_code

    with ThreadPoolExecutor(30) as pool:
        answers = Counter(pool.map(guess, range(30)))
    assert answers == {401: 10, 429: 20}


def test_signing_in_holds_no_connection_while_it_computes(running: Running) -> None:
    """As many at once as there are connections and more: others are served meanwhile."""

    def enter(_: int) -> int:
        answer = httpx.post(
            f"{running.address}/api/v1/session",
            json={"email": MANAGER, "password": PASSWORD},
            timeout=60,
        )
        return answer.status_code

    with ThreadPoolExecutor(9) as pool:
        entering = [pool.submit(enter, number) for number in range(9)]
        assert httpx.get(f"{running.address}/health/ready", timeout=5).is_success
        assert {one.result() for one in entering} == {201}


@pytest.mark.parametrize("what", ["policy", "gate"])
def test_only_managers_try_rules(running: Running, what: str) -> None:
    """Trying costs as much as deciding; a pattern of many stars is refused before anything is
    tried."""
    with running.client(EDITOR) as rake, pytest.raises(NotAllowed):
        rake.sites.try_policy(SITE, {}) if what == "policy" else rake.gate.try_rules(SITE, {})
    stars = "/" + "*a" * 40
    with running.client() as rake, pytest.raises(NotValid, match="stars"):
        if what == "policy":
            rake.sites.try_policy(SITE, {"leave-out-pages": [stars]})
        else:
            rake.gate.try_rules(SITE, {"sections": [{"pattern": stars, "holds": "none"}]})


def test_session_cookie_is_kept_from_scripts(raw: httpx.Client) -> None:
    """The cookie is HttpOnly and SameSite; signing out ends it on the server too."""
    answer = raw.post("/api/v1/session", json={"email": MANAGER, "password": PASSWORD})
    cookie = answer.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=lax" in cookie
    assert raw.get("/api/v1/session").json()["email"] == MANAGER
    kept = raw.cookies["plumrake_session"]
    assert (
        raw.delete(
            "/api/v1/session", headers={"X-CSRF-Token": answer.json()["csrf_token"]}
        ).status_code
        == 204
    )
    assert (
        raw.get("/api/v1/session", headers={"Cookie": f"plumrake_session={kept}"}).status_code
        == 401
    )


@pytest.mark.parametrize("header", [{}, {"X-CSRF-Token": "guessed"}])
def test_write_by_cookie_needs_its_csrf_token(raw: httpx.Client, header: dict[str, str]) -> None:
    """A form on another site that sends the cookie along changes nothing."""
    raw.post("/api/v1/session", json={"email": MANAGER, "password": PASSWORD})
    answer = raw.post("/api/v1/sites/harrowmere/sweeps", json={}, headers=header)
    assert (answer.status_code, answer.json()["code"]) == (403, "csrf")


def test_token_scopes_and_revocation(running: Running, manager: PlumRake) -> None:
    """A reading token may not write; a revoked one may nothing."""
    token = manager.people.make_token("reader", ["read"])
    with PlumRake(running.address, token=token.secret) as rake:
        assert rake.sites.show("harrowmere").name == "Harrowmere Canal Trust"
        with pytest.raises(NotAllowed) as error:
            rake.sweeps.start("harrowmere")
        assert error.value.code == "scope-missing"
        manager.people.revoke_token(token.id)
        with pytest.raises(BadToken):
            rake.people.me()


def test_secrets_are_kept_as_hashes(running: Running, manager: PlumRake) -> None:
    """Neither password nor token nor session stands in the database in plain."""
    token = token_of(manager, "read")
    with psycopg.connect(running.database) as connection:
        for table in ("person", "token", "session"):
            rows = str(connection.execute(f"SELECT * FROM {table}").fetchall())  # type: ignore[arg-type]
            assert token not in rows
            assert PASSWORD not in rows
        hashes = connection.execute("SELECT password_hash FROM person").fetchall()
    assert all(row[0].startswith("$argon2id$") for row in hashes)


def test_editor_may_not_register_or_sweep(running: Running) -> None:
    """The service refuses by role what the console would not offer."""
    with running.client(EDITOR) as rake:
        for act in (
            lambda: rake.sweeps.start("harrowmere"),
            lambda: rake.sites.add(NewSite(slug="x", name="X", live_address="http://x.example/")),
        ):
            with pytest.raises(NotAllowed) as error:
                act()
            assert error.value.code == "role-missing"


def test_no_client_without_credentials(running: Running) -> None:
    """The client library says plainly that one has to sign in."""
    with PlumRake(running.address) as rake, pytest.raises(NotSignedIn):
        rake.people.me()


@pytest.mark.parametrize("token", ["wrong", "wr\xf6ng", "\u202e", ""])
def test_a_csrf_token_of_any_signs_is_only_wrong(raw: httpx.Client, token: str) -> None:
    """A header that is no ASCII is refused like every other wrong one."""
    raw.post("/api/v1/session", json={"email": MANAGER, "password": PASSWORD}).raise_for_status()
    answer = raw.patch(
        "/api/v1/me", json={"digest": True}, headers={"X-CSRF-Token": token.encode()}
    )
    assert (answer.status_code, answer.json()["code"]) == (403, "csrf")


def test_a_person_is_forgotten_and_what_they_did_stays(running: Running, manager: PlumRake) -> None:
    """No row of any table holds the name or the e-mail address any more; the log is whole."""
    invited = manager.people.invite("wilf@harrowmere.example", "Wilf Tench", "manager")
    with PlumRake(running.address) as guest:
        person = guest.people.accept(invited.secret or "", "winding holes at dusk")
        guest.people.sign_in("wilf@harrowmere.example", "winding holes at dusk")
        token = guest.people.make_token("Wilf's own", ["read"])
        guest.sites.add(NewSite(slug="wilfs", name="X", live_address="http://x.example/"))
        manager.people.forget(person.id)
        with pytest.raises(NotSignedIn):
            guest.people.me()
    with PlumRake(running.address, token=token.secret) as rake, pytest.raises(BadToken):
        rake.people.me()
    [entry] = manager.log.entries("wilfs", kind="site.added")
    assert (entry.by_id, entry.by) == (person.id, "Somebody who is gone")
    with psycopg.connect(running.database) as connection:
        connection.execute("SELECT seal_log()")
        tables = connection.execute(
            "SELECT tablename FROM pg_tables WHERE schemaname = 'public'"
        ).fetchall()
        for (table,) in tables:
            rows = connection.execute(f"SELECT t::text FROM {table} t").fetchall()  # type: ignore[arg-type]
            said = str(rows).lower()
            assert "wilf@" not in said, table
            assert "tench" not in said, table
    assert manager.log.state().broken_at is None


def test_the_last_manager_is_not_forgotten(running: Running, manager: PlumRake) -> None:
    with pytest.raises(ConflictError) as error:
        manager.people.forget(manager.people.me().id)
    assert error.value.code == "last-manager"
