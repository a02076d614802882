"""Texts that stand in a picture's file: what its maker wrote there for those who do not see it."""

from __future__ import annotations

import contextlib
import io
import warnings
from collections.abc import Iterator
from typing import Any

from plumrake.core.dom import collapse
from plumrake.core.picture_texts import PictureText

MOST_BYTES = 30_000_000
_XMP = (
    ("AltTextAccessibility", "the file's text for those who do not see it (IPTC)"),
    ("ExtDescrAccessibility", "the file's long description (IPTC)"),
    ("description", "the file's description (XMP)"),
)
_IPTC = (((2, 120), "the file's caption (IPTC)"), ((2, 105), "the file's headline (IPTC)"))


def texts_in_file(body: bytes) -> list[PictureText]:
    """Return the texts in a picture's file: IPTC and XMP of bitmaps, ``title`` and ``desc`` of SVG.
    A file that cannot be read has none."""
    if len(body) > MOST_BYTES:
        return []
    found: list[PictureText] = []
    with contextlib.suppress(Exception):  # whatever a stranger's file makes the libraries raise
        found = list(_in_svg(body) if b"<svg" in body[:2_000].lower() else _in_bitmap(body))
    return [one for one in found if one.text]


def _in_svg(body: bytes) -> Iterator[PictureText]:
    from defusedxml.ElementTree import fromstring

    root = fromstring(body)
    for child in root:
        name = str(child.tag).rpartition("}")[2]
        if name in ("title", "desc"):
            yield PictureText(collapse("".join(child.itertext())), f"the drawing's {name}")


def _in_bitmap(body: bytes) -> Iterator[PictureText]:
    from PIL import Image, IptcImagePlugin

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        picture = Image.open(io.BytesIO(body))
        xmp = picture.getxmp()
        iptc = IptcImagePlugin.getiptcinfo(picture) or {}
    for name, where in _XMP:
        for text in _named(xmp, name):
            yield PictureText(collapse(text), where)
    for key, where in _IPTC:
        value: Any = iptc.get(key)
        if isinstance(value, bytes):
            yield PictureText(collapse(value.decode("utf-8", "replace")), where)


def _named(tree: Any, name: str) -> Iterator[str]:
    """Yield the texts of a name in what Pillow makes of XMP: strings, or alternatives by
    language."""
    if isinstance(tree, list):
        for one in tree:
            yield from _named(one, name)
    elif isinstance(tree, dict):
        for key, value in tree.items():
            if key == name:
                yield from _texts(value)
            else:
                yield from _named(value, name)


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, list):
        for one in value:
            yield from _texts(one)
    elif isinstance(value, dict):
        inner = value.get("Alt") or value.get("li") or value.get("text")
        if inner is not None:
            yield from _texts(inner)
