"""Parts of the page itself: told from the page alone, in every lens."""

from __future__ import annotations

import pytest

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.markup import parse_document

AT = "http://canal.example/fees/?year=2026"


def dead(html: str) -> list[str]:
    """Return the parts that links of a page ask for in vain, no link being followed."""
    page = Page(parse_document(f"<!doctype html><main>{html}</main>", AT))
    assessed = assess(page, Policy(only=("links/dead-anchor",)))
    assert assessed.untested == ()
    return [str(one.facts["part"]) for one in assessed.findings]


@pytest.mark.parametrize(
    ("html", "parts"),
    [
        ("<a href='#winter'>Winter</a>", ["winter"]),
        ("<a href='?year=2026#winter'>Winter</a>", ["winter"]),
        ("<a href='HTTP://CANAL.example:80/fees/?year=2026#winter'>Winter</a>", ["winter"]),
        ("<a href='#winter'>Winter</a><p id=winter>", []),
        ("<a href='#winter'>Winter</a><a name=winter></a>", []),
        ("<a href='#caf%C3%A9'>Café</a><p id=café>", []),
        ("<a href='#'>Up</a><a href='#TOP'>Up</a>", []),
        ("<a href='/locks/#winter'>Of another page</a>", []),
        ("<a href='/fees/#winter'>Without the query it is another page</a>", []),
        ("<a href='#winter' hidden>Nobody meets it</a>", []),
        ("<a href='#winter'>A script may make it</a><script></script>", []),
        ("<base href='/other/'><a href='#winter'>Leads to another page</a>", []),
    ],
)
def test_parts_of_the_page_itself(html: str, parts: list[str]) -> None:
    """A part that is not there is told without the network; what may be made, or lies elsewhere, is
    not."""
    assert dead(html) == parts
