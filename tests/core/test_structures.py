"""Tables, landmarks, language tags, ARIA's values: the parts beneath the checks."""

import pytest

from plumrake.core.checks.forms.autocomplete import fault_of
from plumrake.core.dom import Element
from plumrake.core.evidence import Pixels
from plumrake.core.page import Page
from plumrake.core.semantics.aria import (
    OWNED,
    REQUIRED,
    SUPPORTED,
    VALUES,
    fault_of_value,
    is_supported,
)
from plumrake.core.semantics.table_model import TableModel
from plumrake.core.vocabulary import ROLES
from plumrake.core.words import holds_phrase, listed, normalised, shortened
from plumrake.core.words.languages import fault_of_tag
from plumrake.lenses.markup import parse_document


def page_of(html: str) -> Page:
    """Return a page of a body."""
    return Page(parse_document(f"<!doctype html><html lang=en><body>{html}", "here"))


def by_id(page: Page, identifier: str) -> Element:
    """Return the element with an id."""
    found = page.by_id(identifier)
    assert found is not None
    return found


SPANNED = """<table><tr><td></td><th id=summer colspan=2>Summer</th><th id=winter>Winter</th></tr>
<tr><th id=hallow rowspan=2>Hallow</th><td id=a>8</td><td id=b>19</td><td id=c>9</td></tr>
<tr><td id=d>7</td><td id=e>20</td><td id=f>10</td></tr></table>"""


@pytest.mark.parametrize(
    ("cell", "place", "headers"),
    [
        ("a", (1, 1, 1, 1), ["summer", "hallow"]),
        ("b", (2, 1, 1, 1), ["summer", "hallow"]),
        ("c", (3, 1, 1, 1), ["winter", "hallow"]),
        ("d", (1, 2, 1, 1), ["summer", "hallow"]),
        ("f", (3, 2, 1, 1), ["winter", "hallow"]),
    ],
)
def test_spans_place_cells_and_find_headers(
    cell: str, place: tuple[int, ...], headers: list[str]
) -> None:
    """Column and row spans shift what comes after them, and a spanning header heads all it
    spans."""
    page = page_of(SPANNED)
    model = TableModel(next(one for one in page.elements if one.tag == "table"))
    assert model.width == 4
    assert model.places[by_id(page, cell).index] == place
    assert [header.get("id") for header in model.headers_of(by_id(page, cell))] == headers


def test_named_headers_take_the_place_of_guessed_ones() -> None:
    """``headers`` says it all; an id of another table is none."""
    page = page_of(
        "<p id=x>X</p><table><tr><th id=h>H</th><th id=i>I</th></tr><tr><td id=c headers='i "
        "x'>1</td></tr></table>"
    )
    model = TableModel(next(one for one in page.elements if one.tag == "table"))
    assert [header.get("id") for header in model.headers_of(by_id(page, "c"))] == ["i"]


def test_scope_says_which_way_a_header_heads() -> None:
    """``scope=row`` heads its row alone, though it stands above other cells."""
    page = page_of(
        "<table><tr><th id=r scope=row>R</th><td id=a>1</td></tr><tr><td "
        "id=b>2</td><td>3</td></tr></table>"
    )
    model = TableModel(next(one for one in page.elements if one.tag == "table"))
    assert [header.get("id") for header in model.headers_of(by_id(page, "a"))] == ["r"]
    assert model.headers_of(by_id(page, "b")) == []


def test_huge_spans_are_bounded() -> None:
    """A span of a billion columns costs no more than the thousand that the standard allows; rowspan
    0 means to the end."""
    page = page_of(
        "<table><tr><td colspan=999999999 id=w>a</td></tr><tr><td rowspan=0 "
        "id=t>b</td></tr><tr></tr></table>"
    )
    model = TableModel(next(one for one in page.elements if one.tag == "table"))
    assert model.places[by_id(page, "w").index][2] == 1000
    assert model.places[by_id(page, "t").index][3] == 2


@pytest.mark.parametrize(
    ("html", "landmarks"),
    [
        (
            "<header></header><nav></nav><main></main><aside></aside><footer></footer>",
            ["banner", "navigation", "main", "complementary", "contentinfo"],
        ),
        ("<article><header></header><footer></footer></article>", []),
        (
            (
                "<form></form><form aria-label=Order></form><section></section><section "
                "aria-label=News></section>"
            ),
            ["form", "region"],
        ),
        ("<main hidden></main><div role=search></div>", ["search"]),
    ],
)
def test_landmarks(html: str, landmarks: list[str]) -> None:
    """Landmarks are exposed, of the page and not of a part, and forms and sections have names."""
    page = page_of(html)
    assert [page.role_of(one) for one in page.landmarks.all] == landmarks


def test_main_content_without_a_main_landmark() -> None:
    """Without ``main`` the content is the page less header, menus, asides and footer."""
    page = page_of(
        "<header><p>a</p></header><nav><p>b</p></nav><div><p "
        "id=in>c</p><aside><p>d</p></aside></div><footer><p>e</p></footer>"
    )
    assert [one.get("id") for one in page.landmarks.content if one.tag == "p"] == ["in"]


@pytest.mark.parametrize(
    "tag",
    [
        "en",
        "EN-gb",
        "zh-Hant-TW",
        "de-1996",
        "cy",
        "en-GB-oed",
        "qaa",
        "sl-rozaj-biske-1994",
        "en-x-local",
    ],
)
def test_language_tags_that_are_right(tag: str) -> None:
    """Registered primary subtags in BCP 47's form pass, whatever their case."""
    assert fault_of_tag(tag) is None


@pytest.mark.parametrize(
    ("tag", "fault"),
    [
        ("english", "unknown"),
        ("xx", "unknown"),
        ("cym", "unknown"),
        ("i-lux", "unknown"),
        ("en_GB", "form"),
        ("e", "form"),
        ("en-", "form"),
        ("de DE", "form"),
    ],
)
def test_language_tags_that_are_wrong(tag: str, fault: str) -> None:
    """Names of languages, underscores and codes in no register are told apart."""
    assert fault_of_tag(tag) == fault


@pytest.mark.parametrize(
    ("attribute", "value", "right"),
    [
        ("aria-expanded", "true", True),
        ("aria-expanded", "yes", False),
        ("aria-level", "2", True),
        ("aria-level", "two", False),
        ("aria-valuenow", "2.5", True),
        ("aria-relevant", "additions text", True),
        ("aria-relevant", "additions words", False),
        ("aria-activedescendant", "a b", False),
        ("aria-haspopup", "", True),
        ("aria-label", "whatever", True),
    ],
)
def test_values_of_attributes(attribute: str, value: str, right: bool) -> None:
    """Tokens, numbers and ids are told from what they may not be; empty says nothing and passes."""
    assert (fault_of_value(attribute, value) is None) == right


def test_aria_tables_hold_together() -> None:
    """Every role and attribute that the tables name exists."""
    assert set(SUPPORTED) | set(REQUIRED) | set(OWNED) <= ROLES
    assert {name for names in SUPPORTED.values() for name in names} <= set(VALUES)
    assert all(
        is_supported(attribute, role)
        for role, required in REQUIRED.items()
        for attribute in required
    )


@pytest.mark.parametrize(
    ("attribute", "role", "taken"),
    [
        ("aria-label", "generic", False),
        ("aria-label", "button", True),
        ("aria-checked", "link", False),
        ("aria-sort", "columnheader", True),
        ("aria-live", "paragraph", True),
    ],
)
def test_attributes_by_role(attribute: str, role: str, taken: bool) -> None:
    """Global attributes go everywhere, states with their roles, names where ARIA does not prohibit
    them."""
    assert is_supported(attribute, role) == taken


@pytest.mark.parametrize(
    ("value", "kind", "fault"),
    [
        ("email", "email", None),
        ("section-a billing work tel", "tel", None),
        ("name webauthn", "text", None),
        ("e-mail", "text", ("unknown", "e-mail")),
        ("home name", "text", ("unknown", "home")),
        ("bday", "email", ("unfit", "bday")),
        ("cc-number", "tel", None),
    ],
)
def test_autocomplete(value: str, kind: str, fault: tuple[str, str] | None) -> None:
    """Tokens, their order and the fields that they fit."""
    assert fault_of(value, kind) == fault


def test_words() -> None:
    """Normalising keeps C, C++ and C# apart; phrases are whole words; lists take the site's own
    phrases."""
    assert len({normalised("C"), normalised("C++"), normalised("C#")}) == 3
    assert holds_phrase("opens in a new window", "new window")
    assert not holds_phrase("a renew windowpane", "new window")
    assert "weiterlesen" in listed("vague_links", "de", {})
    assert "walk on" in listed("vague_links", "en", {"vague-links": ("Walk on!",)})
    assert shortened("a" * 80, 10) == "a" * 9 + "…"


def test_pixels_outside_the_strip_give_nothing() -> None:
    """A box is sampled where it lies in the strip, in page coordinates."""
    pixels = Pixels(100, 2, 2, bytes([255, 0, 0] * 2 + [0, 0, 255] * 2))
    assert {colour.hex() for colour in pixels.behind((0, 100, 2, 1))} == {"#ff0000"}
    assert {colour.hex() for colour in pixels.behind((0, 100, 2, 2))} == {"#ff0000", "#0000ff"}
    assert list(pixels.behind((0, 0, 2, 2))) == []
