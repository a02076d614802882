"""Parts of a site: who answers for which pages. The most specific pattern wins; what the template prints is its owner's."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

TEMPLATE = "template"
"""The pattern of the part that holds what a template prints, on whatever page it shows."""


@dataclass(frozen=True, slots=True)
class Part:
    """A pattern (a path in which ``*`` stands for anything, or ``template``) and the number of its owner."""

    pattern: str
    owner: int


def part_of(path: str, parts: Iterable[Part]) -> Part | None:
    """Return the part that a page belongs to: the matching pattern with the most letters beside its stars."""
    matching = [part for part in parts if part.pattern != TEMPLATE and matches(part.pattern, path)]
    return max(matching, key=lambda part: (len(part.pattern.replace("*", "")), part.pattern), default=None)


def owner_of(paths: Sequence[str], parts: Sequence[Part], *, by_template: bool) -> int | None:
    """Return who answers for a cause that shows on these pages: the template's owner, else who has most of the pages; None for nobody."""
    if by_template:
        owner = next((part.owner for part in parts if part.pattern == TEMPLATE), None)
        if owner is not None:
            return owner
    owners = Counter(part.owner for path in paths if (part := part_of(path, parts)) is not None)
    return owners.most_common(1)[0][0] if owners else None


def matches(pattern: str, path: str) -> bool:
    """Tell whether a path belongs to a pattern in which ``*`` stands for anything."""
    return _compiled(pattern).fullmatch(path) is not None


@lru_cache(maxsize=4096)
def _compiled(pattern: str) -> re.Pattern[str]:
    return re.compile(".*".join(map(re.escape, pattern.split("*"))), re.DOTALL)
