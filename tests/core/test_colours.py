"""Colour values in every notation, and what a text's surface comes to."""

import pytest

from plumrake.core.colours import NotAColour, contrast, luminance, parse, truncated
from plumrake.core.style.nearest import proposals

FORMS = [
    ("#777", "#777777", 1),
    ("#77777780", "#777777", 0.502),
    ("red", "#ff0000", 1),
    ("transparent", "#000000", 0),
    ("RebeccaPurple", "#663399", 1),
    ("rgb(1, 2, 3)", "#010203", 1),
    ("rgba(1, 2, 3, 0.5)", "#010203", 0.5),
    ("rgb(100% 0% 0% / 25%)", "#ff0000", 0.25),
    ("rgb(none 2 3)", "#000203", 1),
    ("hsl(120 100% 25%)", "#008000", 1),
    ("hsl(0.5turn, 100%, 50%)", "#00ffff", 1),
    ("hwb(0 20% 20%)", "#cc3333", 1),
    ("hwb(0 80% 80%)", "#808080", 1),
    ("lab(50% 0 0)", "#777777", 1),
    ("lch(50% 0 0)", "#777777", 1),
    ("oklab(0.628 0.2249 0.1258)", "#ff0000", 1),
    ("oklch(62.8% 0.2577 29.23)", "#ff0000", 1),
    ("color(srgb 0.5 0.5 0.5)", "#808080", 1),
    ("color(srgb-linear 0.2159 0.2159 0.2159)", "#808080", 1),
    ("color(display-p3 1 1 1)", "#ffffff", 1),
    ("color(xyz-d65 0.9505 1 1.0888)", "#ffffff", 1),
    ("color(a98-rgb 1 1 1)", "#ffffff", 1),
    ("color(rec2020 0 0 0 / 0.3)", "#000000", 0.3),
]


@pytest.mark.parametrize(("text", "colour", "alpha"), FORMS)
def test_every_form(text: str, colour: str, alpha: float) -> None:
    """CSS Color 4's notations, as browsers give them."""
    assert parse(text).hex() == colour
    assert parse(text).alpha == pytest.approx(alpha, abs=0.002)


@pytest.mark.parametrize(
    "text",
    ["", "#12", "#ggg", "mauve-ish", "rgb(1 2)", "color(foo 1 1 1)", "url(#paint)", "rgb(a b c)"],
)
def test_what_is_no_colour(text: str) -> None:
    """The error repeats what was written and says how to write it."""
    with pytest.raises(NotAColour, match="is not a colour; write it as"):
        parse(text)


def test_known_ratios() -> None:
    """Black on white is 21, a colour on itself 1, and nothing is rounded up."""
    assert contrast(parse("#000"), parse("#fff")) == pytest.approx(21)
    assert contrast(parse("#abc"), parse("#abc")) == 1
    assert truncated(contrast(parse("#777"), parse("#fff"))) == 4.47
    assert truncated(4.4999999) == 4.49
    assert luminance(parse("#fff")) == pytest.approx(1)


def test_proposals_keep_the_hue() -> None:
    """A pale red becomes a darker red, not grey; both sides are offered."""
    text, background = proposals(parse("#ee6666"), parse("#ffffff"), 4.5)
    assert (text.change, background.change) == ("text", "background")
    red, green, blue, _ = parse(text.colour)
    assert red > green
    assert red > blue
    assert text.ratio >= 4.5
    assert background.ratio >= 4.5


def test_no_proposal_where_none_can_pass() -> None:
    """Two mid greys cannot reach 7:1 by one side alone; a darker text with a mid grey behind it can
    by its background."""
    assert proposals(parse("#888888"), parse("#777777"), 7.0) == []
    offers = proposals(parse("#333333"), parse("#777777"), 7.0)
    assert [offer.change for offer in offers] == ["background"]
