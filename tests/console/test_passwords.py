"""How good a password is, said while somebody chooses it."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from plumrake.client import PlumRake
from tests.conftest import Running


def test_a_meter_helps_to_choose_a_password(page: Page) -> None:
    """It follows what is typed, says it in words, and nothing where nothing is typed."""
    page.goto("/new-password#nobodys-secret")
    field = page.get_by_label("Password, twelve characters or more")
    said = page.get_by_role("status")
    for typed, says in (
        ("password1234", "This one is easy to guess."),
        ("seven lost mallets hum", "This one is very good."),
        ("", ""),
    ):
        field.fill(typed)
        expect(said).to_have_text(says)


@pytest.mark.parametrize(
    ("password", "about", "refused_for"),
    [
        ("short", [], "12 to 128 characters; this one has 5"),
        (
            "ned.culvert@harrowmere.example",
            ["Ned Culvert", "ned.culvert@harrowmere.example"],
            "guessed",
        ),
        ("seven lost mallets hum", [], None),
        ("", [], "this one has 0"),
        ("x" * 200, [], "this one has 200"),
    ],
)
def test_what_is_said_is_what_is_decided(
    running: Running, password: str, about: list[str], refused_for: str | None
) -> None:
    """By the service, for whoever has an invitation too: nobody has to be signed in."""
    with PlumRake(running.address) as nobody:
        found = nobody.people.password_strength(password, about)
    assert (found.refused_for is None) == (refused_for is None)
    assert (refused_for or "") in (found.refused_for or "")
    assert (found.score >= 3) == (refused_for is None)
