"""Pictures that are drawn on: other colour vision, the sheet of looks, the path of Tab."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from plumrake.core.vision import COLOUR_VISION, seen_as
from plumrake.reports.focus_picture import with_path_of_tab
from plumrake.reports.preview_picture import LOOKS, OWN_LAYOUTS, preview

PLUM, RED = (109, 47, 94), (156, 32, 32)


def png(width: int, height: int, colour: str = "#ffffff") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), colour).save(out, "PNG")
    return out.getvalue()


def opened(picture: bytes) -> Image.Image:
    image = Image.open(io.BytesIO(picture))
    image.load()
    return image.convert("RGB")


@pytest.mark.parametrize("kind", sorted(COLOUR_VISION))
@pytest.mark.parametrize("grey", [0, 20, 128, 255])
def test_grey_stays_grey(kind: str, grey: int) -> None:
    """The rows of each matrix sum up to one: what has no colour looks the same to everybody."""
    seen = seen_as((grey, grey, grey), COLOUR_VISION[kind])
    assert max(abs(value - grey) for value in seen) <= 1


def apart(one: tuple[int, int, int], other: tuple[int, int, int]) -> int:
    return sum(abs(a - b) for a, b in zip(one, other, strict=True))


@pytest.mark.parametrize("kind", ["protan", "deutan"])
def test_who_lacks_red_or_green_cones_hardly_tells_them_apart(kind: str) -> None:
    brick, moss = (190, 60, 40), (110, 110, 40)
    seen = [seen_as(one, COLOUR_VISION[kind]) for one in (brick, moss)]
    assert apart(seen[0], seen[1]) < apart(brick, moss) / 2


def test_red_without_red_cones() -> None:
    assert seen_as((255, 0, 0), COLOUR_VISION["protan"]) == (109, 95, 0)


def test_the_sheet_has_all_looks() -> None:
    layouts = {one: png(320, 500, "#00ff00") for one in OWN_LAYOUTS}
    sheet = opened(preview(png(600, 300, "#ff0000"), layouts, LOOKS))
    assert sheet.width == 4 * 616 + 16
    assert sheet.getpixel((100, 200)) == (255, 0, 0)
    assert sheet.getpixel((716, 200)) == (76, 76, 76)
    protan = sheet.getpixel((1332, 200))
    assert isinstance(protan, tuple)
    assert max(abs(a - b) for a, b in zip(protan, (109, 95, 0), strict=True)) <= 3
    for own_layout in ((1964, 784), (100, 1126), (716, 1126)):
        assert sheet.getpixel(own_layout) == (0, 255, 0)
    one = opened(preview(png(600, 300), {}, ("narrow",)))
    assert one.width == 616 + 16


def test_the_path_is_drawn_with_its_faults() -> None:
    stops = [
        {"number": 1, "box": [50, 50, 100, 20], "faults": []},
        {"number": 2, "box": [300, 200, 100, 20], "faults": ["jumps back"]},
        {"number": 3, "box": None, "faults": []},
        {"number": 4, "box": [-999, 10, 20, 20], "faults": []},
    ]
    drawn = opened(with_path_of_tab(png(500, 300), stops))
    assert drawn.getpixel((100, 43)) == PLUM
    assert drawn.getpixel((350, 193)) == RED
    assert drawn.getpixel((100, 46)) == (255, 255, 255)  # room for the stop's own mark
    along = [drawn.getpixel((x, 45 + round((x - 52) * 150 / 250))) for x in range(80, 280)]
    assert RED in along
    assert opened(with_path_of_tab(png(50, 30), [])).getcolors() == [(1500, (255, 255, 255))]
