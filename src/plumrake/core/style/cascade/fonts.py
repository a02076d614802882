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
_FIXED_PITCH_IN_QUIRKS = (9, 9, 10, 13, 16, 20, 26, 40)
_FIXED_SHARE = 13 / 16
_STEP = 1.2
_LEAST = 6.0


@dataclass(frozen=True, slots=True)
class Font:
    """A font size in CSS px and how it came: by which word (``""``: none), whether from an absolute
    length, whether the family is the generic ``monospace`` alone, and whether the document is in
    quirks mode."""

    size: float = 16.0
    word: str = "medium"
    is_absolute: bool = False
    is_mono: bool = False
    is_quirky: bool = False

    @property
    def shown(self) -> float:
        """The size as computed: what was not set to less by an absolute length is shown no smaller
        than 6 px."""
        is_kept = self.is_absolute and self.size < _LEAST
        return self.size if self.size == 0 or is_kept else max(_LEAST, self.size)


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
        return replace(font, size=_of_word(word, font), word=word, is_absolute=False)
    if text in ("smaller", "larger"):
        size = parent.size * _STEP if text == "larger" else parent.size / _STEP
        return _handed_down(font, replace(parent, size=size, word=""))
    found = amount(text, replace(sizes, whole=parent.size))
    size = max(0.0, found.px)
    if "(" not in text and text.endswith(("em", "%")) and not text.endswith("rem"):
        return _handed_down(font, replace(parent, size=size, word=""))
    return replace(font, size=size, word="", is_absolute=True)


def _handed_down(font: Font, source: Font) -> Font:
    """Return the size as it comes down: between fixed pitch and others it is scaled, unless it was
    set as an absolute length."""
    if source.is_absolute or source.is_mono == font.is_mono:
        return replace(source, is_mono=font.is_mono)
    if source.word:
        size = _of_word(source.word, font)
    else:
        size = source.size * _FIXED_SHARE if font.is_mono else source.size / _FIXED_SHARE
    return replace(font, size=size, word=source.word, is_absolute=False)


def _of_word(word: str, font: Font) -> float:
    sizes = _PROPORTIONAL
    if font.is_mono:
        sizes = _FIXED_PITCH_IN_QUIRKS if font.is_quirky else _FIXED_PITCH
    return float(sizes[_WORDS.index(word)])


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
