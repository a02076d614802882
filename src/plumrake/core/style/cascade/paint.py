"""Colours as style sheets write them (CSS Color 4 and 5): the current one, the system's, mixed,
relative to others, and for light or dark."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from tinycss2 import parse_component_value_list, serialize

from plumrake.core.colours import (
    BLACK,
    TRANSPARENT,
    Colour,
    NotAColour,
    gamma,
    linear,
    oklab_to_rgb,
    parse,
    rgb_to_oklab,
)
from plumrake.core.style.cascade.lengths import CannotTell, NotANumber, Sizes, amount_of

Tokens = Sequence[Any]
_MOST_NESTED = 10
_CHANNELS = {
    "rgb": ("r", "g", "b"),
    "rgba": ("r", "g", "b"),
    "hsl": ("h", "s", "l"),
    "hsla": ("h", "s", "l"),
    "hwb": ("h", "w", "b"),
    "lab": ("l", "a", "b"),
    "lch": ("l", "c", "h"),
    "oklab": ("l", "a", "b"),
    "oklch": ("l", "c", "h"),
    "color": ("r", "g", "b"),
}
_ROUNDED = frozenset(["rgb", "rgba", "hsl", "hsla", "hwb"])
_OTHER_FUNCTIONS = frozenset(
    [
        "contrast-color",
        "device-cmyk",
        "alpha",
        "color-layers",
        "-internal-light-dark",
    ]
)
_SYSTEM = {
    "canvas": ("#ffffff", "#121212"),
    "canvastext": ("#000000", "#ffffff"),
    "linktext": ("#0000ee", "#9e9eff"),
    "visitedtext": ("#551a8b", "#d0adf0"),
    "activetext": ("#ff0000", "#ff0000"),
    "buttonface": ("#efefef", "#6b6b6b"),
    "buttontext": ("#000000", "#ffffff"),
    "buttonborder": ("#000000", "#ffffff"),
    "field": ("#ffffff", "#3b3b3b"),
    "fieldtext": ("#000000", "#ffffff"),
    "highlight": ("#0041c6cc", "#0041c6cc"),
    "highlighttext": ("#ffffff", "#ffffff"),
    "selecteditem": ("#1967d2", "#99c8ff"),
    "selecteditemtext": ("#ffffff", "#3b3b3b"),
    "mark": ("#ffff00", "#ffff00"),
    "marktext": ("#000000", "#000000"),
    "graytext": ("#808080", "#808080"),
    "accentcolor": ("#0075ff", "#0075ff"),
    "accentcolortext": ("#ffffff", "#ffffff"),
    "-webkit-link": ("#0000ee", "#9e9eff"),
    "-webkit-activelink": ("#ff0000", "#ff9e9e"),
}
"""System colours as the browser has them where no theme says otherwise, in light and in dark."""
_AS = {
    "activeborder": "buttonborder",
    "activecaption": "canvas",
    "appworkspace": "canvas",
    "background": "canvas",
    "buttonhighlight": "buttonface",
    "buttonshadow": "buttonface",
    "captiontext": "canvastext",
    "inactiveborder": "buttonborder",
    "inactivecaption": "canvas",
    "inactivecaptiontext": "graytext",
    "infobackground": "canvas",
    "infotext": "canvastext",
    "menu": "canvas",
    "menutext": "canvastext",
    "scrollbar": "canvas",
    "threeddarkshadow": "buttonborder",
    "threedface": "buttonface",
    "threedhighlight": "buttonborder",
    "threedlightshadow": "buttonborder",
    "threedshadow": "buttonborder",
    "window": "canvas",
    "windowframe": "buttonborder",
    "windowtext": "canvastext",
    "-webkit-text": "canvastext",
}


@dataclass(frozen=True, slots=True)
class Palette:
    """What a colour may hang on: the current one, and whether light or dark is in use."""

    current: Colour = BLACK
    is_dark: bool = False


@lru_cache(maxsize=8192)
def colour(text: str, palette: Palette) -> Colour:
    """Return the colour that a value gives. Raises ``NotAColour``, and ``CannotTell`` for one that
    is not understood here."""
    tokens = _plain(parse_component_value_list(text))
    if len(tokens) != 1:
        raise NotAColour(text)
    try:
        return _colour(tokens[0], palette, 0)
    except NotANumber:
        raise NotAColour(text) from None


def is_colour(text: str) -> bool:
    """Tell whether a browser takes the value for a colour."""
    try:
        colour(text, Palette())
    except CannotTell:
        return True
    except NotAColour:
        return False
    return True


def written(paint: Colour) -> str:
    """Return a colour as computed values give it."""
    eighths = [channel * 255 for channel in paint[:3]]
    if all(abs(one - round(one)) < 1e-6 for one in eighths):
        red, green, blue = (round(one) for one in eighths)
        if paint.alpha >= 1:
            return f"rgb({red}, {green}, {blue})"
        return f"rgba({red}, {green}, {blue}, {paint.alpha:g})"
    channels = " ".join(f"{channel:.6f}" for channel in paint[:3])
    return f"color(srgb {channels} / {paint.alpha:g})"


def _plain(tokens: Tokens) -> list[Any]:
    return [one for one in tokens if one.type not in ("whitespace", "comment")]


def _colour(token: Any, palette: Palette, depth: int) -> Colour:
    if depth > _MOST_NESTED:
        raise NotAColour("")
    if token.type == "ident":
        name = token.lower_value
        if name == "currentcolor":
            return palette.current
        name = _AS.get(name, name)
        return parse(_SYSTEM[name][palette.is_dark] if name in _SYSTEM else str(name))
    if token.type == "hash":
        return parse(f"#{token.value}")
    if token.type != "function":
        raise NotAColour(serialize([token]))
    name = token.lower_name
    if name in _OTHER_FUNCTIONS:
        raise CannotTell(f"{name}()")
    if name == "light-dark":
        parts = _arguments(token)
        if len(parts) != 2 or any(len(part) != 1 for part in parts):
            raise NotAColour(name)
        return _colour(parts[palette.is_dark][0], palette, depth + 1)
    if name == "color-mix":
        return _mixed(_arguments(token), palette, depth)
    if name not in _CHANNELS:
        raise NotAColour(name)
    return _function(name, _plain(token.arguments), palette, depth)


def _arguments(token: Any) -> list[list[Any]]:
    parts: list[list[Any]] = [[]]
    for one in _plain(token.arguments):
        if one.type == "literal" and one.value == ",":
            parts.append([])
        else:
            parts[-1].append(one)
    return parts


def _function(name: str, tokens: list[Any], palette: Palette, depth: int) -> Colour:
    """Return what a colour function gives, once its calculations and its origin are worked out."""
    names: dict[str, float] = {}
    is_relative = bool(tokens) and tokens[0].type == "ident" and tokens[0].lower_value == "from"
    if is_relative:
        if len(tokens) < 5:
            raise NotAColour(name)
        space = name
        if name == "color":
            space = tokens[2].lower_value if tokens[2].type == "ident" else ""
        names = _origin(_colour(tokens[1], palette, depth + 1), space)
        tokens = tokens[2:]
    words = [_component(token, names) for token in tokens]
    given = parse(f"{name}({' '.join(words)})")
    if name in _ROUNDED and not is_relative:
        red, green, blue = (math.floor(channel * 255 + 0.5 + 1e-7) / 255 for channel in given[:3])
        return Colour(red, green, blue, given.alpha)
    return given


def _component(token: Any, names: dict[str, float]) -> str:
    if token.type == "literal" and token.value in ",/":
        return str(token.value)
    if token.type == "ident" and token.lower_value not in names:
        return str(token.lower_value)
    found = amount_of(token, Sizes(), names)
    if found.kind == "percentage":
        return f"{found.percent:.9f}%"
    if found.kind not in ("number", "angle"):
        raise NotANumber
    return f"{found.number:.9f}"


def _origin(paint: Colour, space: str) -> dict[str, float]:
    """Return a colour's channels by their names in a space (CSS Color 5, 4.1)."""
    if space in ("rgb", "rgba"):
        values = [channel * 255 for channel in paint[:3]]
    elif space in ("srgb", "srgb-linear"):
        values = [linear(one) if space == "srgb-linear" else one for one in paint[:3]]
    elif space in ("hsl", "hsla"):
        values = list(rgb_to_hsl(paint))
    elif space in ("oklab", "oklch"):
        lightness, a, b = rgb_to_oklab(paint)
        values = [lightness, a, b]
        if space == "oklch":
            values = [lightness, math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360]
    else:
        raise CannotTell(f"a colour relative to another in {space}")
    keys = _CHANNELS.get(space, ("r", "g", "b"))
    return dict(zip(keys, values, strict=True)) | {"alpha": paint.alpha}


def rgb_to_hsl(paint: Colour) -> tuple[float, float, float]:
    """Return hue (degrees), saturation and lightness (0 to 100) of an sRGB colour."""
    red, green, blue = paint[:3]
    high, low = max(red, green, blue), min(red, green, blue)
    lightness, spread = (high + low) / 2, high - low
    if spread == 0:
        return 0.0, 0.0, lightness * 100
    saturation = spread / (1 - abs(2 * lightness - 1))
    if high == red:
        hue = ((green - blue) / spread) % 6
    elif high == green:
        hue = (blue - red) / spread + 2
    else:
        hue = (red - green) / spread + 4
    return hue * 60, saturation * 100, lightness * 100


def _mixed(parts: list[list[Any]], palette: Palette, depth: int) -> Colour:
    """Return what ``color-mix()`` gives (CSS Color 5, 2)."""
    space, longer = "oklab", False
    if parts and parts[0] and parts[0][0].type == "ident" and parts[0][0].lower_value == "in":
        words = [one.lower_value for one in parts[0][1:] if one.type == "ident"]
        space, longer = (words or [""])[0], "longer" in words
        parts = parts[1:]
    if len(parts) != 2:
        raise CannotTell("color-mix() of other than two colours")
    if longer or space not in ("srgb", "srgb-linear", "oklab", "oklch", "hsl"):
        raise CannotTell(f"color-mix() in {space}")
    (one, first), (other, second) = (_portion(part, palette, depth) for part in parts)
    if first is None:
        first = 1 - second if second is not None else 0.5
    if second is None:
        second = 1 - first
    whole = first + second
    if whole <= 0:
        raise NotAColour("color-mix()")
    return _blend(one, other, second / whole, space).faded(min(1.0, whole))


def _portion(part: list[Any], palette: Palette, depth: int) -> tuple[Colour, float | None]:
    share: float | None = None
    paint: Colour | None = None
    for token in part:
        if token.type == "percentage" or (
            token.type == "function" and token.lower_name in ("calc", "min", "max", "clamp")
        ):
            share = amount_of(token, Sizes()).percent / 100
        elif paint is None:
            paint = _colour(token, palette, depth + 1)
        else:
            raise NotAColour(serialize(part))
    if paint is None or (share is not None and not 0 <= share <= 1):
        raise NotAColour(serialize(part))
    return paint, share


def _blend(one: Colour, other: Colour, share: float, space: str) -> Colour:
    """Return the colour so far from one to the other, premultiplied (CSS Color 4, 12)."""
    alpha = one.alpha * (1 - share) + other.alpha * share
    if alpha <= 0:
        return TRANSPARENT
    ends = [list(_in_space(paint, space)) for paint in (one, other)]
    hue = {"hsl": 0, "oklch": 2}.get(space)
    if hue is not None:
        _nearer(ends, hue, [paint.alpha for paint in (one, other)], space)
    mixed = [
        left * (1 - share) + right * share
        if at == hue
        else (left * one.alpha * (1 - share) + right * other.alpha * share) / alpha
        for at, (left, right) in enumerate(zip(*ends, strict=True))
    ]
    red, green, blue = (min(1.0, max(0.0, channel)) for channel in _out_of_space(mixed, space))
    return Colour(red, green, blue, alpha)


def _nearer(ends: list[list[float]], hue: int, alphas: list[float], space: str) -> None:
    """Turn the hues to the shorter way; a grey has none, and takes the other's."""
    chroma = 1
    least = 4e-6 if space == "oklch" else 1e-4
    greys = [end[chroma] <= least or alpha == 0 for end, alpha in zip(ends, alphas, strict=True)]
    if greys[0] and not greys[1]:
        ends[0][hue] = ends[1][hue]
    elif greys[1]:
        ends[1][hue] = ends[0][hue]
    turn = ends[1][hue] - ends[0][hue]
    if turn > 180:
        ends[0][hue] += 360
    elif turn < -180:
        ends[1][hue] += 360


def _in_space(paint: Colour, space: str) -> Sequence[float]:
    if space == "srgb":
        return paint[:3]
    if space == "hsl":
        return rgb_to_hsl(paint)
    if space == "srgb-linear":
        return [linear(one) for one in paint[:3]]
    lightness, a, b = rgb_to_oklab(paint)
    if space == "oklab":
        return lightness, a, b
    return lightness, math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360


def _out_of_space(values: list[float], space: str) -> Sequence[float]:
    if space == "srgb":
        return values
    if space == "srgb-linear":
        return [gamma(one) for one in values]
    if space == "hsl":
        hue, saturation, lightness = values
        return parse(f"hsl({hue:.9f} {saturation:.9f}% {lightness:.9f}%)")[:3]
    if space == "oklch":
        lightness, chroma, hue = values
        angle = math.radians(hue)
        values = [lightness, chroma * math.cos(angle), chroma * math.sin(angle)]
    return oklab_to_rgb(values[0], values[1], values[2])
