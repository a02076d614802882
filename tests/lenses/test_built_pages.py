"""A page as it will be built: only what the Markdown's change alters is altered, and what the
generator added to it stays."""

from __future__ import annotations

import pytest

from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.built_pages import built_with

BEFORE = (
    "# Fees\n\nSee [here](a.md).\n\n![a.jpg](a.jpg)\n\n#### Hours\n\nFrom nine :bell:\n\n- one\n"
)
PAGE = (
    '<!doctype html><html lang="en"><title>Fees</title><body><nav><a href="/">here</a></nav><main>'
    '<h1 id="fees">Fees</h1><p class="lead">See <a href="/a/" rel="next">here</a>.</p>'
    '<p><img src="/i/a.1f.jpg" alt="a.jpg" width="9"></p>'
    '<h4 id="hours">Hours <a href="#hours">#</a></h4><p>From nine 🔔</p><ul class="l"><li>one</li>'
    "</ul></main></body></html>"
)


@pytest.mark.parametrize(
    ("markdown", "was", "becomes"),
    [
        ("[here]", "[our fees]", ('rel="next">here', 'rel="next">our fees')),
        ("![a.jpg]", "![A punt & oars]", ('alt="a.jpg"', 'alt="A punt &amp; oars"')),
        ("#### Hours", "## Hours", ("h4", "h2")),
        ("See [here](a.md).", "See.", ('See <a href="/a/" rel="next">here</a>.', "See.")),
        ("![a.jpg](a.jpg)\n\n", "", ('<p><img src="/i/a.1f.jpg" alt="a.jpg" width="9"></p>', "")),
        ("- one\n", "1. one\n", ("ul", "ol")),
        ("- one\n", "- one\n- two\n", ("<li>one</li>", "\n<li>one</li>\n<li>two</li>\n")),
        ("# Fees\n", "# Fees\n\nBy length.\n", ("Fees</h1>", "Fees</h1><p>By length.</p>")),
    ],
)
def test_only_the_change_is_put_in(markdown: str, was: str, becomes: tuple[str, str]) -> None:
    built = built_with(BEFORE, BEFORE.replace(markdown, was), PAGE, most_elements=99)
    assert built == PAGE.replace(*becomes)


@pytest.mark.parametrize("change", [("nine", "ten"), (":bell:", "!")])
def test_what_the_page_shows_otherwise_is_let_alone(change: tuple[str, str]) -> None:
    with pytest.raises(CannotMend, match="does not show the place as it is written"):
        built_with(BEFORE, BEFORE.replace(*change), PAGE, most_elements=99)
