"""Answers of three kinds: yes, no, and cannot be told (None)."""

from __future__ import annotations

from collections.abc import Iterable

Answer = bool | None


def all_of(answers: Iterable[Answer]) -> Answer:
    """Return whether all hold; one that cannot be told leaves it open, unless another is no."""
    told: Answer = True
    for answer in answers:
        if answer is False:
            return False
        if answer is None:
            told = None
    return told


def any_of(answers: Iterable[Answer]) -> Answer:
    """Return whether one holds; one that cannot be told leaves it open, unless another is yes."""
    told: Answer = False
    for answer in answers:
        if answer:
            return True
        if answer is None:
            told = None
    return told


def opposite(answer: Answer) -> Answer:
    """Return the opposite; what cannot be told stays so."""
    return None if answer is None else not answer
