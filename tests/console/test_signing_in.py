"""Coming in with a real browser: at the organisation's own sign-in, with a passkey, with an app for
codes, and by an e-mail where the password is forgotten."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import oidc_provider_mock
import pyotp
import pytest
from oidc_provider_mock import User
from playwright.sync_api import Browser, Page, expect

from plumrake.client import PlumRake
from plumrake.demo.ports import free_port
from tests.conftest import EDITOR, MANAGER, PASSWORD, SITE, Running

KEY = "c2VhbGVkIGluIGEgdGVzdCBhbmQgbm93aGVyZSBlbHM="
NAMED = "Harrowmere's sign-in"
USERS = [
    User(
        sub=name,
        claims={
            "email": f"{name}@harrowmere.example",
            "email_verified": name != "liar",
            "name": name.title(),
            "groups": groups,
        },
    )
    for name, groups in (
        ("philippa", ["web-team"]),
        ("newcomer", ["authors", "all"]),
        ("stranger", ["all"]),
        ("liar", ["web-team"]),
    )
]


@pytest.fixture(scope="module")
def provider() -> Iterator[str]:
    """An OpenID provider on loopback, with people in groups."""
    with oidc_provider_mock.run_server_in_thread(user_claims=USERS) as server:
        yield f"http://localhost:{server.server_port}"


@pytest.fixture(scope="module")
def named(
    running: Running, provider: str, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[str]:
    """The service at an address with a name, as passkeys and the provider want it."""
    port = free_port()
    other = Running(running.database, port, tmp_path_factory.mktemp("named"))
    address = f"http://localhost:{port}"
    other.start(
        "serve",
        address=address,
        secrets_key=KEY,
        sign_on_issuer=provider,
        sign_on_client="rake",
        sign_on_secret="a secret of the provider",
        sign_on_name=NAMED,
        sign_on_roles="web-team=manager,authors=editor",
    )
    other.wait_until_ready()
    yield address
    other.stop()


@contextmanager
def at(browser: Browser, address: str) -> Iterator[Page]:
    context = browser.new_context()
    page = context.new_page()
    page.goto(address)
    yield page
    context.close()


def enter(page: Page, email: str) -> None:
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password", exact=True).fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()


def goes_to_the_provider(page: Page, name: str) -> None:
    page.get_by_role("link", name=f"Sign in at {NAMED}").click()
    page.locator("input[name=sub]").fill(name)
    page.get_by_role("button", name=re.compile("authorize", re.IGNORECASE)).click()


def test_people_come_in_where_the_organisation_does(browser: Browser, named: str) -> None:
    """Known by a proven address, or new with the role of a group; back at the page that they
    wanted."""
    with at(browser, f"{named}/me") as page:
        goes_to_the_provider(page, "philippa")
        expect(page).to_have_url(f"{named}/me")
        expect(page.get_by_role("heading", level=1)).to_have_text("Philippa Wren")
    with at(browser, named) as page:
        goes_to_the_provider(page, "newcomer")
        expect(page.get_by_role("link", name=re.compile("Newcomer, editor"))).to_be_visible()
    with at(browser, named) as page:  # and again, by the subject
        goes_to_the_provider(page, "newcomer")
        expect(page.get_by_role("link", name=re.compile("Newcomer, editor"))).to_be_visible()


@pytest.mark.parametrize("name", ["stranger", "liar", "nobody"])
def test_nobody_comes_in_without_a_proven_address_and_a_role(
    browser: Browser, named: str, name: str
) -> None:
    with at(browser, named) as page:
        goes_to_the_provider(page, name)
        expect(page.get_by_role("alert")).to_contain_text("ask who runs it for an invitation")
        assert page.url.startswith(f"{named}/sign-in")


def test_roles_follow_the_groups(browser: Browser, running: Running, named: str) -> None:
    """Whose groups give another role now has that one from the next sign-in on."""
    with running.client() as manager:
        invited = manager.people.invite("newcomer@harrowmere.example", "Newcomer", "reader")
        with PlumRake(running.address) as guest:
            guest.people.accept(invited.secret or "", "winding holes at dusk")
        with at(browser, named) as page:
            goes_to_the_provider(page, "newcomer")
            expect(page.get_by_role("link", name=re.compile("Newcomer, editor"))).to_be_visible()
        found = next(one for one in manager.people.list() if one.name == "Newcomer")
        assert found.role == "editor"


def test_an_answer_that_nobody_waits_for_is_refused(browser: Browser, named: str) -> None:
    """A sign-in that somebody else began does not let them in here (login CSRF), nor does an
    address of another host become the place to go to."""
    with at(browser, f"{named}/api/v1/session/single-sign-on/back?code=x&state=y") as page:
        expect(page.get_by_role("alert")).to_contain_text("not begun here")
    with at(browser, f"{named}/api/v1/session/single-sign-on?to=//evil.example/") as page:
        page.locator("input[name=sub]").fill("philippa")
        page.get_by_role("button", name=re.compile("authorize", re.IGNORECASE)).click()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        assert page.url.startswith(f"{named}/")


def test_a_passkey_is_made_and_lets_in_without_a_password(browser: Browser, named: str) -> None:
    with at(browser, f"{named}/me") as page:
        devices = page.context.new_cdp_session(page)
        devices.send("WebAuthn.enable")
        devices.send(
            "WebAuthn.addVirtualAuthenticator",
            {
                "options": {
                    "protocol": "ctap2",
                    "transport": "internal",
                    "hasResidentKey": True,
                    "hasUserVerification": True,
                    "isUserVerified": True,
                }
            },
        )
        enter(page, EDITOR)
        page.get_by_label("What you call this device").fill("Barge laptop")
        page.get_by_role("button", name="Make a passkey").click()
        expect(page.get_by_text("You can sign in with this passkey")).to_be_visible()
        expect(page.get_by_label("Recovery codes").get_by_role("listitem")).to_have_count(10)
        page.get_by_role("button", name=re.compile("Sign out$|^Sign out")).first.click()
        page.goto(f"{named}/sign-in")
        enter(page, EDITOR)  # the password alone is not enough any more
        expect(page.get_by_role("status")).to_contain_text("passkey")
        page.get_by_role("button", name="Sign in with a passkey").click()
        expect(page.get_by_role("link", name=re.compile("Ned Osier"))).to_be_visible()
        page.goto(f"{named}/me")
        page.get_by_role("button", name="Take away Barge laptop").click()
        expect(page.get_by_role("status").filter(has_text="taken away")).to_be_visible()


def test_an_app_is_set_up_and_asked_for(browser: Browser, named: str) -> None:
    with at(browser, f"{named}/me") as page:
        enter(page, EDITOR)
        page.get_by_role("button", name="Set up an app").click()
        expect(page.get_by_alt_text("QR code with the secret for the app")).to_be_visible()
        told = page.get_by_text("type", exact=False).get_by_text(re.compile("[A-Z2-7]{32}"))
        secret = re.search("[A-Z2-7]{32}", told.first.inner_text())
        assert secret is not None
        app = pyotp.TOTP(secret[0])
        page.get_by_label("Code that the app shows").fill(app.now())
        page.get_by_role("button", name="Switch it on").click()
        codes = page.get_by_label("Recovery codes").get_by_role("listitem")
        expect(codes).to_have_count(10)
        recovery = codes.first.inner_text()
    with at(browser, f"{named}/me") as page:
        enter(page, EDITOR)
        page.get_by_label("Code of your app").fill(recovery)
        page.get_by_role("button", name="Sign in", exact=True).click()
        expect(page.get_by_text("9 recovery codes left.")).to_be_visible()


def test_who_lacks_the_second_factor_sees_nothing_else(
    browser: Browser, running: Running, named: str
) -> None:
    """The console leads there, and says why."""
    with at(browser, f"{named}/sites/{SITE}/people") as page:
        enter(page, MANAGER)
        page.get_by_role("group", name=re.compile("sees nothing")).get_by_label("editor").check()
        expect(page.get_by_role("status")).to_contain_text("wanted of editors")
    with at(browser, f"{named}/sites/{SITE}") as page:
        enter(page, EDITOR)
        expect(page).to_have_url(f"{named}/me")
        expect(page.get_by_text("asks for a second factor")).to_be_visible()


def test_a_token_is_made_with_the_password_and_revoked(browser: Browser, named: str) -> None:
    with at(browser, f"{named}/me") as page:
        enter(page, EDITOR)
        page.get_by_label("What for").fill("Nightly figures")
        page.get_by_label("Days until it ends").fill("30")
        page.get_by_role("button", name="Make a token").click()
        expect(page.get_by_role("status").filter(has_text="plr_")).to_be_visible()
        page.get_by_role("button", name="Revoke Nightly figures").click()
        expect(page.get_by_role("status").filter(has_text="works no more")).to_be_visible()


def test_a_forgotten_password_is_asked_for(browser: Browser, named: str) -> None:
    with at(browser, f"{named}/sign-in") as page:
        page.get_by_role("link", name="Password forgotten?").click()
        page.get_by_label("E-mail address").fill("nobody@harrowmere.example")
        page.get_by_role("button", name="Send me an e-mail").click()
        expect(page.get_by_role("status").first).to_contain_text("an e-mail is on its way")
        page.goto(f"{named}/new-password#wrong-secret")
        page.get_by_label("Password, twelve characters or more").fill("winding holes at dusk")
        page.get_by_role("button", name="Choose a new password").click()
        expect(page.get_by_role("alert")).to_contain_text("not valid any more")
