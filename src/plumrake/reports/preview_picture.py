"""A page's picture as people with low vision see it, side by side with the original."""

from __future__ import annotations

import io
from collections.abc import Mapping
from typing import TYPE_CHECKING, Final, Literal, get_args

from plumrake.core.vision import COLOUR_VISION, Matrix, seen_as

if TYPE_CHECKING:
    from PIL import Image, ImageFilter

Look = Literal[
    "grey", "protan", "deutan", "tritan", "blurred", "pale", "narrow", "enlarged", "spaced"
]
OWN_LAYOUTS: Final = ("narrow", "enlarged", "spaced")
"""Looks that are no look of the picture, but other layouts of the page."""
LOOKS: Final[tuple[Look, ...]] = get_args(Look)
_SAYS: Final[dict[str, str]] = {
    "original": "as it is",
    "grey": "in grey",
    "protan": "no cones for long waves (red)",
    "deutan": "no cones for middle waves (green)",
    "tritan": "no cones for short waves (blue)",
    "blurred": "out of focus",
    "pale": "low contrast",
    "narrow": "320 px wide",
    "enlarged": "text at 200 %",
    "spaced": "wide spacing",
}
_COLUMN, _HIGHEST, _GAP, _LABEL = 600, 1400, 16, 26
_COLUMNS = 4
_BLUR = 2.5
_STEPS = 33


def preview(picture: bytes, layouts: Mapping[Look, bytes], looks: tuple[Look, ...]) -> bytes:
    """Return the original and its looks on one sheet, as PNG. ``layouts`` are the page's pictures
    in other layouts; a look whose picture is not among them is left out."""
    from PIL import Image, ImageDraw, ImageFont

    with Image.open(io.BytesIO(picture)) as opened:
        original = opened.convert("RGB")
    shown = [("original", original)]
    for look in looks:
        if look in layouts:
            with Image.open(io.BytesIO(layouts[look])) as opened:
                shown.append((look, opened.convert("RGB")))
        elif look not in OWN_LAYOUTS:
            shown.append((look, _looked(original, look)))
    tiles = [(name, _fitted(image)) for name, image in shown]
    columns = min(_COLUMNS, len(tiles))
    rows = [tiles[at : at + columns] for at in range(0, len(tiles), columns)]
    heights = [max(tile.height for _, tile in row) + _LABEL + _GAP for row in rows]
    sheet = Image.new("RGB", (columns * (_COLUMN + _GAP) + _GAP, sum(heights) + _GAP), "#ffffff")
    draw = ImageDraw.Draw(sheet)
    font = ImageFont.load_default(16)
    y = _GAP
    for row, height in zip(rows, heights, strict=True):
        for at, (name, tile) in enumerate(row):
            x = _GAP + at * (_COLUMN + _GAP)
            draw.text((x, y), _SAYS[name], fill="#2b2430", font=font)
            sheet.paste(tile, (x, y + _LABEL))
            edge = (x - 1, y + _LABEL - 1, x + tile.width, y + _LABEL + tile.height)
            draw.rectangle(edge, outline="#7d7480")
        y += height
    out = io.BytesIO()
    sheet.save(out, "PNG")
    return out.getvalue()


def _fitted(image: Image.Image) -> Image.Image:
    scale = min(1.0, _COLUMN / image.width)
    size = round(image.width * scale), round(image.height * scale)
    fitted = image.resize(size) if scale < 1 else image
    return fitted.crop((0, 0, fitted.width, min(fitted.height, _HIGHEST)))


def _looked(image: Image.Image, look: Look) -> Image.Image:
    from PIL import ImageEnhance, ImageFilter

    if look == "grey":
        return image.convert("L").convert("RGB")
    if look == "blurred":
        return image.filter(ImageFilter.GaussianBlur(_BLUR))
    if look == "pale":
        return ImageEnhance.Brightness(ImageEnhance.Contrast(image).enhance(0.45)).enhance(1.15)
    return image.filter(_table(COLOUR_VISION[look]))


def _table(matrix: Matrix) -> ImageFilter.Color3DLUT:
    from PIL import ImageFilter

    def callback(red: float, green: float, blue: float) -> tuple[float, float, float]:
        whole = round(red * 255), round(green * 255), round(blue * 255)
        seen = seen_as(whole, matrix)
        return seen[0] / 255, seen[1] / 255, seen[2] / 255

    return ImageFilter.Color3DLUT.generate(_STEPS, callback)
