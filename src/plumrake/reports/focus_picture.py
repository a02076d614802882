"""The path of Tab drawn on a page's picture: a line from stop to stop, each with its number."""

from __future__ import annotations

import io
from collections.abc import Sequence
from itertools import pairwise
from typing import Any, Final

_PATH: Final = "#6d2f5e"
_FAULT: Final = "#9c2020"
_PAPER: Final = "#ffffff"
_ROOM: Final = 7
"""Pixels between a stop and what is drawn around it, for its own focus mark."""


def with_path_of_tab(picture: bytes, stops: Sequence[dict[str, Any]]) -> bytes:
    """Return a picture of a page (one pixel per CSS px) with its stops of Tab, as PNG; stops with a
    fault are red."""
    from PIL import Image, ImageDraw, ImageFont

    with Image.open(io.BytesIO(picture)) as opened:
        drawn = opened.convert("RGB")
    draw = ImageDraw.Draw(drawn)
    font = ImageFont.load_default(13)
    shown = [stop for stop in stops if stop["box"] is not None and _is_on_page(stop["box"])]
    for before, stop in pairwise(shown):
        colour = _FAULT if "jumps back" in stop["faults"] else _PATH
        draw.line([_number_of(before["box"]), _number_of(stop["box"])], fill=_PAPER, width=4)
        draw.line([_number_of(before["box"]), _number_of(stop["box"])], fill=colour, width=2)
    for stop in shown:
        x, y, width, height = stop["box"]
        colour = _FAULT if stop["faults"] else _PATH
        around = (x - _ROOM, y - _ROOM, x + width + _ROOM, y + height + _ROOM)
        draw.rectangle(around, outline=colour, width=2)
        says = str(stop["number"])
        wide = draw.textlength(says, font=font)
        draw.rectangle((x - 4, y - 14, x + wide + 4, y + 4), fill=colour)
        draw.text((x, y - 13), says, fill=_PAPER, font=font)
    out = io.BytesIO()
    drawn.save(out, "PNG")
    return out.getvalue()


def _number_of(box: Sequence[int]) -> tuple[float, float]:
    """Return where a stop's number is drawn: what is written in the stop is not crossed out."""
    return box[0] + 2, box[1] - 5


def _is_on_page(box: Sequence[int]) -> bool:
    return box[0] + box[2] > 0 and box[1] + box[3] > 0
