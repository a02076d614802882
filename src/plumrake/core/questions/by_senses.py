"""Sentences that point at something by colour, shape or place alone (WCAG 2.2, 1.3.3 and 1.4.1),
for people to look at."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

from plumrake.core.words import table

_SENTENCE_ENDS = re.compile(r"(?<=[.!?…:])\s+")
_LONGEST = 2_000


def sentences_of(text: str) -> Iterator[str]:
    """Yield the sentences of a block of text."""
    for one in _SENTENCE_ENDS.split(text[:_LONGEST]):
        if one.strip():
            yield one.strip()


def points_by_senses(sentence: str, language: str) -> bool:
    """Tell whether a sentence points at something by colour, shape or place."""
    pattern = _pattern(language.lower().partition("-")[0])
    return pattern is not None and pattern.search(sentence.casefold()) is not None


@lru_cache(maxsize=64)
def _pattern(language: str) -> re.Pattern[str] | None:
    words = table("by_senses").get(language)
    if words is None:
        return None
    looks = _any([*words["colours"], *words["shapes"]])
    pointing = rf"{looks}(?:[ ,]+\w+){{0,2}} +{_any(words['things'])}"
    coloured = rf"{_any(words['colour_alone'])} +{_any(words['colours'])}"
    return re.compile(rf"\b(?:{pointing}|{coloured}|{_any(words['places'])})\b")


def _any(words: list[str]) -> str:
    return f"(?:{'|'.join(map(re.escape, sorted(words, key=len, reverse=True)))})"
