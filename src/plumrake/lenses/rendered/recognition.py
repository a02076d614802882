"""Optical character reading of a page's pictures; an optional part: without Tesseract and
pytesseract it is not there.

The picture is shot as the browser draws it, so Tesseract meets nothing but PNGs that the browser
made; text of the page that lies over it is made transparent for that. What was read is kept for the
sweep by the content of the picture's file, so the logo on every page is read once.
"""

from __future__ import annotations

import asyncio
import hashlib
import os
import shutil
from functools import cache
from typing import Any

from PIL import Image

from plumrake.core.dom import Element
from plumrake.core.evidence import ReadWord
from plumrake.core.page import Page
from plumrake.core.probes import pictures_to_read
from plumrake.lenses.rendered.browser import Tab
from plumrake.lenses.rendered.shots import NO_TEXT, shot
from plumrake.net.shared_files import SharedFiles

_LANGUAGES = {
    "en": "eng",
    "de": "deu",
    "fr": "fra",
    "es": "spa",
    "it": "ita",
    "nl": "nld",
    "pl": "pol",
    "sv": "swe",
    "cy": "cym",
}
_SMALL, _ONE_LINE = 700, 40
_SECONDS = 60
_ARRIVAL_SECONDS = 10
_SURE = 60


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
    tab: Tab, page: Page, shared: SharedFiles
) -> dict[int, tuple[ReadWord, ...]]:
    """Return the words in the page's pictures by the index of the element, in the order in which
    they stand.

    Raises ``TimeoutError`` where a picture is still on its way or Tesseract does not answer.
    """
    wanted = pictures_to_read(page)
    if not wanted:
        return {}
    async with asyncio.timeout(_ARRIVAL_SECONDS + 2):
        there: list[bool] = await tab.run(
            "wait_for_images.js", [[element.index for element in wanted], _ARRIVAL_SECONDS * 1000]
        )
    if not all(there):
        raise TimeoutError(f"a picture was still on its way after {_ARRIVAL_SECONDS} s")
    places: list[list[float] | None] = await tab.run(
        "places.js", [element.index for element in wanted]
    )
    await tab.run("no_text.js", ["on", NO_TEXT])  # what lies over a picture is none of its words
    try:
        return await _read_all(tab, page, wanted, places, shared)
    finally:
        await tab.run("no_text.js", ["off", ""])


async def _read_all(
    tab: Tab,
    page: Page,
    wanted: list[Element],
    places: list[list[float] | None],
    shared: SharedFiles,
) -> dict[int, tuple[ReadWord, ...]]:
    found: dict[int, tuple[ReadWord, ...]] = {}
    for element, place in zip(wanted, places, strict=True):
        assert element.box is not None
        if place is None:
            continue
        (x, y), (_, _, width, height) = (
            place,
            element.box,
        )  # where it is now: what came late may have pushed it on
        content = page.evidence.files.get(element.index)
        language = _language(page.language_of(element))
        picture: Image.Image | None = None
        if content is None:
            picture = await shot(tab, (x, y, width, height), scale=2 if width < _SMALL else 1)
            content = hashlib.sha256(picture.tobytes()).hexdigest()
        key = (content, round(width), round(height), language)
        if key not in shared.words:
            picture = picture or await shot(
                tab, (x, y, width, height), scale=2 if width < _SMALL else 1
            )
            try:
                words = await asyncio.to_thread(
                    _words_in, picture, language, one_line=height < _ONE_LINE
                )
                shared.remember(shared.words, key, words)
            except (RuntimeError, OSError) as error:
                raise TimeoutError(f"a picture could not be read: {error}") from error
        if shared.words[key]:
            found[element.index] = shared.words[key]
    return found


@cache
def _installed() -> frozenset[str]:
    import pytesseract

    return frozenset(pytesseract.get_languages())


def _language(code: str) -> str:
    wanted = _LANGUAGES.get(code, "eng")
    return wanted if wanted in _installed() else "eng"


def _words_in(picture: Image.Image, language: str, *, one_line: bool) -> tuple[ReadWord, ...]:
    import pytesseract

    os.environ["OMP_THREAD_LIMIT"] = (
        "1"  # several threads for one small picture only get in each other's way
    )
    answer: dict[str, list[Any]] = pytesseract.image_to_data(
        picture,
        lang=language,
        config=f"--psm {7 if one_line else 6}",
        timeout=_SECONDS,
        output_type=pytesseract.Output.DICT,
    )
    rows = zip(answer["text"], answer["conf"], strict=True)
    return tuple(
        ReadWord(str(text), float(sure) / 100)
        for text, sure in rows
        if str(text).strip() and float(sure) >= _SURE
    )
