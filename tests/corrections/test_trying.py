"""Trying other markup in an element's place: what it would be, at once, and nothing is kept."""

from __future__ import annotations

import pytest
from playwright.sync_api import Browser, expect

from plumrake.client import NotAllowed, NotValid
from tests.console.conftest import sign_in
from tests.corrections.conftest import SLUG, Yard


def test_what_is_typed_is_met_at_once_and_not_kept(yard: Yard) -> None:
    """The markup is that of the source, byte for byte; with other markup the name, what is heard
    and what is found follow; neither file nor corrections know of it."""
    rake = yard.editor.corrections
    finding = yard.finding("pictures/no-text", "/")
    own = rake.markup(finding)
    assert own == '<img src="/a.jpg" WIDTH=320 height="180">'
    tried = rake.try_markup(finding, own.replace(">", ' alt="Boats in a row">'))
    assert (tried.role, tried.name, tried.exposed) == ("img", "Boats in a row", True)
    assert any("Boats in a row" in line for line in tried.heard)
    assert tried.gone == ["The picture a.jpg has no text alternative."]
    assert tried.brought == []
    assert tried.trace
    worse = rake.try_markup(finding, '<img src="/a.jpg" alt="a.jpg">')
    assert worse.brought
    decorative = rake.try_markup(finding, '<img src="/a.jpg" alt="">')
    assert (decorative.name, decorative.heard) == ("", [])
    assert not list(rake.list(SLUG))
    assert own.encode() in yard.file("/").read_bytes()


def test_a_mend_is_tried_before_it_is_drafted(yard: Yard) -> None:
    """What it would write, in the source's own manner, and what would be found on the page: a
    heading's new level is a fault elsewhere, and is told as one."""
    rake = yard.editor.corrections
    heading = yard.finding("headings/level-jump", "/")
    right = rake.try_mend(heading, {"kind": "rename-element", "to": "h2"})
    assert right.markup == '<h2>Hours <a href="/berths/1/">here</a></h2>'
    assert any("level 4" in one for one in right.gone)
    assert right.brought == []
    wrong = rake.try_mend(heading, {"kind": "rename-element", "to": "h5"})
    assert wrong.left == ["“Hours here” is of level 5, the heading before it, “Home”, of level 1."]
    assert wrong.gone == []
    with pytest.raises(NotValid, match="it cannot be carried out: "):
        rake.try_mend(heading, {"kind": "set-attribute", "attribute": "alt"})
    assert not list(rake.list(SLUG))


def test_any_heading_may_become_the_main_one(yard: Yard) -> None:
    """The page has none of level 1: the second heading is made it, by its number in the page."""
    file = yard.file("/kinds/")
    text = file.read_text().replace("<h1>Kinds</h1>", "<h2>Kinds</h2>")
    file.write_text(text)
    yard.sweep("staging")
    finding = yard.finding("headings/no-level-1", "/kinds/")
    rake = yard.editor.corrections
    mend = {"kind": "rename-element", "to": "h1", "target": "heading 2"}
    made = rake.draft(SLUG, finding, mend, insist=True).first
    assert made.state == "drafted", made.problem
    assert made.says == "The heading “Fees” (level 4) made a heading of level 1."
    assert "+<h1>Fees</h1>" in rake.show(made.id).diff
    refused = rake.draft(SLUG, finding, mend | {"target": "heading 9"}).first
    assert refused.problem == (
        "it cannot be carried out: the page has no 9th heading in its source"
    )


def test_what_cannot_be_tried_is_one_clear_line(yard: Yard) -> None:
    """Words without an element; an element that is gone; readers."""
    rake = yard.editor.corrections
    finding = yard.finding("pictures/no-text", "/cranes/")
    with pytest.raises(NotValid, match="has to begin with an element"):
        rake.try_markup(finding, "only words")
    with yard.running.client("imke@harrowmere.example") as reader, pytest.raises(NotAllowed):
        reader.corrections.try_markup(finding, "<p>")
    gone = yard.finding("links/vague", "/kinds/")
    yard.file("/kinds/").unlink()
    with pytest.raises(NotValid, match="the folder has no file for /kinds/"):
        rake.markup(gone)


def test_a_try_becomes_a_correction(yard: Yard, browser: Browser) -> None:
    """From why the name is empty to a mend, in one place of the console."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=yard.running.address
    )
    page = context.new_page()
    sign_in(page, "ned@harrowmere.example")
    page.goto(f"/sites/{SLUG}/findings/{yard.finding('pictures/no-text', '/')}")
    page.get_by_role("button", name="Try other markup here").click()
    markup = page.get_by_label("Its markup; nothing is kept while you try")
    expect(markup).to_have_value('<img src="/a.jpg" WIDTH=320 height="180">')
    markup.fill('<img src="/a.jpg" alt="Boats in a row" WIDTH=320 height="180">')
    expect(page.get_by_text("img: “Boats in a row”")).to_be_visible()
    expect(page.get_by_text("✓ gone: The picture a.jpg has no text alternative.")).to_be_visible()
    page.get_by_role("button", name="Make it a correction").click()
    expect(page.get_by_role("region", name="Drafted")).to_be_visible()
    context.close()
    (made,) = yard.editor.corrections.list(SLUG)
    diff = yard.editor.corrections.show(made.id).diff
    assert '+<p><img src="/a.jpg" alt="Boats in a row" WIDTH=320 height="180"></p>' in diff
