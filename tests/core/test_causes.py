"""Causes over pages: what a template prints is one, an editor's slips are their own, and both stay
what they are from sweep to sweep."""

from collections import Counter

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plumrake.core.assess import assess
from plumrake.core.causes import Cause, Place, gather
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.markup import parse_document

CARD = (
    '<li class="card"><h3><a href="/news/{n}/">News {n}</a></h3><img class="teaser" '
    'src="/media/{n}.jpg"{alt}></li>'
)
LISTING = '<main><h1>News</h1><ul class="cards">{cards}</ul><p>{text}</p></main>'


def cards(numbers: range, alt: str = "") -> str:
    """Return cards whose pictures have this ``alt``."""
    return "".join(CARD.format(n=number, alt=alt) for number in numbers)


def causes_of(pages: list[str], check: str, known: frozenset[str] = frozenset()) -> list[Cause]:
    """Return the causes that a check's findings on some pages have."""
    places: list[Place] = []
    census: Counter[str] = Counter()
    for number, html in enumerate(pages):
        page = Page(
            parse_document(
                f"<!doctype html><html lang=en><body>{html}", f"http://made.invalid/{number}/"
            )
        )
        census.update(page.structure.census)
        for one in assess(page, Policy(only=(check,))).findings:
            keys = (one.zone, one.structure, one.shape_key, one.cause_key)
            places.append(
                Place(
                    len(places),
                    number,
                    one.check,
                    one.weight,
                    *keys,
                    visible=one.visible,
                    pictured=False,
                )
            )
    return gather(places, census, known)


def test_template_that_prints_no_text_is_one_cause() -> None:
    """Every card's picture lacks a text, on every page: one cause, whatever the pictures are."""
    found = causes_of(
        [LISTING.format(cards=cards(range(4 * n, 4 * n + 4)), text="") for n in range(5)],
        "pictures/no-text",
    )
    assert [(one.pages, len(one.places), one.by_template, one.zone) for one in found] == [
        (5, 20, True, "card")
    ]


def test_editors_slips_in_cards_are_their_own() -> None:
    """Where most cards have a text, each picture without one is a cause of its own."""
    pages = [
        LISTING.format(
            cards=cards(range(6 * n, 6 * n + 5), ' alt="A boat"')
            + cards(range(6 * n + 5, 6 * n + 6)),
            text="",
        )
        for n in range(5)
    ]
    found = causes_of(pages, "pictures/no-text")
    assert [(one.pages, len(one.places), one.by_template) for one in found] == [(1, 1, False)] * 5


def test_same_content_on_several_pages_is_one_cause() -> None:
    """The same link with the same words and target, set into running text here and there, is mended
    once."""
    pages = [
        LISTING.format(
            cards="", text='For more <a href="/more/">click here</a>.' if n % 2 else "Nothing."
        )
        for n in range(6)
    ]
    assert [(one.pages, one.by_template) for one in causes_of(pages, "links/vague")] == [(3, False)]


def test_running_text_is_never_a_templates() -> None:
    """Pictures without text in running text, on every page: each picture is a cause of its own, for
    no template printed them."""
    pages = [LISTING.format(cards="", text=f'<img src="/media/{n}.jpg">') for n in range(8)]
    assert [(one.pages, one.by_template) for one in causes_of(pages, "pictures/no-text")] == [
        (1, False)
    ] * 8


def test_empty_things_in_running_text_are_their_own() -> None:
    """Empty headings that editors left here and there have nothing in common; each is a cause of
    its page."""
    pages = [LISTING.format(cards="", text="</p><h2>&nbsp;</h2><p>") for _ in range(3)]
    assert [one.pages for one in causes_of(pages, "headings/empty")] == [1, 1, 1]


def test_two_templates_with_the_same_fault_are_two_causes() -> None:
    """The same check fails in the menu of some pages and in the footer of others: two things to
    mend."""
    menu = '<nav aria-label="Main"><a class="icon" href="/s/"></a></nav><main><h1>x</h1></main>'
    footer = (
        '<main><h1>x</h1></main><footer><p class="social"><a class="icon" '
        'href="/s/"></a></p></footer>'
    )
    found = causes_of([menu] * 5 + [footer] * 4, "links/no-name")
    assert [(one.pages, one.zone, one.by_template) for one in found] == [
        (5, "menu", True),
        (4, "footer", True),
    ]


@pytest.mark.parametrize(("mended", "causes"), [(1, 1), (9, 1), (12, 8)])
def test_partly_mended_template_fault_stays_the_same_cause(mended: int, causes: int) -> None:
    """Once known, it keeps its key as long as most of its places have it; after that what is left
    counts one by one."""
    before = causes_of(
        [LISTING.format(cards=cards(range(4 * n, 4 * n + 4)), text="") for n in range(5)],
        "pictures/no-text",
    )
    known = frozenset(one.key for one in before)
    done = cards(range(mended), ' alt="A boat"') + cards(range(mended, 20))
    each = done.split("</li>")[:-1]
    after = causes_of(
        [
            LISTING.format(cards="</li>".join([*each[4 * n : 4 * n + 4], ""]), text="")
            for n in range(5)
        ],
        "pictures/no-text",
        known,
    )
    assert len(after) == causes
    assert ({one.key for one in after} == known) == (causes == 1)


@given(st.permutations(list(range(5))))
@settings(max_examples=10, deadline=None)
def test_causes_do_not_hang_on_the_order_of_the_pages(order: list[int]) -> None:
    """The same pages in another order have the same causes with the same reach."""
    pages = [
        LISTING.format(cards=cards(range(3 * n, 3 * n + 3)), text='<a href="/x/">click here</a>')
        for n in range(5)
    ]
    for check in ("pictures/no-text", "links/vague"):
        one, other = causes_of(pages, check), causes_of([pages[at] for at in order], check)
        assert [(cause.key, cause.pages, len(cause.places)) for cause in one] == [
            (c.key, c.pages, len(c.places)) for c in other
        ]


@pytest.mark.parametrize(
    ("html", "zone"),
    [
        ("<header><p><a href=/x></a></p></header><main></main>", "header"),
        ("<header><nav><a href=/x></a></nav></header>", "header"),
        ("<nav><ul><li><a href=/x></a></ul></nav>", "menu"),
        ("<footer><a href=/x></a></footer>", "footer"),
        ("<aside><a href=/x></a></aside>", "aside"),
        ("<form role=search><a href=/x></a></form>", "search"),
        ("<main><article><header><a href=/x></a></header></article></main>", "content"),
        ("<main><ul><li class=c><a href=/x></a><li class=c><li class=c></ul></main>", "card"),
        ("<main><ul><li class=c><a href=/x></a><li class=c></ul></main>", "content"),
        ("<div><p><a href=/x></a></p></div>", "content"),
    ],
)
def test_zones(html: str, zone: str) -> None:
    """A place is known by the outermost zone it lies in; one of at least three alike is a card."""
    page = Page(parse_document(f"<!doctype html><body>{html}", "here"))
    link = next(element for element in page.elements if element.tag == "a")
    assert page.structure.zone_of(link) == zone
    assert page.structure.zone_of(page.root) == "page"


def test_deep_pages_have_builds() -> None:
    """Forty thousand levels are no trouble: as in browsers, there are five hundred and twelve, and
    what would lie deeper comes after the last."""
    page = Page(
        parse_document(
            "<!doctype html><body>" + '<div class="x">' * 40_000 + "<a class=y href=/x>", "here"
        )
    )
    depths = [sum(1 for _ in one.ancestors()) for one in page.elements]
    assert 500 < max(depths) <= 513
    assert len(page.elements) > 40_000
    assert [one.get("href") for one in page.exposed(role="link")] == ["/x"]
