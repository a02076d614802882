"""The colours that are written in ``style`` attributes and ``style`` elements, with their
contrast."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from plumrake.core.colours import Colour, NotAColour, contrast, parse, truncated
from plumrake.core.html_source import every_tag, start_tag_at
from plumrake.core.mending.source_page import Span
from plumrake.core.style.runs import required_ratio

_DECLARATIONS = re.compile(r"\{([^{}]*)\}")
_DECLARATION = re.compile(r"(?<![\w-])([\w-]+)\s*:\s*([^;{}]*)")
_COLOUR = re.compile(
    r"#[0-9a-f]{3,8}\b|\b(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^()]*\)|(?<![\w-])[a-z]{3,20}(?![\w(-])",
    re.IGNORECASE,
)
_NO_COLOURS = frozenset(["none", "auto", "inherit", "initial", "unset", "revert", "currentcolor"])
_WHITE, _BLACK = Colour(1, 1, 1), Colour(0, 0, 0)
_TAKES_COLOURS = re.compile(r"colou?r|background|border|outline|fill|stroke|shadow|caret|accent")
_NORMAL = required_ratio(16, 400, aaa=False)
_LARGE = required_ratio(24, 400, aaa=False)


@dataclass(frozen=True, slots=True)
class WrittenColour:
    """A colour, where it is written, the property that it is for, and the other colour of a pair of
    text and background that is written with it."""

    span: Span
    colour: Colour
    property: str
    against: Colour | None


def colours_in(text: str) -> list[WrittenColour]:
    """Return the colours in the styles of an HTML text, in its order."""
    return sorted(
        (one for span in _blocks(text) for one in _in_block(text, span)), key=lambda one: one.span
    )


def _blocks(text: str) -> Iterator[Span]:
    """Yield where declarations stand: the values of ``style``, and what is in the braces of style
    sheets."""
    style_from = -1
    for start, end, name, closes in every_tag(text):
        if name == "style":
            if not closes:
                style_from = end
            elif style_from >= 0:
                yield from (
                    found.span(1) for found in _DECLARATIONS.finditer(text, style_from, start)
                )
                style_from = -1
        if closes or "style" not in text[start:end].lower():
            continue
        tag = start_tag_at(text, start)
        style = tag.attribute("style") if tag is not None else None
        if style is not None and style.has_value:
            yield style.value_start, style.value_end


def _in_block(text: str, block: Span) -> list[WrittenColour]:
    found: list[WrittenColour] = []
    for declaration in _DECLARATION.finditer(text, *block):
        name = declaration.group(1).lower()
        if not _TAKES_COLOURS.search(name):
            continue
        for one in _COLOUR.finditer(text, *declaration.span(2)):
            colour = _colour(one.group())
            if colour is not None:
                found.append(WrittenColour(one.span(), colour, name, None))
    texts = [one for one in found if one.property == "color"]
    behind = [one for one in found if one.property in ("background", "background-color")]
    if len(texts) != 1 or len(behind) != 1:
        return found
    pair = {texts[0].span: behind[0].colour, behind[0].span: texts[0].colour}
    return [WrittenColour(one.span, one.colour, one.property, pair.get(one.span)) for one in found]


def _colour(written: str) -> Colour | None:
    if written.lower() in _NO_COLOURS:
        return None
    try:
        return parse(written)
    except NotAColour:
        return None


def ratio_of(one: WrittenColour) -> str:
    """Return a colour's contrast as a sentence (WCAG 2.2, 1.4.3): with the other colour of its
    pair, else with white and black."""
    shown = one.colour.hex()
    if one.against is None:
        on_white, on_black = (
            truncated(contrast(one.colour.over(ground), ground)) for ground in (_WHITE, _BLACK)
        )
        return f"{shown}: {on_white}:1 with white, {on_black}:1 with black."
    text, behind = one.colour, one.against
    if one.property != "color":
        text, behind = behind, text
    ground = behind.over(_WHITE)
    ratio = truncated(contrast(text.over(ground), ground))
    if ratio >= _NORMAL:
        verdict = "enough for text of any size"
    elif ratio >= _LARGE:
        verdict = f"enough for large text only; other text needs {_NORMAL}:1"
    else:
        verdict = f"too little; text needs {_NORMAL}:1, large text {_LARGE:g}:1"
    return f"{text.hex()} on {behind.hex()}: {ratio}:1, {verdict} (WCAG 2.2, 1.4.3)."
