"""How colours look to people with other colour vision: the matrices of Machado, Oliveira and
Fernandes, "A Physiologically-based Model for Simulation of Color Vision Deficiency", IEEE
Transactions on Visualization and Computer Graphics 15 (6), 2009, at full severity. They are applied
to linear RGB (sRGB with its transfer function taken off, IEC 61966-2-1)."""

from __future__ import annotations

from typing import Final

Matrix = tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]]

COLOUR_VISION: Final[dict[str, Matrix]] = {
    "protan": (
        (0.152286, 1.052583, -0.204868),
        (0.114503, 0.786281, 0.099216),
        (-0.003882, -0.048116, 1.051998),
    ),
    "deutan": (
        (0.367322, 0.860646, -0.227968),
        (0.280085, 0.672501, 0.047413),
        (-0.011820, 0.042940, 0.968881),
    ),
    "tritan": (
        (1.255528, -0.076749, -0.178779),
        (-0.078411, 0.930809, 0.147602),
        (0.004733, 0.691367, 0.303900),
    ),
}
"""By the kind of cones that are missing: for long, middle and short waves."""


def seen_as(colour: tuple[int, int, int], matrix: Matrix) -> tuple[int, int, int]:
    """Return how a colour (8-bit sRGB) looks to somebody with other colour vision."""
    linear = [_linear(value / 255) for value in colour]
    red, green, blue = (
        round(255 * _curved(sum(row[at] * linear[at] for at in range(3)))) for row in matrix
    )
    return red, green, blue


def _linear(value: float) -> float:
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4


def _curved(value: float) -> float:
    held = min(1.0, max(0.0, value))
    return 12.92 * held if held <= 0.0031308 else 1.055 * held ** (1 / 2.4) - 0.055
