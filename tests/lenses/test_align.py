"""Where the elements of a rendered page stand in its source."""

from __future__ import annotations

import pytest

from plumrake.lenses.align import positions
from plumrake.lenses.markup import parse_document

SOURCE = """<!doctype html><title>Locks</title>
<nav>
<a href="/fees">Fees</a>
</nav>
<main>
<img data-src="/lock.jpg" alt="">
<p>Boats wait.</p>
</main>"""


def lines_in(shown: str) -> dict[str, int | None]:
    """Return the lines of the source that a shown page's elements are said to stand on, by tag."""
    page, source = (parse_document(one, "http://a.example/") for one in (shown, SOURCE))
    found = positions(page.elements, source.elements)
    body = page.first("body")
    assert body is not None
    return {
        one.tag: found[one.index][0] if one.index in found else None for one in body.descendants()
    }


def test_each_element_finds_its_own() -> None:
    assert lines_in(SOURCE) == {"nav": 2, "a": 3, "main": 5, "img": 6, "p": 7}


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<main>", '<main id="content">'),
        ('data-src="/lock.jpg"', 'src="/lock.jpg"'),
        ('href="/fees"', 'href="/en/fees"'),
        ("<title>Locks</title>", "<title>Locks</title><link rel=stylesheet href=/more.css>"),
    ],
)
def test_what_a_script_gave_another_id_or_address_is_known_by_its_place(
    before: str, after: str
) -> None:
    assert lines_in(SOURCE.replace(before, after)) == lines_in(SOURCE)


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<nav>", '<hr class="made"><nav>'),
        ("<p>", '<hr class="made"><p>'),
        ("</main>", '<hr class="made"></main>'),
    ],
)
def test_what_a_script_made_stands_nowhere(before: str, after: str) -> None:
    assert lines_in(SOURCE.replace(before, after)) == lines_in(SOURCE) | {"hr": None}


def test_what_a_script_took_away_is_nobodys_place() -> None:
    """A link elsewhere is not the one that is gone."""
    shown = SOURCE.replace('<a href="/fees">Fees</a>', "").replace(
        "</main>", '<p><a href="/made">Made</a></p></main>'
    )
    assert lines_in(shown)["a"] is None
