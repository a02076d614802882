"""Paths in which ``*`` stands for anything, of people's own rules and of robots.txt; for the core
and for the models of the wire alike.

Each piece between two stars is looked for once, from where the last one ended: nothing is ever
tried again, however many stars there are.
"""

from __future__ import annotations

import re

MOST_STARS = 10
MOST_LETTERS = 1_000


def what_is_wrong_with(pattern: str) -> str | None:
    """Return what keeps a pattern from being taken, as the end of a sentence that begins with it;
    None where nothing does."""
    if not pattern.startswith(("/", "*")):
        return (
            f"'{pattern}' is no pattern of paths; write one that begins with / or *, such as "
            "/author/*"
        )
    if len(pattern) > MOST_LETTERS:
        return f"has {len(pattern):,} letters; a pattern of paths may have {MOST_LETTERS:,}"
    if pattern.count("*") > MOST_STARS:
        return f"'{pattern[:80]}' has {pattern.count('*')} stars; {MOST_STARS} may stand in one"
    return None


def matches(pattern: str, path: str) -> bool:
    """Tell whether a path belongs to a pattern in which ``*`` stands for anything."""
    first, *rest = pattern.split("*")
    if not rest:
        return path == pattern
    *middle, last = rest
    at, end = len(first), len(path) - len(last)
    if end < at or not path.startswith(first) or not path.endswith(last):
        return False
    for piece in middle:
        found = path.find(piece, at, end)
        if found < 0:
            return False
        at = found + len(piece)
    return True


def as_like(pattern: str) -> str:
    r"""Return a pattern as SQL's LIKE has it (escaped by ``\``), matching what ``matches`` does."""
    return "%".join(re.sub(r"([\\%_])", r"\\\1", piece) for piece in pattern.split("*"))
