"""Colours: every form that CSS Color 4 gives to a computed value, WCAG's contrast ratio, and hex.

Channels are floats from 0 to 1 in sRGB, not premultiplied.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from functools import lru_cache
from typing import NamedTuple

from plumrake.core.named_colours import NAMED


class NotAColour(ValueError):
    """The text is no colour that CSS knows; the message says which text."""

    code = "not-a-colour"

    def __init__(self, text: str) -> None:
        super().__init__(
            f"'{text}' is not a colour; write it as '#rrggbb', 'rgb(…)', 'oklch(…)' or a CSS "
            "colour name"
        )


class Colour(NamedTuple):
    """A colour in sRGB with alpha; each channel from 0 to 1."""

    red: float
    green: float
    blue: float
    alpha: float = 1.0

    def hex(self) -> str:
        """Return ``#rrggbb``; alpha is left out."""
        return "#" + "".join(f"{round(_clamp(channel) * 255):02x}" for channel in self[:3])

    def over(self, below: Colour) -> Colour:
        """Return this colour painted over ``below`` (simple alpha compositing, source-over)."""
        if self.alpha >= 1 or below.alpha <= 0:
            return self
        alpha = self.alpha + below.alpha * (1 - self.alpha)
        share = self.alpha / alpha
        red, green, blue = (
            top * share + under * (1 - share)
            for top, under in zip(self[:3], below[:3], strict=True)
        )
        return Colour(red, green, blue, alpha)

    def faded(self, opacity: float) -> Colour:
        """Return this colour with its alpha multiplied by ``opacity``."""
        return self._replace(alpha=self.alpha * opacity)


TRANSPARENT = Colour(0.0, 0.0, 0.0, 0.0)
WHITE = Colour(1.0, 1.0, 1.0)
BLACK = Colour(0.0, 0.0, 0.0)

_FUNCTION = re.compile(r"([a-z-]+)\((.*)\)", re.DOTALL)
_TURNS = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}


def _clamp(value: float) -> float:
    return min(1.0, max(0.0, value))


def linear(channel: float) -> float:
    """Return the linear-light value of an sRGB channel (WCAG 2.2, relative luminance, with the
    0.04045 threshold)."""
    size = abs(channel)
    value = size / 12.92 if size <= 0.04045 else ((size + 0.055) / 1.055) ** 2.4
    return math.copysign(value, channel)


def gamma(channel: float) -> float:
    """Return the sRGB-encoded value of a linear-light channel; the inverse of ``linear``."""
    size = abs(channel)
    value = size * 12.92 if size <= 0.0031308 else 1.055 * size ** (1 / 2.4) - 0.055
    return math.copysign(value, channel)


@lru_cache(maxsize=4096)
def luminance(colour: Colour) -> float:
    """Return WCAG's relative luminance, from 0 (black) to 1 (white); alpha is not looked at."""
    red, green, blue = (linear(_clamp(channel)) for channel in colour[:3])
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(first: Colour, second: Colour) -> float:
    """Return WCAG's contrast ratio of two opaque colours, from 1 to 21, unrounded."""
    one, other = luminance(first), luminance(second)
    return (max(one, other) + 0.05) / (min(one, other) + 0.05)


def truncated(ratio: float) -> float:
    """Return the ratio cut to two decimals, so that 4.499 reads 4.49 and never 4.5."""
    return math.floor(ratio * 100 + 1e-9) / 100


@lru_cache(maxsize=4096)
def parse(text: str) -> Colour:
    """Return the colour that a CSS value names. Raises ``NotAColour``."""
    value = text.strip().lower()
    if value == "transparent":
        return TRANSPARENT
    if value in NAMED:
        return _from_hex(NAMED[value], text)
    if value.startswith("#"):
        return _from_hex(value[1:], text)
    match = _FUNCTION.fullmatch(value)
    if not match:
        raise NotAColour(text)
    name, inside = match.groups()
    parts, alpha = _split(inside)
    try:
        channels = _FORMS[name](parts)
    except (KeyError, ValueError, IndexError):
        raise NotAColour(text) from None
    red, green, blue = (_clamp(channel) for channel in channels)
    return Colour(red, green, blue, alpha)


def parse_or(text: str, fallback: Colour) -> Colour:
    """Return the colour, or ``fallback`` where the value is none (``currentcolor``, ``none``, a
    paint server)."""
    try:
        return parse(text)
    except NotAColour:
        return fallback


def _from_hex(digits: str, text: str) -> Colour:
    if len(digits) in (3, 4):
        digits = "".join(digit * 2 for digit in digits)
    if len(digits) not in (6, 8) or not re.fullmatch("[0-9a-f]+", digits):
        raise NotAColour(text)
    values = [int(digits[at : at + 2], 16) / 255 for at in range(0, len(digits), 2)]
    return Colour(*values)


def _split(inside: str) -> tuple[list[str], float]:
    """Part a colour function's arguments into its components and its alpha."""
    body, slash, alpha = inside.partition("/")
    parts = [part for part in re.split(r"[\s,]+", body.strip()) if part]
    if not slash and "," in body and len(parts) == 4:
        alpha = parts.pop()
    return parts, _clamp(_number(alpha.strip(), 1.0)) if alpha.strip() else 1.0


def _number(part: str, whole: float) -> float:
    """Return a number; a percentage is a share of ``whole``; ``none`` is 0."""
    if part == "none":
        return 0.0
    return float(part[:-1]) / 100 * whole if part.endswith("%") else float(part)


def _hue(part: str) -> float:
    for unit, degrees in _TURNS.items():
        if part.endswith(unit) and not (unit == "rad" and part.endswith("grad")):
            return float(part[: -len(unit)]) * degrees
    return _number(part, 360.0)


def _rgb(parts: list[str]) -> list[float]:
    red, green, blue = parts
    return [_number(part, 255) / 255 for part in (red, green, blue)]


def _hsl(parts: list[str]) -> list[float]:
    hue, saturation, lightness = _hue(parts[0]), _percent(parts[1]), _percent(parts[2])

    def channel(offset: int) -> float:
        k = (offset + hue / 30) % 12
        return lightness - saturation * min(lightness, 1 - lightness) * max(
            -1, min(k - 3, 9 - k, 1)
        )

    return [channel(0), channel(8), channel(4)]


def _percent(part: str) -> float:
    return _number(part, 1.0) if part.endswith("%") else _number(part, 1.0) / 100


def _hwb(parts: list[str]) -> list[float]:
    white, black = _percent(parts[1]), _percent(parts[2])
    if white + black >= 1:
        return [white / (white + black)] * 3
    return [channel * (1 - white - black) + white for channel in _hsl([parts[0], "100%", "50%"])]


def _polar(
    parts: list[str], chroma_whole: float, lightness_whole: float
) -> tuple[float, float, float]:
    lightness, chroma, hue = (
        _number(parts[0], lightness_whole),
        _number(parts[1], chroma_whole),
        math.radians(_hue(parts[2])),
    )
    return lightness, chroma * math.cos(hue), chroma * math.sin(hue)


def _lab_to_rgb(lightness: float, a: float, b: float) -> list[float]:
    fy = (lightness + 16) / 116
    fx, fz = fy + a / 500, fy - b / 200
    epsilon, kappa = 216 / 24389, 24389 / 27
    x = fx**3 if fx**3 > epsilon else (116 * fx - 16) / kappa
    y = fy**3 if lightness > kappa * epsilon else lightness / kappa
    z = fz**3 if fz**3 > epsilon else (116 * fz - 16) / kappa
    return _xyz50_to_rgb(x * 0.9642956764295677, y, z * 0.8251046025104602)


def _xyz50_to_rgb(x: float, y: float, z: float) -> list[float]:
    return _xyz65_to_rgb(
        0.9554734527042182 * x - 0.023098536874261423 * y + 0.0632593086610217 * z,
        -0.028369706963208136 * x + 1.0099954580058226 * y + 0.021041398966943008 * z,
        0.012314001688319899 * x - 0.020507696433477912 * y + 1.3303659366080753 * z,
    )


def _xyz65_to_rgb(x: float, y: float, z: float) -> list[float]:
    return [
        gamma(3.2409699419045226 * x - 1.537383177570094 * y - 0.4986107602930034 * z),
        gamma(-0.9692436362808796 * x + 1.8759675015077202 * y + 0.04155505740717559 * z),
        gamma(0.05563007969699366 * x - 0.20397695888897652 * y + 1.0569715142428786 * z),
    ]


def oklab_to_rgb(lightness: float, a: float, b: float) -> list[float]:
    """Return sRGB channels (possibly outside 0 to 1) of an OKLab colour."""
    one = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3
    two = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3
    three = (lightness - 0.0894841775 * a - 1.2914855480 * b) ** 3
    return [
        gamma(4.0767416621 * one - 3.3077115913 * two + 0.2309699292 * three),
        gamma(-1.2684380046 * one + 2.6097574011 * two - 0.3413193965 * three),
        gamma(-0.0041960863 * one - 0.7034186147 * two + 1.7076147010 * three),
    ]


def rgb_to_oklab(colour: Colour) -> tuple[float, float, float]:
    """Return OKLab lightness (0 to 1), a and b of an sRGB colour."""
    red, green, blue = (linear(channel) for channel in colour[:3])
    one = math.cbrt(0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue)
    two = math.cbrt(0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue)
    three = math.cbrt(0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue)
    return (
        0.2104542553 * one + 0.7936177850 * two - 0.0040720468 * three,
        1.9779984951 * one - 2.4285922050 * two + 0.4505937099 * three,
        0.0259040371 * one + 0.7827717662 * two - 0.8086757660 * three,
    )


def _oklab(parts: list[str]) -> list[float]:
    return oklab_to_rgb(_number(parts[0], 1.0), _number(parts[1], 0.4), _number(parts[2], 0.4))


def _lab(parts: list[str]) -> list[float]:
    return _lab_to_rgb(_number(parts[0], 100), _number(parts[1], 125), _number(parts[2], 125))


def _color(parts: list[str]) -> list[float]:
    space, *rest = parts
    one, two, three = (_number(part, 1.0) for part in rest)
    if space == "srgb":
        return [one, two, three]
    if space == "srgb-linear":
        return [gamma(one), gamma(two), gamma(three)]
    if space == "xyz-d50":
        return _xyz50_to_rgb(one, two, three)
    if space in ("xyz", "xyz-d65"):
        return _xyz65_to_rgb(one, two, three)
    matrix, decode = _WIDE[space]
    light = [decode(channel) for channel in (one, two, three)]
    x, y, z = (
        sum(factor * channel for factor, channel in zip(row, light, strict=True)) for row in matrix
    )
    return _xyz50_to_rgb(x, y, z) if space == "prophoto-rgb" else _xyz65_to_rgb(x, y, z)


def _power(exponent: float) -> Callable[[float], float]:
    return lambda channel: math.copysign(abs(channel) ** exponent, channel)


def _rec2020(channel: float) -> float:
    alpha, beta = 1.09929682680944, 0.018053968510807
    size = abs(channel)
    value = size / 4.5 if size < beta * 4.5 else ((size + alpha - 1) / alpha) ** (1 / 0.45)
    return math.copysign(value, channel)


_Matrix = tuple[tuple[float, float, float], ...]
_WIDE: dict[str, tuple[_Matrix, Callable[[float], float]]] = {
    "display-p3": (
        (
            (0.4865709486482162, 0.26566769316909306, 0.1982172852343625),
            (0.2289745640697488, 0.6917385218365064, 0.079286914093745),
            (0.0, 0.04511338185890264, 1.043944368900976),
        ),
        linear,
    ),
    "a98-rgb": (
        (
            (0.5766690429101305, 0.1855582379065463, 0.1882286462349947),
            (0.29734497525053605, 0.6273635662554661, 0.07529145849399788),
            (0.02703136138641234, 0.07068885253582723, 0.9913375368376388),
        ),
        _power(563 / 256),
    ),
    "rec2020": (
        (
            (0.6369580483012914, 0.14461690358620832, 0.1688809751641721),
            (0.2627002120112671, 0.6779980715188708, 0.05930171646986196),
            (0.0, 0.028072693049087428, 1.060985057710791),
        ),
        _rec2020,
    ),
    "prophoto-rgb": (
        (
            (0.7977666449006423, 0.13518129740053308, 0.0313477341283922),
            (0.2880748288194013, 0.711835234241873, 0.00008993693872564),
            (0.0, 0.0, 0.8251046025104602),
        ),
        lambda channel: math.copysign(
            abs(channel) ** 1.8 if abs(channel) > 16 / 512 else abs(channel) / 16, channel
        ),
    ),
}

_FORMS: dict[str, Callable[[list[str]], list[float]]] = {
    "rgb": _rgb,
    "rgba": _rgb,
    "hsl": _hsl,
    "hsla": _hsl,
    "hwb": _hwb,
    "lab": _lab,
    "lch": lambda parts: _lab_to_rgb(*_polar(parts, 150, 100)),
    "oklab": _oklab,
    "oklch": lambda parts: oklab_to_rgb(*_polar(parts, 0.4, 1.0)),
    "color": _color,
}
