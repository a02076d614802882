"""Edits of a text: spans, and what stands there instead."""

from __future__ import annotations

import hashlib
from bisect import bisect_right
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any


@dataclass(frozen=True, slots=True)
class Edit:
    """``text`` instead of what stands from ``start`` to ``end`` (offsets in characters, the end not
    included; equal for an insertion). ``before`` is what stands there now. ``subject`` names what
    is set where a span does not tell it (an attribute that is not there yet). ``closes`` is where
    the element starts that an inserted end tag closes: of several at one place the inner is first.
    """

    start: int
    end: int
    text: str
    before: str
    subject: str = field(default="", compare=False)
    closes: int = field(default=-1, compare=False)

    @classmethod
    def of(cls, given: Mapping[str, Any]) -> Edit:
        """Return the edit that ``as_dict`` gave the fields of."""
        return cls(**given)

    def as_dict(self) -> dict[str, Any]:
        """Return the fields."""
        return {name: getattr(self, name) for name in self.__slots__}


class Contradiction(ValueError):
    """Two edits want different things of one place."""

    def __init__(self, one: Edit, other: Edit) -> None:
        super().__init__(
            f"two mends want different things of one place: “{_short(one)}” at {one.start} and "
            f"“{_short(other)}” at {other.start}"
        )
        self.one, self.other = one, other


class NotAsRead(ValueError):
    """The text is not the one that the edits were made for."""


def ordered(edits: Iterable[Edit]) -> list[Edit]:
    """Return edits in the order of their places, each once. Those at one place that insert keep
    theirs. Raises ``Contradiction``."""
    found: list[Edit] = []
    seen: dict[Edit, str] = {}
    for edit in edits:
        if edit not in seen:
            seen[edit] = edit.subject
            found.append(edit)
    found.sort(key=_order)
    for one, other in pairwise(found):
        if _contradict(one, other):
            raise Contradiction(one, other)
    subjects: dict[str, Edit] = {}
    for edit in found:
        if edit.subject and subjects.setdefault(edit.subject, edit) != edit:
            raise Contradiction(subjects[edit.subject], edit)
    return found


def _order(edit: Edit) -> tuple[int, int, bool, int]:
    return edit.start, edit.end, edit.closes < 0, -edit.closes


def _contradict(one: Edit, other: Edit) -> bool:
    if one.start == other.start and one.end == other.end:
        return one.end > one.start
    if other.start == other.end:  # an insertion within what is replaced
        return one.start < other.start < one.end
    return other.start < one.end


def applied(text: str, edits: Iterable[Edit]) -> str:
    """Return the text with all edits at once; nothing else of it changes.

    Raises ``Contradiction``, and ``NotAsRead`` where what an edit replaces is not there.
    """
    out: list[str] = []
    at = 0
    for edit in ordered(edits):
        if text[edit.start : edit.end] != edit.before:
            raise NotAsRead(
                f"at {edit.start} stands “{text[edit.start : edit.end][:40]}”, not "
                f"“{edit.before[:40]}”"
            )
        out += (text[at : edit.start], edit.text)
        at = edit.end
    return "".join([*out, text[at:]])


@dataclass(frozen=True, slots=True)
class Draft:
    """Edits made for one text, which is known by its hash, and the hash of what comes of them."""

    source_hash: str
    result_hash: str
    edits: tuple[Edit, ...]

    @classmethod
    def of(cls, text: str, edits: Iterable[Edit]) -> Draft:
        """Make the draft of edits of a text. Raises ``Contradiction``, ``NotAsRead``."""
        wanted = tuple(ordered(edits))
        return cls(hash_of_text(text), hash_of_text(applied(text, wanted)), wanted)

    def apply(self, text: str) -> str:
        """Return the text with the edits; one that has them already is returned as it is. Raises
        ``NotAsRead`` for any other text."""
        found = hash_of_text(text)
        if found == self.result_hash:
            return text
        if found != self.source_hash:
            raise NotAsRead("the source was changed since it was read")
        return applied(text, self.edits)


class Moved:
    """Where the places of a text lie after edits, and the other way round."""

    def __init__(self, edits: Iterable[Edit]) -> None:
        self._edits = ordered(edits)
        self._old = [edit.start for edit in self._edits]
        self._new: list[int] = []
        shift = 0
        for edit in self._edits:
            self._new.append(edit.start + shift)
            shift += len(edit.text) - (edit.end - edit.start)

    def before(self, place: int) -> int | None:
        """Return where a place of the changed text lay before; None for what an edit brought."""
        at = bisect_right(self._new, place) - 1
        if at < 0:
            return place
        edit, inside = self._edits[at], place - self._new[at]
        if inside >= len(edit.text):
            return edit.end + inside - len(edit.text)
        return edit.start + inside if inside < _same_start(edit) else None

    def after(self, place: int) -> int:
        """Return where a place of the text lies after the edits; within what is replaced, where its
        replacement begins."""
        at = bisect_right(self._old, place) - 1
        if at < 0:
            return place
        edit = self._edits[at]
        if place < edit.end:
            return self._new[at] + min(place - edit.start, _same_start(edit))
        return place - edit.end + self._new[at] + len(edit.text)


def hash_of_text(text: str) -> str:
    """Return what a text is known by: its SHA-256 as hex digits."""
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()


def _same_start(edit: Edit) -> int:
    """Return how many characters an edit leaves as they are at its beginning."""
    most = min(len(edit.text), len(edit.before))
    return next((at for at in range(most) if edit.text[at] != edit.before[at]), most)


def _short(edit: Edit) -> str:
    return edit.text[:40] or f"without {edit.before[:40]}"
