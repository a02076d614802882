"""Where what a page shows is written in its content: surely, or not at all."""

from __future__ import annotations

import pytest

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import policy_from
from plumrake.lenses.content_places import block_places
from plumrake.lenses.markup import parse_document

STORED = """<!-- wp:paragraph -->
<p>"Cake" -- it's here: <a href="/a/">here</a></p>
<!-- /wp:paragraph -->

<!-- wp:paragraph -->
<p><a href="/b/">here</a></p>
<!-- /wp:paragraph -->

<!-- wp:image {"id":7} -->
<figure class="wp-block-image"><img src="/a.jpg" alt="a.jpg" class="wp-image-7"/></figure>
<!-- /wp:image -->

<!-- wp:latest-posts /-->"""
SHOWN = """<!doctype html><html lang="en"><title>Fees</title><body><h1>Fees</h1><main>
<!--plumrake:content--><!--plumrake:block 0 core/paragraph-->
<p>“Cake” – it’s here: <a href="/a/">here</a></p><!--/plumrake:block-->
<!--plumrake:block 1 core/paragraph--><p><a href="/b/">here</a></p><!--/plumrake:block-->
<!--plumrake:block 2 core/image--><figure class="wp-block-image size-full"><img loading="lazy"
 width="40" height="30" src="/a.jpg" alt="a.jpg" class="wp-image-7" srcset="/a-300.jpg 300w"/>
</figure><!--/plumrake:block-->
<!--plumrake:block 3 core/latest-posts--><ul><li><a href="/c/">here</a></li></ul>
<!--/plumrake:block--><!--/plumrake:content--></main><!--plumrake:page--></body></html>"""


def placed(content: str = STORED, shown: str = SHOWN) -> dict[str, tuple[int | None, str]]:
    """Return where findings are in the content (an offset) by their block, and what they say."""
    page = Page(parse_document(shown, "https://garden.example/fees/"))
    only = policy_from({"only": ["links/vague", "pictures/file-name-text"]})
    places = block_places(content, shown, most_elements=1000)
    lines = content.splitlines(keepends=True)
    found: dict[str, tuple[int | None, str]] = {}
    for one in places.placed(assess(page, only).findings):
        offset = None
        if one.line is not None and one.column is not None:
            offset = sum(map(len, lines[: one.line - 1])) + one.column - 1
        found[one.block] = offset, one.check
    return found


def test_places_are_found_whatever_typography_did() -> None:
    """Quotation marks, dashes, sizes and sources are changed on the way out."""
    found = placed()
    assert found["0 core/paragraph"][0] == STORED.index('<a href="/a/">')
    assert found["1 core/paragraph"][0] == STORED.index('<a href="/b/">')
    assert found["2 core/image"][0] == STORED.index("<img")


def test_what_a_block_computes_is_written_nowhere() -> None:
    """A list of posts is made when the page is, and has no place in the content."""
    assert placed()["3 core/latest-posts"][0] is None


@pytest.mark.parametrize(
    "changed",
    [
        STORED.replace('href="/b/"', 'href="/elsewhere/"'),
        STORED.replace("wp:paragraph -->\n<p><a", "wp:verse -->\n<p><a"),
    ],
)
def test_what_is_not_sure_has_no_place(changed: str) -> None:
    """Another target, or another block at that path: nothing is guessed."""
    assert placed(changed)["1 core/paragraph"][0] is None


def test_places_lead_back_to_the_page() -> None:
    """What is written at an offset is shown at a line and column."""
    places = block_places(STORED, SHOWN, most_elements=1000)
    at = places.shown_at(STORED.index("<img"))
    assert at is not None
    line, column = at
    assert SHOWN.splitlines()[line - 1][column - 1 :].startswith("<img")
    assert places.shown_at(3) is None
