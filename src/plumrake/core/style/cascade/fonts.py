"""The size and weight of fonts (CSS Fonts 4), with the browser's smaller size for fixed pitch."""

from __future__ import annotations

from dataclasses import dataclass, replace

from plumrake.core.style.cascade.lengths import Sizes, amount
from plumrake.core.style.cascade.properties import tokens_of

_WORDS = (
    "xx-small",
    "x-small",
    "small",
    "medium",
    "large",
    "x-large",
    "xx-large",
    "xxx-large",
)
_PROPORTIONAL = (9, 10, 13, 16, 18, 24, 32, 48)
_FIXED_PITCH = (9, 10, 12, 13, 16, 20, 26, 39)
_FIXED_SHARE = 13 / 16
_STEP = 1.2


@dataclass(frozen=True, slots=True)
class Font:
    """A font size in CSS px and how it came: by which word (``""``: none), whether from an absolute
    length, and whether the family is the generic ``monospace`` alone."""

    size: float = 16.0
    word: str = "medium"
    is_absolute: bool = False
    is_mono: bool = False


FONT_OF_ROOT = Font()


def is_mono(family: str) -> bool:
    """Tell whether a font family is ``monospace`` alone: browsers set it smaller."""
    tokens = tokens_of(family)
    return len(tokens) == 1 and tokens[0].type == "ident" and tokens[0].lower_value == "monospace"


def font_size(text: str | None, font: Font, parent: Font, sizes: Sizes) -> Font:
    """Return the font with the size that a value gives; None inherits. Raises ``NotANumber`` or
    ``CannotTell``."""
    if text is None or text == "math":
        return _handed_down(font, parent)
    word = text.removeprefix("-webkit-")
    if word in _WORDS:
        return Font(_of_word(word, is_mono=font.is_mono), word, False, font.is_mono)
    if text in ("smaller", "larger"):
        size = parent.size * _STEP if text == "larger" else parent.size / _STEP
        relative = Font(size, "", parent.is_absolute, parent.is_mono)
        return _handed_down(replace(font), relative)
    found = amount(text, sizes)
    size = max(0.0, found.of(parent.size))
    if "em" in text.replace("rem", "") or "%" in text:
        relative = Font(size, "", parent.is_absolute, parent.is_mono)
        return _handed_down(font, relative)
    return Font(size, "", True, font.is_mono)


def _handed_down(font: Font, source: Font) -> Font:
    """Return the size as it comes down: between fixed pitch and others it is scaled, unless it was
    set as an absolute length."""
    if source.is_absolute or source.is_mono == font.is_mono:
        return replace(source, is_mono=font.is_mono)
    if source.word:
        size = _of_word(source.word, is_mono=font.is_mono)
    else:
        size = source.size * _FIXED_SHARE if font.is_mono else source.size / _FIXED_SHARE
    return Font(size, source.word, False, font.is_mono)


def _of_word(word: str, *, is_mono: bool) -> float:
    return float((_FIXED_PITCH if is_mono else _PROPORTIONAL)[_WORDS.index(word)])


def font_weight(text: str, parent: str) -> str:
    """Return a weight as a number (CSS Fonts 4, 2.2); ``bolder`` and ``lighter`` hang on the
    parent's."""
    named = {"normal": "400", "bold": "700"}.get(text)
    if named is not None:
        return named
    above = float(parent)
    if text == "bolder":
        return f"{400 if above < 350 else 700 if above < 550 else max(900, above):g}"
    if text == "lighter":
        return f"{min(above, 100) if above < 550 else 400 if above < 750 else 700:g}"
    return f"{amount(text, Sizes()).number:g}"
