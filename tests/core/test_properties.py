"""What has to hold for any input: colours, selectors, place keys, positions, and that random HTML
crashes nothing."""

import asyncio

from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from plumrake.core.assess import assess
from plumrake.core.colours import Colour, contrast, luminance, parse, rgb_to_oklab, truncated
from plumrake.core.findings import Needs
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.registry import catalogue
from plumrake.core.style.nearest import nearest_pair, nearest_passing
from plumrake.lenses.markup import parse_document
from plumrake.lenses.reader import PageReader

colours = st.integers(0, 0xFFFFFF).map(lambda value: parse(f"#{value:06x}"))
words = st.sampled_from(
    ["Lock", "more", "click here", "IMG_2041.jpg", " ", "…", "<", "&amp;", "é", "🦦"]
)
tags = st.sampled_from(
    [
        "p",
        "div",
        "a",
        "h1",
        "h2",
        "h4",
        "ul",
        "li",
        "table",
        "tr",
        "td",
        "img",
        "svg",
        "span",
        "section",
        "nav",
        "label",
        "input",
        "button",
        "details",
        "b",
        "template",
        "select",
        "option",
        "math",
        "main",
        "form",
        "fieldset",
        "th",
        "ol",
        "dl",
        "dt",
        "iframe",
        "video",
        "h3",
        "area",
        "legend",
    ]
)
attributes = st.sampled_from(
    [
        "",
        " href=/x",
        " alt",
        ' alt="x"',
        " hidden",
        ' aria-hidden="true"',
        " role=img",
        " id=a",
        " class='b c1234'",
        " aria-labelledby=a",
        " role=none",
        " style='display:none'",
        " for=a",
        " lang=de",
        ' aria-level="7"',
        " role=tab",
        " role=checkbox",
        " tabindex=0",
        " tabindex=-1",
        " onclick=x()",
        " headers=a",
        " colspan=3",
        " target=_blank",
        " href=#",
        " type=radio name=r",
        " autocomplete=e-mail",
        " aria-lable=x",
    ]
)


@st.composite
def html(draw: st.DrawFn, depth: int = 0) -> str:
    """Markup that is often broken: unclosed, misnested, odd attributes."""
    parts = []
    for _ in range(draw(st.integers(0, 4))):
        if depth > 3 or draw(st.booleans()):
            parts.append(draw(words))
        else:
            tag = draw(tags)
            closing = draw(st.sampled_from([f"</{tag}>", f"</{tag}>", "", "</p>", "<!-- -->"]))
            parts.append(
                f"<{tag}{draw(attributes)}{draw(attributes)}>{draw(html(depth + 1))}{closing}"
            )
    return "".join(parts)


@given(colours, colours)
def test_contrast_is_symmetric_and_bounded(one: Colour, other: Colour) -> None:
    """From 1 to 21, whichever is the text."""
    assert contrast(one, other) == contrast(other, one)
    assert 1 <= contrast(one, other) <= 21.0001
    assert truncated(contrast(one, other)) <= contrast(one, other) + 1e-9


@given(colours, colours, st.sampled_from([3.0, 4.5, 7.0]))
@settings(max_examples=150, deadline=None)
def test_nearest_passing_colour_passes_and_is_nearest(
    colour: Colour, against: Colour, required: float
) -> None:
    """What is offered passes as written in hex; a step nearer to the original lightness does not;
    none only where none can."""
    found = nearest_passing(colour, against, required)
    if found is None:
        assert (
            max(contrast(parse("#000"), against), contrast(parse("#fff"), against))
            < required + 0.05
        )
        return
    assert contrast(parse(found.hex()), against) >= required
    if found == colour:
        return
    assert contrast(colour, against) < required
    lightness, target = rgb_to_oklab(colour)[0], rgb_to_oklab(found)[0]
    nearer = parse_near(colour, lightness + (target - lightness) * 0.9)
    assert contrast(nearer, against) < required + 0.35


@given(colours, colours, st.lists(colours, max_size=5, unique=True), st.sampled_from([3.0, 4.5]))
@settings(max_examples=80, deadline=None)
def test_nearest_pair_of_a_palette(
    text: Colour, background: Colour, palette: list[Colour], required: float
) -> None:
    """A pair comes from the palette and passes; there is none only where no two colours of it pass;
    a passing pair of it stays itself."""
    pair = nearest_pair(text, background, required, palette)
    passing = [
        (one, other) for one in palette for other in palette if contrast(one, other) >= required
    ]
    assert (pair is None) == (not passing)
    if pair is not None:
        known = {colour.hex() for colour in palette}
        assert {pair.text, pair.background} <= known
        assert pair.ratio >= required
    for one, other in passing[:1]:
        itself = nearest_pair(one, other, required, palette)
        assert itself is not None
        assert (itself.text, itself.background) == (one.hex(), other.hex())


def parse_near(colour: Colour, lightness: float) -> Colour:
    """Return the colour moved to another lightness, as it would be offered."""
    import math

    from plumrake.core.style.nearest import at_lightness

    _, a, b = rgb_to_oklab(colour)
    return at_lightness(lightness, math.hypot(a, b), math.atan2(b, a))


@given(st.floats(0, 1), colours)
def test_compositing_stays_between(alpha: float, colour: Colour) -> None:
    """A faded colour over white lies between the two."""
    mixed = colour.faded(alpha).over(parse("#fff"))
    assert mixed.alpha == 1
    assert luminance(colour) - 1e-9 <= luminance(mixed) <= 1 + 1e-9


@given(html())
@settings(max_examples=200, deadline=None)
def test_random_html_is_judged_and_selectors_are_exact(markup: str) -> None:
    """No input crashes the markup lens or a check; every selector selects its element and no other;
    every element has a line."""
    source = f"<!doctype html><html lang=en><body>{markup}"
    page = Page(parse_document(source, "any"))
    assess(page)
    parser = LexborHTMLParser(source)
    lines = source.count("\n") + 1
    for element in page.elements:
        assert element.line is not None
        assert 1 <= element.line <= lines
        if element.namespace != "html" or element.closest("svg", "math", "template"):
            continue
        found = parser.css(page.selector_of(element))
        assert len(found) == 1, page.selector_of(element)
        assert found[0].tag == element.tag


@given(html())
@settings(max_examples=100, deadline=None)
def test_place_keys_survive_what_comes_before(markup: str) -> None:
    """New paragraphs before it do not make a fault another fault."""

    def keys(before: str) -> set[str]:
        page = Page(
            parse_document(
                (
                    "<!doctype html><html lang=en><body><section "
                    f"aria-label=x>{before}<div>{markup}</div></section>"
                ),
                "here",
            )
        )
        return {one.place_key for one in assess(page).findings}

    assert keys("") <= keys("<p>Something new.</p><p>And more.</p>")


@given(st.lists(html(), min_size=12, max_size=12))
@settings(
    max_examples=3,
    deadline=None,
    derandomize=True,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_both_lenses_read_anything_and_agree(bodies: list[str]) -> None:
    """Random HTML crashes neither lens, and what needs only the tree comes out the same through
    both."""
    sources = [
        f"<!doctype html><html lang=en><head><title>a</title></head><body>{body}" for body in bodies
    ]

    async def read() -> list[Page]:
        async with PageReader("rendered") as reader:
            obtained = await asyncio.gather(
                *(reader.read_html(source.encode(), "http://any.invalid/") for source in sources)
            )
        assert [one.problem for one in obtained] == [None] * len(sources)
        return [one.page for one in obtained if one.page is not None]

    for source, rendered in zip(sources, asyncio.run(read()), strict=True):
        assess(rendered)
        parsed = Page(parse_document(source, "http://any.invalid/"))
        both = (
            [(one.check, one.message, one.selector) for one in assess(page, TREE_ONLY).findings]
            for page in (rendered, parsed)
        )
        assert next(both) == next(both), source


OF_TREE = {Needs.TREE, Needs.PAGE}
TREE_ONLY = Policy(only=tuple(one.id for one in catalogue().values() if one.needs <= OF_TREE))


def test_positions_point_at_the_start_tag() -> None:
    """Lines and columns are those of the ``<``, through comments, scripts, text areas and moved
    table content."""
    source = (
        '<!-- <p> -->\n<script>"<p>"</script><textarea><p></textarea>\n<table><p '
        'id=moved>x</p><tr><td title=">" id=cell>y</table>\r\n<svg><p id=out></svg>'
    )
    document = parse_document(source, "here")
    places = {
        element.get("id"): (element.line, element.column)
        for element in document.elements
        if element.has("id")
    }
    assert places == {"moved": (3, 8), "cell": (3, 29), "out": (4, 6)}
