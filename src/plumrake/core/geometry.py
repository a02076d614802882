"""Boxes on a page."""

from __future__ import annotations

Box = tuple[float, float, float, float]
"""Left, top, width and height in CSS px, from the page's upper left corner."""


def whole(box: Box | None) -> list[int] | None:
    """Return a box in whole CSS px, None for none."""
    return [round(side) for side in box] if box is not None else None
