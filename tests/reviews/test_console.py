"""The review in the console, on the demo: one question at a time, by keyboard alone, and two people
at once."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from tests.console.conftest import sign_in
from tests.keyboard import choose, press, write

pytestmark = pytest.mark.usefixtures("swept")
BEGINS_SWEPT = True
SEEN = "review/seen-by-people"


def test_answered_by_keyboard_alone(page: Page, manager: PlumRake) -> None:
    """From the overview into the first question, one fine by its key, one a fault of its row; the
    next follows each time, and the fault is there."""
    sign_in(page, "imke@harrowmere.example", f"/sites/{SITE}/review")
    expect(page.get_by_text("questions answered")).to_be_visible()
    press(
        page, page.get_by_role("link", name="Do these texts say what the pictures are there for?")
    )
    heading = page.get_by_role("heading", level=1)
    expect(heading).to_have_text("Do these texts say what the pictures are there for?")
    about = page.locator("main nav li").last
    first = about.inner_text()
    page.keyboard.press("1")
    expect(about).not_to_have_text(first)
    expect(page.get_by_text("left")).to_contain_text("left")
    second = about.inner_text()
    row = page.get_by_role("button", name="A fault: 1, ")
    press(page, row)
    write(page, page.get_by_label("What is wrong"), "It shows a heron.")
    choose(page, page.get_by_role("combobox", name="How heavy"), "Barrier: somebody cannot go on")
    press(page, page.get_by_role("button", name="Answer: a fault"))
    expect(about).not_to_have_text(second)
    [one] = manager.findings.list(SITE, check=SEEN)
    assert (one.path, one.weight) == (second, "barrier")
    assert one.says == "Seen by a person: It shows a heron."
    given = {(a.path, a.answer, a.answered_by) for a in manager.reviews.answers(SITE)}
    assert given == {(first, "fine", "Imke Sander"), (second, "fault", "Imke Sander")}


def test_two_people_at_once(window: Callable[[], Page], manager: PlumRake) -> None:
    """Both go through the review: neither is given what the other looks at, and passing over a
    question gives the next."""
    pages = window(), window()
    for page, name in zip(pages, ("philippa", "imke"), strict=True):
        sign_in(page, f"{name}@harrowmere.example", f"/sites/{SITE}/review/question")
        page.get_by_role("heading", name="Your answer").wait_for()
    mine, hers = (page.get_by_role("heading", level=1).inner_text() for page in pages)
    assert mine != hers
    pages[0].keyboard.press("n")
    passed = pages[0].get_by_role("heading", level=1)
    expect(passed).not_to_have_text(mine)
    expect(passed).not_to_have_text(hers)
    pages[1].keyboard.press("3")
    expect(pages[1].get_by_role("heading", level=1)).not_to_have_text(hers)
    [answer] = manager.reviews.answers(SITE)
    assert answer.answer == "does-not-apply"


def test_what_lapsed_says_what_changed(page: Page, manager: PlumRake, database: str) -> None:
    """A lapsed answer is shown with who gave it; a reader sees the review and cannot answer."""
    import psycopg

    from plumrake import models

    asked = manager.reviews.question(SITE, "headings-tell", path="/")
    given = models.NewReviewAnswer(
        path="/", question="headings-tell", answer="fine", shown_key=asked.shown_key
    )
    manager.reviews.answer(SITE, given)
    with psycopg.connect(database) as connection:
        connection.execute("UPDATE review_answer SET lapsed_at = now(), shown = NULL")
    sign_in(page, "philippa@harrowmere.example", f"/sites/{SITE}/review")
    expect(page.get_by_text("1 to answer again")).to_be_visible()
    page.goto(f"/sites/{SITE}/review/question?path=/&only=headings-tell")
    expect(page.get_by_text("Philippa Wren answered “fine”")).to_be_visible()
    page.keyboard.press("1")
    expect(page.get_by_role("heading", name="Nothing is left here")).to_be_visible()
