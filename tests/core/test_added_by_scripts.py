"""Where no browser runs a page, what its scripts could add is not called missing, but not
tested."""

from __future__ import annotations

import pytest

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import policy_from
from plumrake.lenses.markup import parse_document

MISSING = {
    "page/no-title",
    "page/no-language",
    "page/no-main",
    "headings/no-level-1",
    "page/no-skip",
}
MENU = "".join(f'<a href="/{number}">Lock {number}</a>' for number in range(12))


def untested(html: str) -> tuple[set[str], set[str]]:
    """Return what is found missing on a page read by its markup, and what was not tested."""
    page = Page(parse_document(html, "https://canal.example/"))
    assessed = assess(page, policy_from({"only": sorted(MISSING)}))
    assert {one.needs for one in assessed.untested} <= {"scripts"}
    return {one.check for one in assessed.findings}, {one.check for one in assessed.untested}


@pytest.mark.parametrize(
    ("body", "parts"),
    [
        ("<script src=/menu.js></script><p>Locks</p>", set()),
        ("<script>count = 1; skip = 2</script><p>Locks</p>", set()),
        ('<script type="application/json">{"a": "<h1>"}</script><p>Locks</p>', set()),
        ("<script>document['title'] = 'Locks'</script><p>Locks</p>", {"page/no-title"}),
        ("<script>document.documentElement.lang = 'en'</script>", {"page/no-language"}),
        (
            "<script>const h = document.createElement('h1')</script><p>Locks</p>",
            {"headings/no-level-1"},
        ),
        (
            "<script>b.innerHTML = '<main><h1>Locks</h1></main>'</script>",
            {"headings/no-level-1", "page/no-main"},
        ),
        ('<div id="app"></div><script src="/app.js"></script>', MISSING - {"page/no-skip"}),
        ("<canal-app></canal-app><script src=/a.js></script>", MISSING - {"page/no-skip"}),
        ('<p>Locks</p><div id="map"></div><script src="/map.js"></script>', set()),
        ('<div id="app"></div>', set()),
    ],
)
def test_what_scripts_could_add_is_not_tested(body: str, parts: set[str]) -> None:
    found, left = untested(f"<html><body>{body}</body></html>")
    assert left == parts
    assert found == MISSING - {"page/no-skip"} - parts


@pytest.mark.parametrize("script", ["a.className = 'skip'; b.insertBefore(a, c)", "a.skip = 1"])
def test_a_link_past_menus_that_a_script_prints(script: str) -> None:
    head = '<html lang="en"><title>Locks</title>'
    html = f"{head}<body><script>{script}</script>{MENU}<main><h1>Locks</h1></main></body></html>"
    found, left = untested(html)
    prints = "insertBefore" in script
    assert (found, left) == ((set(), {"page/no-skip"}) if prints else ({"page/no-skip"}, set()))
