"""Conditions of style sheets: media queries (Media Queries 4) for one stated screen, and
``@supports`` (CSS Conditional Rules 4)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any

from tinycss2 import parse_component_value_list, serialize

from plumrake.core.style.cascade.answers import Answer, all_of, any_of, opposite
from plumrake.core.style.cascade.lengths import ABSOLUTE
from plumrake.core.style.cascade.selector_reader import BadSelector, parse_selectors

Tokens = Sequence[Any]
_LENGTHS = ABSOLUTE | {"em": 16.0, "rem": 16.0}
_DPPX = {"dppx": 1.0, "x": 1.0, "dpi": 1 / 96, "dpcm": 2.54 / 96}
_MOST_NESTED = 30


@dataclass(frozen=True, slots=True)
class Screen:
    """What the page is shown on: the viewport in CSS px, and what the person prefers."""

    width: int = 1280
    height: int = 800
    scheme: str = "light"
    reduced_motion: bool = True


@lru_cache(maxsize=2048)
def media_applies(query: str, screen: Screen) -> bool:
    """Tell whether a media query list holds; what cannot be understood does not."""
    parts = _split(parse_component_value_list(query), ",")
    if all(not part for part in parts):
        return True
    return any(_query(part, screen) for part in parts)


@lru_cache(maxsize=1024)
def supported(condition: str) -> Answer:
    """Tell whether the browser supports what ``@supports`` asks for; None where that is not
    known."""
    return _condition(_plain(parse_component_value_list(condition)), _supports)


def _plain(tokens: Tokens) -> list[Any]:
    return [one for one in tokens if one.type not in ("whitespace", "comment")]


def _split(tokens: Tokens, mark: str) -> list[list[Any]]:
    parts: list[list[Any]] = [[]]
    for token in _plain(tokens):
        if token.type == "literal" and token.value == mark:
            parts.append([])
        else:
            parts[-1].append(token)
    return parts


def _query(tokens: list[Any], screen: Screen) -> bool:
    """Tell whether one media query holds (Media Queries 4, 2.5)."""
    negated = False
    if tokens and tokens[0].type == "ident":
        word = tokens[0].lower_value
        if word in ("not", "only") and len(tokens) > 1 and tokens[1].type == "ident":
            negated, tokens = word == "not", tokens[1:]
            word = tokens[0].lower_value
        if word != "not":
            holds: Answer = word in ("all", "screen")
            if len(tokens) > 1:
                if tokens[1].type != "ident" or tokens[1].lower_value != "and":
                    return False
                rest = _condition(tokens[2:], lambda one: _feature(one, screen))
                if rest is None:
                    return False
                holds = holds and rest
            return holds is not negated
    return _condition(tokens, lambda one: _feature(one, screen)) is True


def _condition(tokens: list[Any], leaf: Callable[[Any], Answer], depth: int = 0) -> Answer:
    """Return what comes of ``not``, ``and`` and ``or`` over blocks and functions."""
    if depth > _MOST_NESTED or not tokens:
        return None
    if tokens[0].type == "ident" and tokens[0].lower_value == "not":
        return opposite(_operand(tokens[1:], leaf, depth)) if len(tokens) == 2 else None
    words = {one.lower_value for one in tokens[1::2] if one.type == "ident"}
    if any(one.type != "ident" for one in tokens[1::2]) or len(words) > 1 or len(tokens) % 2 == 0:
        return None
    answers = [_operand([one], leaf, depth) for one in tokens[::2]]
    if words <= {"and"}:
        return all_of(answers)
    return any_of(answers) if words == {"or"} else None


def _operand(tokens: list[Any], leaf: Callable[[Any], Answer], depth: int) -> Answer:
    if not tokens:
        return None
    token = tokens[0]
    if token.type == "() block":
        content = _plain(token.content)
        if content and (
            content[0].type in ("() block", "function")
            or (content[0].type == "ident" and content[0].lower_value == "not")
        ):
            return _condition(content, leaf, depth + 1)
    return leaf(token)


def _feature(token: Any, screen: Screen) -> Answer:
    """Tell whether a media feature holds; None for one that is not known (Media Queries 4, 3.2)."""
    if token.type != "() block":
        return None
    content = _plain(token.content)
    if not content:
        return None
    signs = [at for at, one in enumerate(content) if one.type == "literal" and one.value in "<>=:"]
    if not signs:
        return _bare(content, screen)
    if content[signs[0]].value == ":":
        return _named(content, signs[0], screen)
    return _ranged(content, signs, screen)


def _bare(content: list[Any], screen: Screen) -> Answer:
    if len(content) != 1 or content[0].type != "ident":
        return None
    name = content[0].lower_value
    if name in _words(screen):
        return _words(screen)[name] not in ("none", "no-preference", "0")
    own = _numbers(screen).get(name.removeprefix("device-"))
    return own != 0 if own is not None else None


def _named(content: list[Any], colon: int, screen: Screen) -> Answer:
    if colon != 1 or content[0].type != "ident":
        return None
    name, value = content[0].lower_value, content[2:]
    if name in _words(screen):
        said = str(serialize(value)).strip().lower()
        allowed = _words(screen)[name]
        return said == allowed or (name == "color-gamut" and said == "srgb")
    bound = ""
    for prefix in ("-webkit-min-", "-webkit-max-", "min-", "max-"):
        if name.startswith(prefix):
            bound, name = prefix[-4:-1], name.removeprefix(prefix)
            break
    name = name.removeprefix("-webkit-").removeprefix("device-")
    name = "resolution" if name == "pixel-ratio" else name
    own, wanted = _numbers(screen).get(name), _size(value)
    if own is None or wanted is None:
        return None
    return own >= wanted if bound == "min" else own <= wanted if bound == "max" else own == wanted


def _ranged(content: list[Any], signs: list[int], screen: Screen) -> Answer:
    """Read ``width >= 40em``, ``40em <= width`` and ``20em < width <= 40em``."""
    sides: list[list[Any]] = []
    compared: list[str] = []
    last = 0
    for at in signs:
        if at == last and compared:  # the second half of '<='
            compared[-1] += content[at].value
        else:
            sides.append(content[last:at])
            compared.append(content[at].value)
        last = at + 1
    sides.append(content[last:])
    values: list[float] = []
    for side in sides:
        name = side[0].lower_value if len(side) == 1 and side[0].type == "ident" else ""
        own = _numbers(screen).get(name.removeprefix("device-")) if name else _size(side)
        if own is None:
            return None
        values.append(own)
    if any(one not in _COMPARISONS for one in compared):
        return None
    return all(
        _COMPARISONS[one](left, right)
        for one, left, right in zip(compared, values[:-1], values[1:], strict=True)
    )


_COMPARISONS: dict[str, Callable[[float, float], bool]] = {
    "<": lambda one, other: one < other,
    "<=": lambda one, other: one <= other,
    ">": lambda one, other: one > other,
    ">=": lambda one, other: one >= other,
    "=": lambda one, other: one == other,
}


@lru_cache(maxsize=8)
def _numbers(screen: Screen) -> dict[str, float]:
    return {
        "width": screen.width,
        "height": screen.height,
        "aspect-ratio": float(Fraction(screen.width, screen.height)),
        "resolution": 1.0,
        "color": 8.0,
        "color-index": 0.0,
        "monochrome": 0.0,
        "-webkit-transform-3d": 1.0,
    }


@lru_cache(maxsize=8)
def _words(screen: Screen) -> dict[str, str]:
    return {
        "orientation": "landscape" if screen.width > screen.height else "portrait",
        "prefers-color-scheme": screen.scheme,
        "prefers-reduced-motion": "reduce" if screen.reduced_motion else "no-preference",
        "prefers-contrast": "no-preference",
        "prefers-reduced-transparency": "no-preference",
        "forced-colors": "none",
        "hover": "hover",
        "any-hover": "hover",
        "pointer": "fine",
        "any-pointer": "fine",
        "scripting": "enabled",
        "update": "fast",
        "grid": "0",
        "color-gamut": "srgb",
        "device-posture": "continuous",
        "dynamic-range": "standard",
        "display-mode": "browser",
        "overflow-block": "scroll",
        "overflow-inline": "scroll",
    }


def _size(tokens: list[Any]) -> float | None:
    """Return a length in CSS px, a resolution in dots per px, a ratio or a number."""
    if len(tokens) == 3 and tokens[1].type == "literal" and tokens[1].value == "/":
        upper, lower = _size(tokens[:1]), _size(tokens[2:])
        return upper / lower if upper is not None and lower else None
    if len(tokens) != 1:
        return None
    token = tokens[0]
    if token.type == "number":
        return float(token.value)
    if token.type != "dimension":
        return None
    factor = _LENGTHS.get(token.lower_unit) or _DPPX.get(token.lower_unit)
    return float(token.value) * factor if factor is not None else None


_OTHERS = ("-moz-", "-ms-", "-o-", "-apple-", "-khtml-")
_NOT_THERE = frozenset(
    "margin-trim -webkit-touch-callout -webkit-overflow-scrolling -webkit-hyphens leading-trim "
    "hanging-punctuation -webkit-backdrop-filter -webkit-initial-letter ime-mode azimuth".split()
)
"""Properties that are asked for and that Chromium does not have."""
_NOT_VALUES = ("masonry", "-webkit-sticky")


def _supports(token: Any) -> Answer:
    if token.type == "function":
        if token.lower_name == "selector":
            try:
                parse_selectors(token.arguments)
            except BadSelector:
                return None if "::" in serialize(token.arguments) else False
            return True
        return None
    content = _plain(token.content) if token.type == "() block" else []
    if len(content) < 2 or content[0].type != "ident":
        return None
    name = str(content[0].lower_value)
    if content[1].type != "literal" or content[1].value != ":":
        return None
    value = serialize(content[2:]).strip().lower()
    return not (
        name.startswith(_OTHERS) or name in _NOT_THERE or value.startswith((*_OTHERS, *_NOT_VALUES))
    )
