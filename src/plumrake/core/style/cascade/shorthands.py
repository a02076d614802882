"""Shorthands: what each sets, and to what (CSS Cascade 5, 3.1)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any

from tinycss2 import serialize

from plumrake.core.style.cascade.paint import is_colour
from plumrake.core.style.cascade.properties import (
    PROPERTIES,
    WIDE,
    is_measure,
    is_taken,
    tokens_of,
)

Set = dict[str, str]
_SIDES = ("top", "right", "bottom", "left")
_BORDER_PARTS = ("style", "width", "color")
_BOXES = frozenset(["border-box", "padding-box", "content-box"])


class NotTaken(ValueError):
    """The value is none that a browser takes."""


SHORTHANDS: dict[str, tuple[str, ...]] = {
    "background": ("background-color", "background-image", "background-clip"),
    "font": ("font-size", "font-weight", "font-style", "font-family"),
    "border": tuple(f"border-{side}-{part}" for side in _SIDES for part in _BORDER_PARTS),
    **{
        f"border-{side}": tuple(f"border-{side}-{part}" for part in _BORDER_PARTS)
        for side in _SIDES
    },
    **{
        f"border-{part}": tuple(f"border-{side}-{part}" for side in _SIDES)
        for part in _BORDER_PARTS
    },
    "border-block": tuple(f"border-{s}-{p}" for s in ("top", "bottom") for p in _BORDER_PARTS),
    "border-inline": tuple(f"border-{s}-{p}" for s in ("left", "right") for p in _BORDER_PARTS),
    **{
        f"border-{axis}-{part}": tuple(f"border-{side}-{part}" for side in sides)
        for axis, sides in (("block", ("top", "bottom")), ("inline", ("left", "right")))
        for part in _BORDER_PARTS
    },
    "margin": tuple(f"margin-{side}" for side in _SIDES),
    "margin-block": ("margin-top", "margin-bottom"),
    "margin-inline": ("margin-left", "margin-right"),
    "inset": _SIDES,
    "inset-block": ("top", "bottom"),
    "inset-inline": ("left", "right"),
    "overflow": ("overflow-x", "overflow-y"),
    "text-decoration": ("text-decoration-line",),
    "outline": ("outline-style",),
    "animation": (
        "animation-name",
        "animation-duration",
        "animation-iteration-count",
        "animation-play-state",
    ),
    "all": tuple(PROPERTIES),
}


@lru_cache(maxsize=16384)
def expanded(name: str, text: str) -> Set:
    """Return what a shorthand sets its longhands to. Raises ``NotTaken``."""
    longhands = SHORTHANDS[name]
    word = text.strip().lower()
    if word in WIDE:
        return dict.fromkeys(longhands, word)
    if name == "all" or any(_is_wide(token) for token in tokens_of(text)):
        raise NotTaken
    found = _reader(name)(longhands, text)
    for longhand, value in found.items():
        if not is_taken(longhand, value):
            raise NotTaken
    return found


def _is_wide(token: Any) -> bool:
    """A keyword that any property takes stands alone (CSS Values 4, 4.1.1)."""
    return bool(token.type == "ident" and token.lower_value in WIDE)


def _reader(name: str) -> Callable[[tuple[str, ...], str], Set]:
    if name in _READERS:
        return _READERS[name]
    if name.startswith("border") and not name.endswith(_BORDER_PARTS):
        return _border
    return _sides


def _words(text: str) -> list[str]:
    """Return the value's component values as texts; functions whole."""
    words: list[str] = []
    for token in tokens_of(text):
        if token.type == "literal" and token.value == "/" and words:
            words.append("/")
        else:
            words.append(_text(token))
    return words


def _text(token: Any) -> str:
    written = str(serialize([token]))
    return written if token.type in ("string", "url", "function") else written.lower()


def _sides(longhands: tuple[str, ...], text: str) -> Set:
    """Read one to four values (or one to two), top first."""
    words = [word.lower() for word in _words(text)]
    if not 1 <= len(words) <= len(longhands):
        raise NotTaken
    if len(longhands) == 4:
        words = {
            1: words * 4,
            2: words * 2,
            3: [*words, words[1]] if len(words) == 3 else words,
            4: words,
        }[len(words)]
    elif len(words) == 1:
        words = words * 2
    return dict(zip(longhands, words, strict=True))


def _border(longhands: tuple[str, ...], text: str) -> Set:
    parts = {"style": "none", "width": "medium", "color": "currentcolor"}
    given: set[str] = set()
    for word in _words(text):
        part = next(
            (
                part
                for part in _BORDER_PARTS
                if part not in given and is_taken(f"border-top-{part}", word.lower())
            ),
            None,
        )
        if part is None:
            raise NotTaken
        given.add(part)
        parts[part] = word.lower()
    return {name: parts[name.rpartition("-")[2]] for name in longhands}


def _background(_longhands: tuple[str, ...], text: str) -> Set:
    layers = _layers(text)
    images: list[str] = []
    clips: list[str] = []
    colour = "transparent"
    for at, layer in enumerate(layers):
        image, clip, own = _layer(layer)
        images.append(image)
        clips.append(clip)
        if own is not None:
            if at < len(layers) - 1:
                raise NotTaken
            colour = own
    return {
        "background-color": colour,
        "background-image": ", ".join(images),
        "background-clip": ", ".join(clips),
    }


def _layers(text: str) -> list[list[Any]]:
    layers: list[list[Any]] = [[]]
    for token in tokens_of(text):
        if token.type == "literal" and token.value == ",":
            layers.append([])
        else:
            layers[-1].append(token)
    if not all(layers):
        raise NotTaken
    return layers


_POSITIONS = frozenset(
    "left right top bottom center auto cover contain repeat repeat-x repeat-y no-repeat space "
    "round scroll fixed local / border-box padding-box content-box text border-area".split()
)


def _layer(tokens: Sequence[Any]) -> tuple[str, str, str | None]:
    """Return one layer's image, clip and colour."""
    image, colour, boxes = "none", None, list[str]()
    for token in tokens:
        word = _text(token)
        if token.type == "url" or (token.type == "ident" and word == "none"):
            image = "none" if word == "none" else word
        elif word in _POSITIONS:
            boxes += [word] if word in _BOXES or word in ("text", "border-area") else []
        elif is_colour(word.lower() if token.type != "function" else word):
            if colour is not None:
                raise NotTaken
            colour = word.lower()
        elif token.type == "function" and is_taken("background-image", word):
            image = word
        elif not is_measure(word, "length", "percentage"):
            raise NotTaken
    return image, boxes[-1] if boxes else "border-box", colour


_FONT_WORDS = frozenset(
    "normal small-caps ultra-condensed extra-condensed condensed semi-condensed semi-expanded "
    "expanded extra-expanded ultra-expanded".split()
)
_SYSTEM_FONTS = frozenset(
    "caption icon menu message-box small-caption status-bar -webkit-mini-control "
    "-webkit-small-control -webkit-control".split()
)
_CONTROL_SIZE = "13.333333px"


def _font(_longhands: tuple[str, ...], text: str) -> Set:
    words = _words(text)
    if len(words) == 1 and words[0].lower() in _SYSTEM_FONTS:
        return {
            "font-size": _CONTROL_SIZE if "control" in words[0] else "16px",
            "font-weight": "normal",
            "font-style": "normal",
            "font-family": "system-ui",
        }
    found = {"font-weight": "normal", "font-style": "normal"}
    for at, word in enumerate(words):
        lowered = word.lower()
        if lowered in _FONT_WORDS:
            continue
        if lowered in ("italic", "oblique"):
            found["font-style"] = lowered
        elif is_taken("font-weight", lowered):
            found["font-weight"] = lowered
        elif is_taken("font-size", lowered):
            family = words[at + 1 :]
            family = family[2:] if family[:1] == ["/"] else family
            if not family:
                raise NotTaken
            return {**found, "font-size": lowered, "font-family": " ".join(family)}
        elif not lowered.endswith("deg"):
            raise NotTaken
    raise NotTaken


def _decoration(_longhands: tuple[str, ...], text: str) -> Set:
    words = [word.lower() for word in _words(text)]
    lines = [word for word in words if is_taken("text-decoration-line", word)]
    for word in words:
        if (
            word not in lines
            and word not in ("solid", "double", "dotted", "dashed", "wavy", "auto", "from-font")
            and not is_colour(word)
            and not is_measure(word, "length", "percentage")
        ):
            raise NotTaken
    return {"text-decoration-line": " ".join(lines) or "none"}


def _outline(_longhands: tuple[str, ...], text: str) -> Set:
    styles = [word for word in _words(text.lower()) if is_taken("outline-style", word)]
    return {"outline-style": styles[0] if styles else "none"}


_TIMING = frozenset(
    "ease linear ease-in ease-out ease-in-out step-start step-end normal reverse alternate "
    "alternate-reverse none forwards backwards both replace add accumulate".split()
)


def _animation(longhands: tuple[str, ...], text: str) -> Set:
    rows = [_one_animation(layer) for layer in _layers(text)]
    return {name: ", ".join(row[at] for row in rows) for at, name in enumerate(longhands)}


def _one_animation(tokens: Sequence[Any]) -> tuple[str, str, str, str]:
    name, times, count, state = "none", list[str](), "1", "running"
    for token in tokens:
        word = _text(token)
        lowered = word.lower()
        if token.type == "dimension" and token.lower_unit in ("s", "ms"):
            seconds = token.value / (1000 if token.lower_unit == "ms" else 1)
            times.append(f"{seconds:g}s")
        elif token.type == "number" or lowered == "infinite":
            count = lowered
        elif lowered in ("running", "paused"):
            state = lowered
        elif lowered not in _TIMING and token.type in ("ident", "string"):
            name = str(token.value)
    return name, times[0] if times else "0s", count, state


_READERS: dict[str, Callable[[tuple[str, ...], str], Set]] = {
    "background": _background,
    "font": _font,
    "text-decoration": _decoration,
    "outline": _outline,
    "animation": _animation,
}
