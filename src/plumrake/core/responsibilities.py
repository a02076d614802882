"""Areas of responsibility of a site: who answers for which pages. The most specific pattern wins;
what the template prints is its owner's."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from plumrake.path_patterns import matches

TEMPLATE = "template"
"""The pattern of the area of responsibility that holds what a template prints, on whatever page it
shows."""


@dataclass(frozen=True, slots=True)
class Responsibility:
    """A pattern (a path in which ``*`` stands for anything, or ``template``) and the number of its
    owner."""

    pattern: str
    owner: int


def responsibility_for(path: str, areas: Iterable[Responsibility]) -> Responsibility | None:
    """Return the area that a page belongs to: the matching pattern with the most letters beside its
    stars."""
    matching = [area for area in areas if area.pattern != TEMPLATE and matches(area.pattern, path)]
    return max(
        matching, key=lambda area: (len(area.pattern.replace("*", "")), area.pattern), default=None
    )


def owner_of(
    paths: Sequence[str], areas: Sequence[Responsibility], *, by_template: bool
) -> int | None:
    """Return who answers for a cause that shows on these pages: the template's owner, else who has
    most of the pages; None for nobody."""
    if by_template:
        owner = next((area.owner for area in areas if area.pattern == TEMPLATE), None)
        if owner is not None:
            return owner
    owners = Counter(
        area.owner for path in paths if (area := responsibility_for(path, areas)) is not None
    )
    return owners.most_common(1)[0][0] if owners else None
