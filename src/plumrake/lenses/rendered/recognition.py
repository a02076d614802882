"""Optical character reading of a page's pictures; an optional part: without Tesseract and
pytesseract it is not there.

The picture is shot as the browser draws it, so Tesseract meets nothing but PNGs that the browser
made; text of the page that lies over it is made transparent for that. What was read is kept for the
sweep by the content of the picture's file, so the logo on every page is read once.
"""

from __future__ import annotations

import asyncio
import hashlib
import shutil
from collections.abc import Sequence
from functools import cache

from plumrake.core.evidence import ReadWord
from plumrake.core.probes import PictureToRead
from plumrake.lenses.assessor import words_in
from plumrake.lenses.rendered.browser import Tab
from plumrake.lenses.rendered.scripts import NO_TEXT
from plumrake.lenses.rendered.shots import shot
from plumrake.lenses.runners import Runner
from plumrake.net.shared_files import SharedFiles

_SMALL, _ONE_LINE = 700, 40
_ARRIVAL_SECONDS = 10
_SHOT_SECONDS = 20.0


@cache
def can_recognise() -> bool:
    """Tell whether Tesseract and its Python package are on this machine."""
    if shutil.which("tesseract") is None:
        return False
    try:
        import pytesseract  # noqa: F401
    except ImportError:
        return False
    return True


async def read_pictures(
    tab: Tab, wanted: Sequence[PictureToRead], runner: Runner, shared: SharedFiles
) -> dict[int, tuple[ReadWord, ...]]:
    """Return the words in a page's pictures by the index of the element, in the order in which they
    stand.

    Raises ``TimeoutError`` where a picture is still on its way or Tesseract does not answer.
    """
    if not wanted:
        return {}
    indexes = [one.index for one in wanted]
    async with asyncio.timeout(_ARRIVAL_SECONDS + 2):
        there: list[bool] = await tab.run("wait_for_images.js", [indexes, _ARRIVAL_SECONDS * 1000])
    if not all(there):
        raise TimeoutError(f"a picture was still on its way after {_ARRIVAL_SECONDS} s")
    places: list[list[float] | None] = await tab.run("places.js", indexes)
    await tab.run("no_text.js", ["on", NO_TEXT])  # what lies over a picture is none of its words
    found: dict[int, tuple[ReadWord, ...]] = {}
    try:
        for one, place in zip(wanted, places, strict=True):
            if place is not None and (words := await _words(tab, one, place, runner, shared)):
                found[one.index] = words
    finally:
        await tab.run("no_text.js", ["off", ""])
    return found


async def _words(
    tab: Tab, wanted: PictureToRead, place: list[float], runner: Runner, shared: SharedFiles
) -> tuple[ReadWord, ...]:
    """Return the words of one picture, which stands at ``place`` now: what came late may have
    pushed it on."""
    clip = (place[0], place[1], wanted.width, wanted.height)
    scale = 2 if wanted.width < _SMALL else 1
    content, picture = wanted.content, None
    if content is None:
        picture = await asyncio.wait_for(shot(tab, clip, scale), _SHOT_SECONDS)
        content = hashlib.sha256(picture).hexdigest()
    key = (content, round(wanted.width), round(wanted.height), wanted.language)
    known: tuple[ReadWord, ...] | None = shared.words.get(key)
    if known is None:
        if picture is None:
            picture = await asyncio.wait_for(shot(tab, clip, scale), _SHOT_SECONDS)
        known = await runner.run(
            words_in, picture, wanted.language, one_line=wanted.height < _ONE_LINE
        )
        if known is None:
            raise TimeoutError("a picture could not be read")
        shared.remember(shared.words, key, known)
    return known
