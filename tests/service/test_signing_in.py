"""Coming in: which passwords may be chosen, sessions that end, tokens with an end and for some
sites, tries that are counted, second factors, and a password that was forgotten."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from email import message_from_bytes
from typing import Any

import httpx
import psycopg
import pyotp
import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from plumrake.client import (
    BadCredentials,
    BadToken,
    NotAllowed,
    NotSignedIn,
    NotValid,
    PlumRake,
    PlumRakeError,
)
from plumrake.demo.ports import free_port
from plumrake.models import NewSite, SiteChange
from tests.conftest import EDITOR, MANAGER, PASSWORD, SITE, Running, wait_for

KEY = "c2VhbGVkIGluIGEgdGVzdCBhbmQgbm93aGVyZSBlbHM="
NEW = "winding holes at dusk"
FORWARDED = "X-Forwarded-For"


@pytest.fixture(scope="module")
def sealed(running: Running, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """A second service on the same database, with a key for secrets, behind a proxy."""
    other = Running(running.database, free_port(), tmp_path_factory.mktemp("sealed"))
    other.start("serve", secrets_key=KEY, proxies="127.0.0.1")
    other.wait_until_ready()
    yield other
    other.stop()


def changed(running: Running, statement: str, *values: object) -> None:
    with psycopg.connect(running.database) as connection:
        connection.execute(statement, values)  # type: ignore[arg-type]


def refused(error: pytest.ExceptionInfo[PlumRakeError]) -> str:
    return error.value.code


@pytest.mark.parametrize(
    ("password", "says"),
    [
        ("towpath-dem", "12 to 128"),
        ("x" * 129, "12 to 128"),
        ("password1234", "guessed before long"),
        ("Ned Osier Ned", "guessed before long"),
        ("ned@harrowmere.example", "guessed before long"),
        ("aaaaaaaaaaaaaaaa", "guessed before long"),
    ],
)
def test_guessable_passwords_are_refused(running: Running, password: str, says: str) -> None:
    """By length and by how soon they are guessed (ASVS 2.1.1, 2.1.2, 2.1.7)."""
    with running.client(EDITOR) as rake, pytest.raises(NotValid, match=says):
        rake.people.change_password(PASSWORD, password)


@pytest.mark.parametrize(
    "password", [NEW, "日本語の長い合言葉です、はい", "   spaces all   around them "]
)
def test_any_signs_make_a_password(running: Running, password: str) -> None:
    """No rule of composition; every sign counts, spaces too (ASVS 2.1.4, 2.1.9)."""
    with running.client(EDITOR) as rake:
        rake.people.change_password(PASSWORD, password)
    with PlumRake(running.address) as rake:
        assert rake.people.sign_in(EDITOR, password).email == EDITOR
    with PlumRake(running.address) as rake, pytest.raises(BadCredentials):
        rake.people.sign_in(EDITOR, password.strip() + " ")


def test_sessions_are_listed_and_ended_by_their_person(running: Running) -> None:
    with running.client(EDITOR) as here, running.client(EDITOR) as there:
        with running.client() as manager:
            [first, *_] = manager.people.sessions()
            with pytest.raises(PlumRakeError, match="no session"):
                here.people.end_session(first.id)
        listed = here.people.sessions()
        assert [one.is_this for one in listed].count(True) == 1
        assert listed[0].from_address == "127.0.0.1"
        other = next(one for one in listed if not one.is_this)
        here.people.end_session(other.id)
        with pytest.raises(NotSignedIn):
            there.people.me()
        assert here.people.me().email == EDITOR


def test_idle_sessions_end(running: Running) -> None:
    with running.client(EDITOR) as rake:
        changed(running, "UPDATE session SET last_used_at = now() - interval '31 minutes'")
        with pytest.raises(NotSignedIn):
            rake.people.me()


def test_signing_in_again_begins_anew(running: Running) -> None:
    """No session goes on from before (ASVS 3.2.1): what a browser had before is nothing."""
    with running.client(EDITOR) as rake:
        before = rake._http.cookies["plumrake_session"]
        rake.people.sign_in(EDITOR, PASSWORD)
        after = rake._http.cookies["plumrake_session"]
    assert before != after
    with httpx.Client(cookies={"plumrake_session": before}) as old:
        assert old.get(f"{running.address}/api/v1/session").status_code == 401


def test_tokens_have_an_end(running: Running, manager: PlumRake) -> None:
    """No token without, none for more than a year."""
    for days in (None, 0, 367):
        body: dict[str, Any] = {"name": "x"} | ({"days": days} if days is not None else {})
        answer = manager._http.post("/api/v1/tokens", json=body)
        assert (answer.status_code, answer.json()["code"]) == (422, "not-valid")
    token = manager.people.make_token("short", ["read"], days=1)
    assert 0.9 < (token.expires_at - token.created_at).total_seconds() / 86_400 < 1.1
    with PlumRake(running.address, token=token.secret) as rake:
        assert rake.people.me().email == MANAGER
        changed(running, "UPDATE token SET expires_at = now() WHERE id = %s", token.id)
        with pytest.raises(BadToken):
            rake.people.me()


def test_tokens_for_some_sites_know_no_other(running: Running, manager: PlumRake) -> None:
    """Nor what is of no site, as the list of all of them."""
    manager.sites.add(NewSite(slug="other", name="Other", live_address="http://other.example/"))
    token = manager.people.make_token("one site", ["read", "write"], "other")
    assert token.sites == ["other"]
    with PlumRake(running.address, token=token.secret) as rake:
        assert rake.sites.show("other").name == "Other"
        for act in (lambda: rake.sites.show(SITE), lambda: list(rake.sites.list())):
            with pytest.raises(NotAllowed) as error:
                act()
            assert refused(error) == "scope-missing"
        manager.sites.drop("other")
        with pytest.raises(PlumRakeError):
            rake.sites.show(SITE)
    with pytest.raises(PlumRakeError, match="no site"):
        manager.people.make_token("x", ["read"], "nowhere")


def test_a_token_makes_no_token(running: Running, manager: PlumRake) -> None:
    token = manager.people.make_token("first", ["read", "write"])
    with PlumRake(running.address, token=token.secret) as rake:
        with pytest.raises(NotAllowed) as error:
            rake.people.make_token("second", ["read", "write"])
        assert refused(error) == "confirm-first"
        with pytest.raises(NotAllowed):
            rake.people.confirm(PASSWORD)


def test_tokens_want_the_password_again(running: Running) -> None:
    """Ten minutes after one came in (ASVS 3.3.2, 4.3.2)."""
    with running.client(EDITOR) as rake:
        changed(running, "UPDATE session SET confirmed_at = now() - interval '11 minutes'")
        with pytest.raises(NotAllowed) as error:
            rake.people.make_token("x", ["read"])
        assert refused(error) == "confirm-first"
        with pytest.raises(PlumRakeError) as wrong:
            rake.people.confirm("not the password")
        assert refused(wrong) == "bad-credentials"
        assert rake.people.me().email == EDITOR  # still signed in
        rake.people.confirm(PASSWORD)
        assert rake.people.make_token("x", ["read"]).name == "x"


def test_tokens_end_with_the_password_where_asked(running: Running) -> None:
    with running.client(EDITOR) as rake:
        stays = rake.people.make_token("stays", ["read"])
        goes = rake.people.make_token("goes", ["read"], ends_with_password=True)
        rake.people.change_password(PASSWORD, NEW)
        assert [one.name for one in rake.people.tokens()] == ["stays"]
    for token, status in ((stays, 200), (goes, 401)):
        header = {"Authorization": f"Bearer {token.secret}"}
        assert httpx.get(f"{running.address}/api/v1/session", headers=header).status_code == status


def test_guesses_of_strangers_shut_nobody_out(sealed: Running) -> None:
    """Who came in with a browser before comes in with it, whatever is guessed elsewhere; from a new
    place a guessed person has to wait."""
    with PlumRake(sealed.address) as known:
        known.people.sign_in(EDITOR, PASSWORD)
        for number in range(11):
            tried_before(sealed, f"198.51.100.{number}", [EDITOR] * 9)
        assert sealed_try(sealed, PASSWORD + "!", "203.0.113.9") == 401
        assert sealed_try(sealed, PASSWORD, "203.0.113.9") == 429
        known.people.sign_in(EDITOR, PASSWORD)
        for _ in range(10):
            with pytest.raises(BadCredentials):
                known.people.sign_in(EDITOR, "mistyped it once more")
        with pytest.raises(PlumRakeError) as error:
            known.people.sign_in(EDITOR, PASSWORD)
        assert refused(error) == "too-many-attempts"


def test_one_place_does_not_guess_for_everybody(sealed: Running) -> None:
    """A list of people with one common password each is a burst too."""
    tried_before(sealed, "198.51.100.77", [f"p{number}@harrowmere.example" for number in range(99)])
    answers = [sealed_try(sealed, "Summer2026!!", "198.51.100.77", MANAGER) for _ in range(3)]
    assert answers == [401, 429, 429]
    assert sealed_try(sealed, PASSWORD, "198.51.100.78", MANAGER) == 201


def tried_before(sealed: Running, place: str, emails: list[str]) -> None:
    changed(
        sealed,
        "INSERT INTO sign_in_attempt (email, from_address) SELECT unnest(%s::text[]), %s",
        emails,
        place,
    )


def sealed_try(sealed: Running, password: str, place: str, email: str = EDITOR) -> int:
    return httpx.post(
        f"{sealed.address}/api/v1/session",
        json={"email": email, "password": password},
        headers={FORWARDED: place},
        timeout=60,
    ).status_code


def test_no_proxy_is_believed_unless_it_is_named(running: Running) -> None:
    with PlumRake(running.address) as rake:
        rake._http.headers[FORWARDED] = "203.0.113.1"
        rake.people.sign_in(EDITOR, PASSWORD)
        assert rake.people.sessions()[0].from_address == "127.0.0.1"


def with_app(sealed: Running, email: str) -> tuple[PlumRake, pyotp.TOTP, list[str]]:
    """Return somebody who is signed in and has just switched their app on."""
    rake = sealed.client(email)
    app = pyotp.TOTP(rake.people.begin_app().secret)
    return rake, app, rake.people.finish_app(app.now())


def later(app: pyotp.TOTP) -> str:
    """Return the code of the next half minute: that of this one is used up."""
    return app.at(int(time.time()) + 30)


def test_an_app_is_asked_for_once_it_is_on(sealed: Running) -> None:
    rake, app, codes = with_app(sealed, EDITOR)
    with rake:
        assert len(codes) == 10
        assert rake.people.second_factors().app
        with PlumRake(sealed.address) as again:
            with pytest.raises(NotSignedIn) as error:
                again.people.sign_in(EDITOR, PASSWORD)
            assert refused(error) == "second-factor-wanted"
            with pytest.raises(BadCredentials):
                again.people.sign_in(EDITOR, "wrong password", later(app))
            with pytest.raises(NotAllowed) as wrong:
                again.people.sign_in(EDITOR, PASSWORD, "000000")
            assert refused(wrong) == "bad-code"
            code = later(app)
            assert again.people.sign_in(EDITOR, PASSWORD, code).email == EDITOR
            with pytest.raises(NotAllowed):
                again.people.sign_in(EDITOR, PASSWORD, code)  # good once
            with pytest.raises(NotAllowed):
                again.people.sign_in(EDITOR, PASSWORD, app.at(int(time.time()) - 300))


def test_recovery_codes_are_good_once_each(sealed: Running) -> None:
    rake, _, codes = with_app(sealed, EDITOR)
    with rake, PlumRake(sealed.address) as lost:
        lost.people.sign_in(EDITOR, PASSWORD, codes[0].upper())
        assert lost.people.second_factors().recovery_codes == 9
        with pytest.raises(NotAllowed):
            lost.people.sign_in(EDITOR, PASSWORD, codes[0])
        anew = lost.people.make_recovery_codes()
        with pytest.raises(NotAllowed):
            lost.people.sign_in(EDITOR, PASSWORD, codes[1])
        lost.people.sign_in(EDITOR, PASSWORD, anew[0])
        lost.people.drop_app()
        assert lost.people.second_factors().recovery_codes == 0
        lost.people.sign_in(EDITOR, PASSWORD)


def test_secrets_of_second_factors_are_not_in_the_database(sealed: Running) -> None:
    rake, app, codes = with_app(sealed, EDITOR)
    rake.close()
    plain = [code.replace("-", "") for code in codes]
    with psycopg.connect(sealed.database) as connection:
        for table in ("authenticator", "recovery_code", "session", "known_browser"):
            rows = connection.execute(f"SELECT * FROM {table}").fetchall()  # type: ignore[arg-type]
            kept = b" ".join(one for row in rows for one in row if isinstance(one, bytes))
            for secret in (app.secret, *codes, *plain):
                assert secret.encode() not in kept


def test_without_a_key_no_app_is_set_up(running: Running) -> None:
    with running.client(EDITOR) as rake, pytest.raises(PlumRakeError) as error:
        rake.people.begin_app()
    assert refused(error) == "no-secrets-key"
    assert "PLUMRAKE_SECRETS_KEY" in str(error.value)


def test_a_site_shows_nothing_without_the_second_factor_it_wants(sealed: Running) -> None:
    """Not by a session, not by a token made before; once it is set up, all is there again."""
    with sealed.client() as manager, sealed.client(EDITOR) as editor:
        token = editor.people.make_token("before", ["read"])
        manager.sites.change(
            SITE, SiteChange(second_factor_roles=["editor"]), manager.sites.show(SITE).tag
        )
        with PlumRake(sealed.address, token=token.secret) as program:
            for rake in (editor, program):
                for act in (lambda: rake.sites.show(SITE), rake.fixes.desk):  # noqa: B023
                    with pytest.raises(NotAllowed) as error:
                        act()
                    assert refused(error) == "second-factor-missing"
            assert editor.people.me().lacks_second_factor
            app = pyotp.TOTP(editor.people.begin_app().secret)
            editor.people.finish_app(app.now())
            assert editor.sites.show(SITE).slug == SITE
            with pytest.raises(NotAllowed):
                program.sites.show(SITE)
        after = editor.people.make_token("after", ["read"])
        with PlumRake(sealed.address, token=after.secret) as program:
            assert program.sites.show(SITE).slug == SITE
        assert manager.sites.show(SITE).second_factor_roles == ["editor"]


def test_the_service_wants_it_of_roles(
    running: Running, tmp_path_factory: pytest.TempPathFactory
) -> None:
    strict = Running(running.database, free_port(), tmp_path_factory.mktemp("strict"))
    strict.start("serve", secrets_key=KEY, second_factor="manager")
    strict.wait_until_ready()
    with strict.client() as manager, strict.client(EDITOR) as editor:
        assert editor.sites.show(SITE).slug == SITE
        with pytest.raises(NotAllowed, match="second factor"):
            manager.sites.show(SITE)
    strict.stop()


@pytest.mark.parametrize(
    ("settings", "says"),
    [
        ({"secure_cookies": "true", "address": "http://rake.example"}, "https"),
        ({"address": "rake.example"}, "http"),
        ({"address": "https://rake.example/below"}, "no path"),
        ({"second_factor": "manager,boss"}, "'boss' is no role"),
        ({"sign_on_roles": "team:editor"}, "GROUP=ROLE"),
    ],
)
def test_settings_are_checked_at_start(
    running: Running, tmp_path_factory: pytest.TempPathFactory, settings: dict[str, str], says: str
) -> None:
    bad = Running(running.database, free_port(), tmp_path_factory.mktemp("bad"))
    assert bad.start("serve", **settings).wait(60) == 2
    assert says in bad.logs()


def test_over_https_cookies_stay_with_the_host(
    running: Running, tmp_path_factory: pytest.TempPathFactory
) -> None:
    """``__Host-``, ``Secure``, and browsers are told to stay (RFC 6265bis, RFC 6797)."""
    tls = Running(running.database, free_port(), tmp_path_factory.mktemp("tls"))
    tls.start("serve", address="https://rake.harrowmere.example")
    tls.wait_until_ready()
    answer = httpx.post(
        f"{tls.address}/api/v1/session", json={"email": EDITOR, "password": PASSWORD}, timeout=60
    )
    cookies = answer.headers.get_list("set-cookie")
    assert len(cookies) == 2
    for cookie in cookies:
        assert cookie.startswith("__Host-plumrake_")
        for attribute in ("Secure", "HttpOnly", "Path=/", "SameSite=lax"):
            assert attribute in cookie
        assert "Domain" not in cookie
    assert "max-age=31536000" in answer.headers["strict-transport-security"]
    assert "strict-transport-security" not in httpx.get(f"{running.address}/").headers
    tls.stop()


class Postbox:
    """An SMTP server that keeps the texts of e-mails by address."""

    def __init__(self) -> None:
        self.taken: dict[str, list[str]] = {}

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        content = envelope.content
        assert isinstance(content, bytes)
        text = message_from_bytes(content).get_payload(decode=True)
        assert isinstance(text, bytes)
        for address in envelope.rcpt_tos:
            self.taken.setdefault(address, []).append(text.decode())
        return "250 OK"


def test_a_forgotten_password_is_chosen_anew_by_email(running: Running) -> None:
    """The address works once; whether there is such a person is not said; sessions end."""
    box, port = Postbox(), free_port()
    controller = Controller(box, hostname="127.0.0.1", port=port)
    controller.start()
    mailing = Running(running.database, free_port(), running.folder)
    server = {"mail_host": "127.0.0.1", "mail_port": str(port)}
    mailing.start("serve", **server)
    mailing.start("worker", **server)
    mailing.wait_until_ready()
    with mailing.client(EDITOR) as before, PlumRake(mailing.address) as nobody:
        nobody.people.forget_password("who@harrowmere.example")
        nobody.people.forget_password(EDITOR.upper())
        wait_for(lambda: EDITOR in box.taken, 60, running.logs)
        [text] = box.taken[EDITOR]
        secret = re.search(r"/new-password#(\S+)", text)
        assert secret is not None
        assert list(box.taken) == [EDITOR]
        with pytest.raises(NotValid):
            nobody.people.choose_password(secret[1], "too short")
        nobody.people.choose_password(secret[1], NEW)
        with pytest.raises(PlumRakeError, match="not valid any more"):
            nobody.people.choose_password(secret[1], NEW + " again")
        with pytest.raises(NotSignedIn):
            before.people.me()
        assert nobody.people.sign_in(EDITOR, NEW).email == EDITOR
    with psycopg.connect(running.database) as connection:
        jobs = str(connection.execute("SELECT args FROM procrastinate_jobs").fetchall())
    assert secret[1] not in jobs
    wait_for(lambda: len(box.taken[EDITOR]) == 2, 60, mailing.logs)
    assert "Your password was changed, from the network address 127.0.0.1." in box.taken[EDITOR][1]
    mailing.stop()
    controller.stop()
