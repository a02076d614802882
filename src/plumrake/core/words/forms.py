"""The forms of a word: what it may be an inflected form of, and what one slip of the pen makes of
it."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import lru_cache

from plumrake.core.words import table


@lru_cache(maxsize=256)
def _extra(name: str, language: str) -> frozenset[str]:
    return frozenset(table("spelling").get(name, {}).get(language, ()))


def is_known(word: str, language: str, knows: Callable[[str], bool]) -> bool:
    """Tell whether ``knows`` takes a word as it is, without its 's, or all the parts that its
    hyphens (and elisions) join."""
    primary = language.partition("-")[0]
    small = word.casefold()
    if small in _extra("words", primary) or knows(word):
        return True
    for ending in ("'s", "'"):
        if word.endswith(ending) and is_known(word.removesuffix(ending), language, knows):
            return True
    joints = "-'" if "'" in word and primary in table("spelling")["eliding"] else "-"
    parts = re.split(f"[{joints}]", word)
    return len(parts) > 1 and all(
        len(part) < 2
        or part.casefold() in _extra("prefixes", primary)
        or is_known(part, language, knows)
        for part in parts
    )


def slips_of(word: str) -> Iterator[str]:
    """Yield what a word would be without one slip of the pen: a letter more, less or other, or two
    changed over."""
    small = word.casefold()
    letters = sorted(set("abcdefghijklmnopqrstuvwxyz") | set(small))
    for at in range(len(small) + 1):
        head, tail = small[:at], small[at:]
        if tail:
            yield head + tail[1:]
            yield from (head + letter + tail[1:] for letter in letters)
        if len(tail) > 1:
            yield head + tail[1] + tail[0] + tail[2:]
        yield from (head + letter + tail for letter in letters)


def stems_of(word: str, language: str) -> Iterator[str]:
    """Yield a word and what it may be an inflected form of."""
    yield word
    for ending, instead in table("spelling")["endings"].get(language.partition("-")[0], ()):
        if word.endswith(ending) and len(word) > len(ending) + 2:
            yield word.removesuffix(ending) + instead
