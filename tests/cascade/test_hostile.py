"""Style sheets of strangers that want to take more than their time and memory."""

from __future__ import annotations

import time

import pytest

from plumrake.core.page import Page
from plumrake.core.style.cascade.conditions import Screen
from plumrake.core.style.cascade.drawn_in import MOST_SHEETS
from plumrake.core.style.cascade.kin import TooMuchStyle
from plumrake.core.style.cascade.sheets import MOST_RULES, parse_sheet
from plumrake.lenses.markup import parse_document
from plumrake.lenses.styles import styled
from tests.cascade.styled import ADDRESS, page_of

MOST_SECONDS = 20.0
"""What the worst of these may take on a busy machine; without bounds they take hours."""


def page_with(style: str, body: str = "<p class=a>text</p>") -> Page:
    found = styled(
        Page(parse_document(f"<!doctype html><style>{style}</style>{body}", ADDRESS)), {}, ADDRESS
    )
    assert isinstance(found, Page)
    return found


def has_styles(page: Page) -> bool:
    return "style" in page.document.gives


DEEP = "<div>" * 300 + "<p class=a>text</p>"
WIDE = "<ul>" + "<li><b>x</b></li>" * 3_000 + "</ul>"
BOMBS = {
    "variables that double": (
        ":root { --v0: red;"
        + "".join(f"--v{n}: var(--v{n - 1}) var(--v{n - 1});" for n in range(1, 40))
        + "} p { color: var(--v39); background: var(--v39) }",
        "<p>text</p>",
    ),
    "variables in a long chain": (
        ":root {"
        + "".join(f"--v{n}: var(--v{n + 1});" for n in range(3_000))
        + "} p { color: var(--v0) }",
        "<p>text</p>",
    ),
    "ways back through ancestors": (
        " ".join(["div"] * 40) + " .b { color: red }" + "div " * 40 + "p { color: red }",
        DEEP,
    ),
    "siblings of siblings": ("li ~ li ~ li ~ li ~ li ~ li ~ .b, li ~ li ~ li { color: red }", WIDE),
    "what has what has": ("li:has(~ li:has(~ li:has(~ li b.none))) { color: red }", WIDE),
    "counted siblings": (
        "".join(
            f"li:nth-child({n} of li:nth-last-of-type(2n+1)) {{ color: red }}" for n in range(9)
        ),
        WIDE,
    ),
    "brackets without end": ("p { color: " + "(" * 50_000 + "}", "<p>text</p>"),
    "blocks without end": ("@media screen {" * 5_000 + "p { color: red }", "<p>text</p>"),
    "rules within rules": ("p { & {" * 3_000 + "color: red", "<p>text</p>"),
    "functions within functions": (
        "p { width: "
        + "calc(1px + " * 3_000
        + "1px"
        + ")" * 3_000
        + "; color: "
        + "color-mix(in srgb, red, " * 500
        + "red"
        + ")" * 500
        + "}",
        "<p>text</p>",
    ),
    "selectors within selectors": (
        ":is(" * 3_000 + "p" + ")" * 3_000 + "{ color: red }",
        "<p>text</p>",
    ),
    "one long selector": (" ".join(["div"] * 20_000) + "{ color: red }", DEEP),
    "many nested lists": (
        ".a, .b, .c { " * 14 + "& > & { color: red }" + "}" * 14,
        "<div class=a>" * 50 + "text",
    ),
}


@pytest.mark.parametrize("name", BOMBS)
def test_takes_no_longer_than_it_may(name: str) -> None:
    style, body = BOMBS[name]
    began = time.monotonic()
    page = page_with(style, body)
    assert time.monotonic() - began < MOST_SECONDS
    assert page.title == ""
    if not has_styles(page):
        assert all(one.style is None and one.certainty is None for one in page.elements)


def test_a_value_that_doubles_is_invalid() -> None:
    page = page_with(*BOMBS["variables that double"])
    text = page.document.first("p")
    assert text is not None
    assert text.style is not None
    assert text.style.color == "rgb(0, 0, 0)"
    assert text.style.background_color == "rgba(0, 0, 0, 0)"


def test_more_rules_than_may_be_are_given_up() -> None:
    with pytest.raises(TooMuchStyle, match="more than 30,000 rules"):
        parse_sheet("p{color:red}" * (MOST_RULES + 1), Screen())


def test_more_sheets_than_may_be_leave_the_page_without_styles() -> None:
    page = page_with("", "<style>p { color: red }</style>" * (MOST_SHEETS + 2) + "<p>text</p>")
    assert not has_styles(page)
    text = page.document.first("p")
    assert text is not None
    assert text.style is None


def test_imports_in_a_circle_end() -> None:
    one, two = "http://pages.invalid/one.css", "http://pages.invalid/two.css"
    sheets: dict[str, str | None] = {
        one: "@import 'two.css'; p { color: #010101 }",
        two: "@import url(one.css); p { color: #020202 }",
    }
    page = page_of("<!doctype html><link rel=stylesheet href=one.css><p>text</p>", sheets)
    text = page.document.first("p")
    assert text is not None
    assert text.style is not None
    assert text.style.color == "rgb(1, 1, 1)"


def test_twice_as_many_elements_take_about_twice_as_long() -> None:
    rules = "".join(
        f".c{n} > li:nth-child({n}) + li b:last-child {{ color: red }}" for n in range(60)
    )
    style = rules + "li:first-child b, li:last-child b { color: blue } ul li b { font-weight: 300 }"

    def seconds(rows: int) -> float:
        body = "<ul class='c1 c2 c3'>" + "<li><b>x</b><i>y</i></li>" * rows + "</ul>"
        best = 9e9
        for _ in range(3):
            began = time.process_time()
            page_with(style, body)
            best = min(best, time.process_time() - began)
        return best

    assert seconds(4_000) / seconds(1_000) < 8
