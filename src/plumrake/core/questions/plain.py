"""What makes a text hard to read: long sentences, and abbreviations that nothing explains."""

from __future__ import annotations

import re
from collections.abc import Iterator

_LONG = 25
"""Words of a sentence from which on it is shown."""
_WORD = re.compile(r"\w+(?:[-'’]\w+)*")
_CAPITALS = "[A-ZÄÖÜ]{2,6}"
_SHORT_FORM = re.compile(rf"\b{_CAPITALS}\b")
_BESIDE_BRACKETS = (re.compile(rf"\(({_CAPITALS})\)"), re.compile(rf"\b({_CAPITALS})\s+\("))


def words_in(sentence: str) -> int:
    """Return how many words a sentence has."""
    return sum(1 for _ in _WORD.finditer(sentence))


def is_long(sentence: str) -> bool:
    """Tell whether a sentence has so many words that it should be looked at."""
    return words_in(sentence) >= _LONG


def unexplained(text: str, explained: frozenset[str]) -> Iterator[str]:
    """Yield, each once, the abbreviations of capitals of a text that stand neither in ``abbr`` with
    a title (``explained``) nor beside brackets: “the CRT (Canal and River Trust)”."""
    seen = set(explained).union(*(pattern.findall(text) for pattern in _BESIDE_BRACKETS))
    for found in _SHORT_FORM.finditer(text):
        word = found.group()
        if word not in seen:
            seen.add(word)
            yield word
