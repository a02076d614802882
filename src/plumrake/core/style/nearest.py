"""The nearest passing colour: OKLCH lightness moves, hue stays, chroma gives way only where sRGB
ends."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import permutations

from plumrake.core.colours import Colour, contrast, oklab_to_rgb, parse, rgb_to_oklab

_STEPS = 1024
_SLACK = 1e-4


@dataclass(frozen=True, slots=True)
class Proposal:
    """A colour that passes: which side changes, ``#rrggbb``, and the unrounded ratio it gives."""

    change: str
    colour: str
    ratio: float


def at_lightness(lightness: float, chroma: float, hue: float) -> Colour:
    """Return the sRGB colour of this OKLCH lightness (0 to 1) and hue (radians) with the most
    chroma up to ``chroma``."""
    low, high = 0.0, chroma
    channels = oklab_to_rgb(lightness, chroma * math.cos(hue), chroma * math.sin(hue))
    if all(-_SLACK <= channel <= 1 + _SLACK for channel in channels):
        low = chroma
    while high - low > 1e-4:
        middle = (low + high) / 2
        channels = oklab_to_rgb(lightness, middle * math.cos(hue), middle * math.sin(hue))
        if all(-_SLACK <= channel <= 1 + _SLACK for channel in channels):
            low = middle
        else:
            high = middle
    red, green, blue = oklab_to_rgb(lightness, low * math.cos(hue), low * math.sin(hue))
    return parse(Colour(red, green, blue).hex())


def nearest_passing(colour: Colour, against: Colour, required: float) -> Colour | None:
    """Return the colour of the same hue nearest to ``colour`` in OKLCH lightness with
    ``required``:1 against ``against``.

    The answer is rounded to 8 bits before it is measured, so what is offered is what passes. None
    where even black and white do not reach the ratio.
    """
    if contrast(colour, against) >= required:
        return colour
    lightness, a, b = rgb_to_oklab(colour)
    chroma, hue = math.hypot(a, b), math.atan2(b, a)
    found = [
        (abs(step / _STEPS - lightness), candidate)
        for steps in (
            range(math.ceil(lightness * _STEPS), _STEPS + 1),
            range(math.floor(lightness * _STEPS), -1, -1),
        )
        if (hit := _first(steps, chroma, hue, against, required)) is not None
        for step, candidate in [hit]
    ]
    return min(found)[1] if found else None


def _first(
    steps: range, chroma: float, hue: float, against: Colour, required: float
) -> tuple[int, Colour] | None:
    """Return the first step that passes: by halving (contrast grows steadily towards either end),
    then a look back."""
    low, high = 0, len(steps) - 1
    if high < 0 or not _passes(steps[high], chroma, hue, against, required):
        return None
    while low < high:
        middle = (low + high) // 2
        if _passes(steps[middle], chroma, hue, against, required):
            high = middle
        else:
            low = middle + 1
    return steps[low], at_lightness(steps[low] / _STEPS, chroma, hue)


def _passes(step: int, chroma: float, hue: float, against: Colour, required: float) -> bool:
    return contrast(at_lightness(step / _STEPS, chroma, hue), against) >= required


def proposals(text: Colour, background: Colour, required: float) -> list[Proposal]:
    """Return the nearest passing text colour and the nearest passing background colour, where there
    is one."""

    def both() -> Iterator[Proposal]:
        if (better := nearest_passing(text, background, required)) is not None:
            yield Proposal("text", better.hex(), contrast(better, background))
        if (better := nearest_passing(background, text, required)) is not None:
            yield Proposal("background", better.hex(), contrast(text, better))

    return list(both())


@dataclass(frozen=True, slots=True)
class Pair:
    """Two colours of a palette that pass together, as ``#rrggbb``, with their unrounded ratio."""

    text: str
    background: str
    ratio: float


def nearest_pair(
    text: Colour, background: Colour, required: float, palette: Sequence[Colour]
) -> Pair | None:
    """Return the pair of the palette's colours with ``required``:1 that lies nearest to the two in
    OKLab; None where no pair passes."""
    far_from_text = {
        colour: math.dist(rgb_to_oklab(colour), rgb_to_oklab(text)) for colour in palette
    }
    far_from_background = {
        colour: math.dist(rgb_to_oklab(colour), rgb_to_oklab(background)) for colour in palette
    }
    passing = [
        (
            far_from_text[above] + far_from_background[below],
            at,
            Pair(above.hex(), below.hex(), ratio),
        )
        for at, (above, below) in enumerate(permutations(palette, 2))
        if (ratio := contrast(above, below)) >= required
    ]
    return min(passing)[2] if passing else None
