"""What is told of contrast and sight without a layout, and what is left in doubt."""

from __future__ import annotations

import pytest

from plumrake.core.assess import Assessment, assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from tests.cascade.styled import page_of

GREY = "#t { color: #999 }"
TEXT = "<p id=t>Some words of a page</p>"


def assessed(style: str, body: str = TEXT) -> Assessment:
    page = page_of(f"<!doctype html><html lang=en><style>{style}</style><main>{body}</main>")
    return assess(page, Policy(only=("contrast", "text", "motion", "links")))


def says(found: Assessment, check: str) -> tuple[int, bool]:
    """Return how often a check found something, and whether it left something open."""
    return (
        sum(one.check == check for one in found.findings),
        any(one.check == check for one in found.untested),
    )


@pytest.mark.parametrize(
    ("style", "body"),
    [
        (GREY, TEXT),
        ("main { background: #777; } #t { color: #888 }", TEXT),
        ("body { background: #333 } main { opacity: .9 } #t { color: #555 }", TEXT),
        (
            "#t { color: #999 } header { position: fixed; background: #fff }",
            f"<header>menu</header>{TEXT}",
        ),
        (
            "#t { color: #999 } .skip { position: absolute; top: -999px; background: red }",
            f"<a class=skip href=#t>on</a>{TEXT}",
        ),
        (
            ".box { position: absolute; background: #fff } #t { color: #999 }",
            f"<div class=box>{TEXT}</div>",
        ),
        ("#t { color: #999; position: relative; top: -3px }", TEXT),
        ("#t::before { content: 'more' } #t { color: #999 }", TEXT),
    ],
)
def test_faults_on_flat_backgrounds_are_found(style: str, body: str) -> None:
    assert says(assessed(style, body), "contrast/text") == (1, False)


@pytest.mark.parametrize(
    ("style", "body"),
    [
        ("main { background: linear-gradient(red, blue) } #t { color: #999 }", TEXT),
        ("main { background: url(x.png) #000 } #t { color: #999 }", TEXT),
        ("#t { color: #999; position: absolute }", TEXT),
        ("#t { color: #999; transform: translateY(90px) }", TEXT),
        ("#t { color: #999; margin-top: -200px }", TEXT),
        ("#t { color: #999; margin: -64px }", TEXT),
        ("#t { color: #999; margin: 0 -64px; transform: translateX(9px) }", TEXT),
        ("#t { color: #999; float: left; width: 20%; margin-left: -100% }", TEXT),
        ("#t { color: #999; filter: blur(1px) }", TEXT),
        (
            "main { position: relative } img { position: absolute } #t { color: #999 }",
            f"<img src=x.jpg alt=''>{TEXT}",
        ),
        ("#t { color: #000 } @container (width > 1px) { #t { color: #999 } }", TEXT),
        ("#t { color: #999; font-size: 2ch }", TEXT),
    ],
)
def test_what_only_a_layout_tells_is_left_open(style: str, body: str) -> None:
    assert says(assessed(style, body), "contrast/text") == (0, True)


WIDE = "#t { color: #999; margin: 0 -64px } main { padding: 0 64px }"


def test_what_goes_over_its_parents_padding_is_on_the_page() -> None:
    assert says(assessed(WIDE), "contrast/text") == (1, False)
    assert says(assessed(f"{WIDE} main {{ background: #fff }}"), "contrast/text") == (0, True)


def test_a_column_lies_over_no_other() -> None:
    style = (
        "main { float: left; width: 100% } #t { color: #999; margin-left: 230px }"
        "aside { float: left; width: 230px; margin-left: -100%; background: #000; color: #fff }"
    )
    beside = f"<main>{TEXT}</main><aside>Words in the column</aside>"
    assert says(assessed(style, beside), "contrast/text") == (1, False)


@pytest.mark.parametrize(
    "style",
    [
        "#t { color: #999; float: left; margin-left: -9999px }",
        "#t { color: #999; position: absolute; left: -9999px }",
        "#t { color: #999; clip: rect(0 0 0 0); position: absolute }",
        "#t { color: #999; text-indent: -900px }",
        "#t { color: #999; visibility: hidden }",
        "main { display: none } #t { color: #999 }",
        "#t { color: #999; height: 1px; overflow: hidden }",
        "#t { color: #999; opacity: 0 }",
        "#t { color: #999; font-size: 0 }",
    ],
)
def test_what_nobody_sees_is_no_fault(style: str) -> None:
    assert says(assessed(style), "contrast/text") == (0, False)


BOX = "main { background: #fff; color: #999; height: 60px; width: 100px } "


@pytest.mark.parametrize(
    ("style", "body", "told"),
    [
        (BOX, "<p>Some words that need more lines than there is room for</p>", (0, True)),
        (BOX, "<p>Some words</p><p>that need</p><p>more lines</p><p>than there</p>", (0, True)),
        (
            f"{BOX} main {{ height: auto; max-height: 60px }}",
            "<p>Some words that need more lines than there is room for</p>",
            (0, True),
        ),
        (BOX, "<p>Some words</p>", (1, False)),
        (
            f"{BOX} main {{ overflow: auto }}",
            "<p>Some words that need more lines than there is room for</p>",
            (1, False),
        ),
        (
            f"{BOX} p {{ background: #fff }}",
            "<p>A box within a box that has too many words</p>",
            (1, False),
        ),
        (f"{BOX} b {{ float: left }}", "<b>one</b> <b>two</b> <b>six</b> <b>ten</b>", (4, False)),
        (f"{BOX} main {{ width: auto }}", "<p>Some words as long as they like</p>", (1, False)),
    ],
)
def test_words_that_may_run_out_of_their_box_are_left_open(
    style: str, body: str, told: tuple[int, bool]
) -> None:
    assert says(assessed(style, body), "contrast/text") == told


def test_a_gradient_behind_an_opaque_box_does_not_matter() -> None:
    style = "main { background: linear-gradient(red, blue) } #t { color: #999; background: #fff }"
    assert says(assessed(style), "contrast/text") == (1, False)


def test_names_take_what_style_sheets_add_and_hide() -> None:
    page = page_of(
        "<!doctype html><style>.icon::before { content: 'Menu' / 'Open the menu' }"
        ".hide { display: none }</style>"
        "<button class=icon></button><button>Send <span class=hide>now</span></button>"
    )
    assert [page.name_of(one) for one in page.exposed(role="button")] == ["Open the menu", "Send"]


def test_links_and_emphasis_are_told_by_styles() -> None:
    words = "Words of a paragraph that is long enough to be read as running text of its own."
    found = assessed(
        "a { color: #333; text-decoration: none } .u { text-decoration: underline }"
        ".small { font-size: 7px } .spin { animation: spin 9s infinite }",
        f"<p>{words} <a href=/x>the link</a> {words}</p><p><span class=u>underlined</span></p>"
        "<p class=small>tiny words</p><p class=spin>spinning</p><img src=a.gif alt=a>",
    )
    assert says(found, "links/only-colour")[0] == 1
    assert says(found, "text/underlined")[0] == 1
    assert says(found, "text/tiny")[0] == 1
    assert says(found, "motion/moves") == (1, True)


def test_a_page_has_no_boxes_and_says_so() -> None:
    page: Page = page_of(f"<!doctype html>{TEXT}")
    assert not page.is_laid_out
    assert all(one.box is None for one in page.elements)
