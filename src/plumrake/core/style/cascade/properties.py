"""The properties that the checks ask for, and what they are worked out from: whether each inherits,
what it is initially, and which values a browser takes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from tinycss2 import parse_component_value_list

from plumrake.core.style.cascade.lengths import CannotTell, NotANumber, Sizes, amount
from plumrake.core.style.cascade.paint import is_colour

WIDE = frozenset(["initial", "inherit", "unset", "revert", "revert-layer"])
"""Keywords that every property takes (CSS Cascade 5, 7.3)."""
_OF_OTHERS = ("-moz-", "-ms-", "-o-", "-khtml-")


@lru_cache(maxsize=16384)
def tokens_of(text: str) -> tuple[Any, ...]:
    """Return a value's tokens, without white space and comments."""
    return tuple(
        one for one in parse_component_value_list(text) if one.type not in ("whitespace", "comment")
    )


def is_measure(text: str, *kinds: str) -> bool:
    """Tell whether the value is a number or length of one of these kinds."""
    try:
        found = amount(text, Sizes())
    except CannotTell:
        return "length" in kinds
    except NotANumber:
        return False
    if found.kind == "number" and found.number == 0 and "length" in kinds:
        return True
    return found.kind in kinds or (found.kind == "mixed" and "percentage" in kinds)


def _words(*lists: str) -> Callable[[str], bool]:
    allowed = frozenset(" ".join(lists).split())
    return lambda text: text in allowed


def _several(words: str) -> Callable[[str], bool]:
    allowed = frozenset(words.split())
    return lambda text: bool(text.split()) and all(one in allowed for one in text.split())


def _length(*words: str) -> Callable[[str], bool]:
    return lambda text: text in words or is_measure(text, "length", "percentage")


def _size(text: str) -> bool:
    if text in _SIZE_WORDS:
        return True
    return is_measure(text, "length", "percentage") and not text.startswith("-")


def _weight(text: str) -> bool:
    if text in ("normal", "bold", "bolder", "lighter"):
        return True
    if not is_measure(text, "number"):
        return False
    try:
        return 1 <= amount(text, Sizes()).number <= 1000
    except CannotTell:
        return True


def _line_width(text: str) -> bool:
    if text in ("thin", "medium", "thick"):
        return True
    return is_measure(text, "length") and not text.startswith("-")


def _paint(text: str) -> bool:
    return text in ("none", "context-fill", "context-stroke") or "url(" in text or is_colour(text)


def _any(text: str) -> bool:
    """For values of which only a part is ever read: all but another browser's."""
    return bool(text) and not text.lower().startswith(_OF_OTHERS)


def _image(text: str) -> bool:
    if text.startswith(_OF_OTHERS):
        return False
    return all(_one_image(one) for one in tokens_of(text) if one.type != "literal") and text != ""


def _one_image(token: Any) -> bool:
    if token.type == "ident":
        return bool(token.lower_value == "none")
    if token.type == "function":
        name = token.lower_name
        return (name.endswith(("gradient", "image-set", "cross-fade", "element", "paint"))) or (
            name in ("url", "image", "src")
        )
    return bool(token.type == "url")


_DISPLAYS = (
    "none contents inline block inline-block flow-root list-item flex inline-flex grid inline-grid "
    "table inline-table table-row table-cell table-row-group table-header-group table-footer-group "
    "table-column table-column-group table-caption ruby ruby-text math -webkit-box "
    "-webkit-inline-box -webkit-flex -webkit-inline-flex"
)
_LINE_STYLES = "none hidden dotted dashed solid double groove ridge inset outset"
_SIZE_WORDS = frozenset(
    "xx-small x-small small medium large x-large xx-large xxx-large -webkit-xxx-large smaller "
    "larger math".split()
)


@dataclass(frozen=True, slots=True)
class Property:
    """Whether a property inherits, its initial value, and which texts a browser takes for a value
    of it."""

    inherits: bool
    initial: str
    takes: Callable[[str], bool]
    keeps_case: bool = False


def _own(initial: str, takes: Callable[[str], bool], *, keeps_case: bool = False) -> Property:
    return Property(inherits=False, initial=initial, takes=takes, keeps_case=keeps_case)


def _handed_down(
    initial: str, takes: Callable[[str], bool], *, keeps_case: bool = False
) -> Property:
    return Property(inherits=True, initial=initial, takes=takes, keeps_case=keeps_case)


_SIDES = ("top", "right", "bottom", "left")
_BOXES = frozenset("border-box padding-box content-box text border-area".split())
PROPERTIES: dict[str, Property] = {
    "color-scheme": _handed_down("normal", _any),
    "color": _handed_down("canvastext", is_colour),
    "font-family": _handed_down("serif", _any, keeps_case=True),
    "font-size": _handed_down("medium", _size),
    "font-weight": _handed_down("normal", _weight),
    "font-style": _handed_down(
        "normal", lambda text: text in ("normal", "italic") or text.startswith("oblique")
    ),
    "visibility": _handed_down("visible", _words("visible hidden collapse")),
    "-webkit-text-fill-color": _handed_down("currentcolor", is_colour),
    "fill": _handed_down("black", _paint),
    "stroke": _handed_down("none", _paint),
    "text-transform": _handed_down(
        "none", _several("none capitalize uppercase lowercase full-width full-size-kana math-auto")
    ),
    "text-indent": _handed_down("0px", _any),
    "cursor": _handed_down("auto", _any),
    "display": _own("inline", lambda text: two_words(text) is not None),
    "opacity": _own("1", lambda text: is_measure(text, "number", "percentage")),
    "background-color": _own("transparent", is_colour),
    "background-image": _own("none", _image),
    "background-clip": _own(
        "border-box", lambda text: all(one.strip() in _BOXES for one in text.split(","))
    ),
    "position": _own("static", _words("static relative absolute fixed sticky")),
    "float": _own("none", _words("none left right inline-start inline-end")),
    "overflow-x": _own("visible", _words("visible hidden clip scroll auto overlay")),
    "overflow-y": _own("visible", _words("visible hidden clip scroll auto overlay")),
    "clip": _own("auto", lambda text: text == "auto" or text.startswith("rect(")),
    "clip-path": _own("none", _any),
    "filter": _own("none", lambda text: _any(text) and "progid:" not in text),
    "backdrop-filter": _own("none", _any),
    "mix-blend-mode": _own("normal", _any),
    "content-visibility": _own("visible", _words("visible hidden auto")),
    "text-decoration-line": _own(
        "none", _several("none underline overline line-through blink spelling-error grammar-error")
    ),
    "z-index": _own("auto", lambda text: text == "auto" or is_measure(text, "number")),
    "box-shadow": _own("none", _any),
    "outline-style": _own("none", _words(_LINE_STYLES, "auto")),
    "appearance": _own("none", _any),
    "animation-name": _own("none", _any, keeps_case=True),
    "animation-duration": _own("0s", _any),
    "animation-iteration-count": _own("1", _any),
    "animation-play-state": _own("running", _any),
    "content": _own("normal", _any, keeps_case=True),
    "transform": _own("none", _any),
    "translate": _own("none", _any),
    "width": _own("auto", _any),
    "height": _own("auto", _any),
    "max-height": _own("none", _any),
    **{f"border-{side}-style": _own("none", _words(_LINE_STYLES)) for side in _SIDES},
    **{f"border-{side}-width": _own("medium", _line_width) for side in _SIDES},
    **{f"border-{side}-color": _own("currentcolor", is_colour) for side in _SIDES},
    **{f"margin-{side}": _own("0px", _length("auto")) for side in _SIDES},
    **{side: _own("auto", _length("auto")) for side in _SIDES},
}
"""Colour scheme, colour, font and size stand first: the rest is worked out by them."""
ALIASES = {
    "-webkit-appearance": "appearance",
    "-webkit-background-clip": "background-clip",
    "-webkit-filter": "filter",
    "-webkit-box-shadow": "box-shadow",
    "-webkit-opacity": "opacity",
    "-webkit-clip-path": "clip-path",
    "-webkit-transform": "transform",
    "-webkit-animation": "animation",
    "-webkit-animation-name": "animation-name",
    "-webkit-animation-duration": "animation-duration",
    "-webkit-animation-iteration-count": "animation-iteration-count",
    "-webkit-animation-play-state": "animation-play-state",
    "inset-block-start": "top",
    "inset-block-end": "bottom",
    "inset-inline-start": "left",
    "inset-inline-end": "right",
    "inline-size": "width",
    "block-size": "height",
    "max-block-size": "max-height",
    **{
        f"{kind}-{logical}{part}": f"{kind}-{side}{part}"
        for kind, parts in (("margin", ("",)), ("border", ("-style", "-width", "-color", "")))
        for logical, side in (
            ("block-start", "top"),
            ("block-end", "bottom"),
            ("inline-start", "left"),
            ("inline-end", "right"),
        )
        for part in parts
    },
}
"""Other names of properties; logical ones as they are in a horizontal text from left to right."""

_PLAIN_DISPLAYS = frozenset(_DISPLAYS.split())
_OLD_DISPLAYS = {"-webkit-flex": "flex", "-webkit-inline-flex": "inline-flex"}
_TWO_WORDS = {
    ("block", "flow"): "block",
    ("block", "flow-root"): "flow-root",
    ("inline", "flow"): "inline",
    ("inline", "flow-root"): "inline-block",
    ("block", "flex"): "flex",
    ("inline", "flex"): "inline-flex",
    ("block", "grid"): "grid",
    ("inline", "grid"): "inline-grid",
    ("block", "table"): "table",
    ("inline", "table"): "inline-table",
    ("inline", "ruby"): "ruby",
    ("block", "ruby"): "block ruby",
}


def two_words(text: str) -> str | None:
    """Return ``display`` in the short form in which computed values give it (CSS Display 3, 2);
    None for what is none."""
    words = text.split()
    if len(words) == 1:
        one = _OLD_DISPLAYS.get(words[0], words[0])
        return one if one in _PLAIN_DISPLAYS else {"flow": "block"}.get(one)
    if "list-item" in words:
        return "inline list-item" if "inline" in words else "list-item"
    if len(words) == 2:
        return _TWO_WORDS.get((words[0], words[1])) or _TWO_WORDS.get((words[1], words[0]))
    return None


@lru_cache(maxsize=16384)
def is_taken(name: str, text: str) -> bool:
    """Tell whether a browser takes a text for a value of a property."""
    return text.lower() in WIDE or PROPERTIES[name].takes(text)
