"""Which criteria of WCAG are told about by checks, which by people's answers, and which by
neither."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from plumrake.core.criteria import CRITERIA, Criterion, LevelName, StandardName, within
from plumrake.core.questions.question import Question, questions
from plumrake.core.registry import Check, catalogue


@dataclass(frozen=True, slots=True)
class Covered:
    """A criterion with the checks and the questions that tell about it."""

    criterion: Criterion
    checks: tuple[Check, ...]
    questions: tuple[Question, ...]


def coverage(standard: StandardName = "wcag22", level: LevelName = "aa") -> Iterator[Covered]:
    """Yield the criteria of a standard up to a level, in their order."""
    for number, criterion in CRITERIA.items():
        if within(number, standard, level):
            yield Covered(
                criterion,
                tuple(one for one in catalogue().values() if number in one.criteria),
                tuple(one for one in questions().values() if number in one.criteria),
            )
