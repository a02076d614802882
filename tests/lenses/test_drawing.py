"""Pictures of a page in its own layout, drawn in a real browser: narrow, with larger text, with
wider spacing, with the mark of each stop of Tab."""

from __future__ import annotations

import asyncio
import io

import pytest
from PIL import Image

from plumrake.lenses.read_options import DrawnAs, ReadOptions
from plumrake.lenses.reader import PageReader

BODY = """<style>
  body { margin: 0; font: 20px/1.2 sans-serif; background: #fff }
  .words { background: #0f0; width: 400px }
  a { position: absolute; left: 600px; width: 40px; height: 20px; transition: outline 5s }
  a:focus { outline: 6px solid #f00 }
  #one { top: 40px } #two { top: 140px } #three { top: 5000px }
</style>
<p class=words>Boats wait below the lock until the keeper has let the water in.</p>
<a href=/one id=one></a><a href=/two id=two></a><a href=/three id=three></a>"""


def drawn(kind: DrawnAs, body: str = BODY) -> Image.Image:
    async def one() -> bytes:
        async with PageReader("rendered") as reader:
            obtained = await reader.read_html(
                f"<!doctype html><html lang=en><title>Lock</title><body>{body}".encode(),
                "http://drawn.invalid/",
                ReadOptions(drawn_as=kind),
            )
        assert obtained.picture is not None, obtained.problem
        return obtained.picture

    image = Image.open(io.BytesIO(asyncio.run(one())))
    return image.convert("RGB")


def high(image: Image.Image) -> int:
    """Return how high the green block is."""
    column = [image.getpixel((4, y)) for y in range(min(image.height, 900))]
    return sum(1 for one in column if isinstance(one, tuple) and one[1] > 200 and one[0] < 80)


def red_around(image: Image.Image, left: int, top: int) -> bool:
    pixel = image.getpixel((left - 3, top + 10))
    return isinstance(pixel, tuple) and pixel[0] > 180 and pixel[1] < 90


def test_larger_text_and_wider_spacing_are_laid_out() -> None:
    plain, large, wide = (high(drawn(kind)) for kind in ("whole", "enlarged", "spaced"))
    assert large > 2 * plain
    assert wide > plain


def test_narrow_is_as_wide_as_what_does_not_fit() -> None:
    assert drawn("narrow", "<p>A short line of words.</p>").width == 320
    assert drawn("narrow").width == 640  # the links stand so far to the right
    assert drawn("whole").width == 1280


def test_each_stop_shows_its_mark() -> None:
    """All marks are in one picture, of stops below the screen too, and at once: whatever glides
    stands still."""
    image = drawn("focus")
    for top in (40, 140, 5000):
        assert red_around(image, 600, top), top
    assert not red_around(drawn("whole"), 600, 40)


@pytest.mark.parametrize("kind", ["focus", "enlarged"])
def test_a_page_without_stops_or_words_is_drawn_too(kind: DrawnAs) -> None:
    assert drawn(kind, "").width == 1280


def test_a_trap_of_focus_does_not_hold_the_picture() -> None:
    trap = """<a href=/one id=one></a><a href=/two id=two></a>
    <script>
    two.onkeydown = (e) => { if (e.key === "Tab") { e.preventDefault(); one.focus(); } };
    </script>"""
    image = drawn("focus", BODY.split("<p", maxsplit=1)[0] + trap)
    assert red_around(image, 600, 40)
    assert red_around(image, 600, 140)
