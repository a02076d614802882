"""Reviews: which pages people are asked about, how long an answer holds, and what changed where it
lapsed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final, Literal

from plumrake.core.journeys import is_state
from plumrake.core.questions.question import Lapses, Question, questions
from plumrake.core.shown_rows import Row, called, known
from plumrake.path_patterns import matches

Answer = Literal["fine", "fault", "does-not-apply"]
_HOLDS: Final[dict[Lapses, timedelta | None]] = {
    "change": None,
    "half-year": timedelta(days=183),
    "year": timedelta(days=366),
}
_ALIKE = 0.6
"""Pages are built alike that share so much of their builds."""
_MOST_TEMPLATES = 25
_OF_EACH = 2
_KINDS = {"media": "films or recordings", "forms": "forms", "tables": "tables"}
_MOST_NAMED = 5


def is_too_old(question: Question, answered_at: datetime, now: datetime) -> bool:
    """Tell whether an answer has lapsed by its age alone."""
    holds = _HOLDS[question.lapses]
    return holds is not None and answered_at + holds < now


@dataclass(frozen=True, slots=True)
class PageToReview:
    """A page as the sample is chosen from: its number, its path, the builds on it, and the kinds of
    evidence that it has."""

    page: int
    path: str
    builds: frozenset[str]
    kinds: frozenset[str]


def sample_of(pages: Sequence[PageToReview], visited: Sequence[str]) -> dict[int, tuple[str, ...]]:
    """Return the pages that people are asked about, by number, with the reasons: those of the paths
    ``visited`` most, every state of a journey, one page for each way of building pages, and pages
    with films, forms and tables."""
    found: dict[int, list[str]] = {}
    for page in pages:
        if any(matches(pattern, page.path) for pattern in visited):
            found.setdefault(page.page, []).append("often visited")
        if is_state(page.path):
            found.setdefault(page.page, []).append("part of a journey")
    ordinary = [page for page in pages if not is_state(page.path)]
    ordinary.sort(key=lambda page: page.path)
    for members in _built_alike(ordinary)[:_MOST_TEMPLATES]:
        best = min(members, key=lambda one: (one.page not in found, -len(one.kinds), one.path))
        more = len(members) - 1
        says = f"built as {more:,} other page{'s' * (more != 1)}" if more else "built as no other"
        found.setdefault(best.page, []).append(says)
    for kind, says in _KINDS.items():
        having = [page for page in ordinary if kind in page.kinds]
        having.sort(key=lambda page: (page.page not in found, -len(page.kinds), page.path))
        for page in having[:_OF_EACH]:
            found.setdefault(page.page, []).append(f"has {says}")
    return {page: tuple(because) for page, because in found.items()}


def _built_alike(pages: Sequence[PageToReview]) -> list[list[PageToReview]]:
    """Return the pages by how they are built, the largest group first."""
    groups: list[list[PageToReview]] = []
    same: dict[frozenset[str], list[PageToReview]] = {}
    for page in pages:
        group = same.get(page.builds)
        if group is None:
            group = next((one for one in groups if _alike(one[0], page)), None)
            if group is None:
                group = []
                groups.append(group)
            same[page.builds] = group
        group.append(page)
    return sorted(groups, key=len, reverse=True)


def _alike(one: PageToReview, other: PageToReview) -> bool:
    shared = len(one.builds & other.builds)
    return shared >= _ALIKE * (len(one.builds) + len(other.builds) - shared)


def asked_of(kinds: Iterable[str], about: Literal["page", "site"] = "page") -> list[Question]:
    """Return the questions that are asked where there is evidence of these kinds, in their
    order."""
    there = frozenset(kinds)
    return [one for one in questions().values() if one.about == about and one.evidence in there]


@dataclass(frozen=True, slots=True)
class Changed:
    """What evidence has more than before, and less, each by what it is called; of many the
    first."""

    more: tuple[str, ...]
    less: tuple[str, ...]


def what_changed(before: Sequence[Row], after: Sequence[Row]) -> Changed:
    """Return what changed from one showing of evidence to another."""
    had, has = (Counter(map(_said, rows)) for rows in (before, after))
    return Changed(_named(has - had), _named(had - has))


def _named(rows: Mapping[str, int]) -> tuple[str, ...]:
    return tuple(list(dict.fromkeys(rows))[:_MOST_NAMED])


def _said(row: Row) -> str:
    says = known(row)
    named = called(says)
    rest = [
        f"{name} {value}"
        for name, value in says.items()
        if isinstance(value, str | int) and str(value) != named and value != "" and name != "hash"
    ]
    return f"“{named}” ({', '.join(rest)})" if named and rest else named or ", ".join(rest)
