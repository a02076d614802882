"""What a mend did: the findings of a page before and after, compared place by place.

A mend counts if what it was made for is gone and nothing new has come. A finding is known by its
check, its message and where its element is written, which edits move along; what stands in text
that an edit brought is always new.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from plumrake.core.findings import Finding
from plumrake.core.html_source import Lines
from plumrake.core.mending.edits import Edit, Moved, applied

_OF_PLACES = frozenset(["page/outside-regions"])
"""Checks that find fault with where a thing stands: a text that is written there is not in a worse
place than the empty element was."""
WRITING = frozenset(
    ["set-attribute", "replace-text", "insert", "unhide", "name-as-picture", "say-with-text"]
)
"""Kinds of mends that write something, and leave elements what they are."""


@dataclass(frozen=True, slots=True)
class Effect:
    """``left`` are findings that were to go and are still there, ``brought`` those that were not
    there before, ``gone`` those that went."""

    left: tuple[Finding, ...]
    brought: tuple[Finding, ...]
    gone: tuple[Finding, ...]

    @property
    def counts(self) -> bool:
        """Whether the mend may be made."""
        return not self.left and not self.brought

    @property
    def says(self) -> str:
        """Why it may not, as a sentence; ``""`` where it may."""
        if self.left:
            return f"the fault would still be there: {self.left[0].says}"
        if self.brought:
            more = len(self.brought) - 1
            rest = f", and {more} more" if more else ""
            return f"it would bring another fault: {self.brought[0].says}{rest}"
        return ""


def effect_of(
    text: str,
    edits: Iterable[Edit],
    before: Iterable[Finding],
    after: Iterable[Finding],
    wanted: Iterable[Finding],
    *,
    writes_only: bool,
) -> Effect:
    """Return what edits of a text did to its findings. ``wanted``, of those before, are to go;
    ``writes_only``: the mends are of the kinds that write something."""
    edits, before, after = tuple(edits), tuple(before), tuple(after)
    moved = Moved(edits)
    old_lines, new_lines = Lines(text), Lines(applied(text, edits))
    had = Counter(_key(finding, _place(finding, old_lines)) for finding in before)
    aims = Counter(_key(finding, _place(finding, old_lines)) for finding in wanted)
    left: list[Finding] = []
    brought: list[Finding] = []
    have: Counter[tuple[object, ...]] = Counter()
    for finding in after:
        place = _place(finding, new_lines)
        origin = moved.before(place) if place is not None else None
        key = _key(finding, origin)
        have[key] += 1
        if finding.check in _OF_PLACES and writes_only:
            continue
        if place is not None and origin is None:
            brought.append(finding)
        elif have[key] > had[key] - aims[key]:
            (left if key in aims else brought).append(finding)
    gone = tuple(
        finding for finding in before if not have[_key(finding, _place(finding, old_lines))]
    )
    return Effect(tuple(left), tuple(brought), gone)


def _place(finding: Finding, lines: Lines) -> int | None:
    if finding.line is None or finding.column is None or finding.line > lines.count:
        return None
    return lines.offset(finding.line, finding.column)


def _key(finding: Finding, place: int | None) -> tuple[object, ...]:
    if place is None:
        return finding.check, finding.message, finding.selector
    return finding.check, place
