"""What is found in a text a moment after it was changed: the part around the change is read anew,
everything else is what the last whole reading found, moved along.

The part is read by itself, as it was and as it is: what was found of it by itself and not on the
page hangs on the page, and so does what was found on the page only. The first is left out, the
second stays, until the whole is read.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

from plumrake.core.mending.source_page import Span
from plumrake.lsp.written import Found, WrittenText

_BLOCK = 65_536
_LONGEST = 20_000
"""Characters of a part that is read at once."""


@dataclass(frozen=True, slots=True)
class Change:
    """A text's change as one span: where it begins, where it ended before, where it ends now."""

    start: int
    before: int
    after: int

    @property
    def longer_by(self) -> int:
        """How many characters there are more."""
        return self.after - self.before

    def moved(self, span: Span) -> Span:
        """Return where a span is after the change; what was changed within belongs to it."""
        return self._moved(span[0], at_end=False), self._moved(span[1], at_end=True)

    def _moved(self, offset: int, *, at_end: bool) -> int:
        stays = at_end or self.start < self.before
        if offset < self.start or (offset == self.start and stays):
            return offset
        if offset >= self.before:
            return offset + self.longer_by
        return self.after if at_end else self.start


def change_of(before: str, after: str) -> Change:
    """Return the least change that makes one text of another."""
    least = min(len(before), len(after))
    start = _common(least, lambda at, to: before[at:to] == after[at:to])
    end = _common(
        least - start,
        lambda at, to: (
            before[len(before) - to : len(before) - at] == after[len(after) - to : len(after) - at]
        ),
    )
    return Change(start, len(before) - end, len(after) - end)


def _common(most: int, alike: Callable[[int, int], bool]) -> int:
    """Return how many characters are alike from one end on: block by block, then by halves."""
    low = 0
    while low + _BLOCK <= most and alike(low, low + _BLOCK):
        low += _BLOCK
    start, high = low, min(low + _BLOCK, most)
    while low < high:
        middle = (low + high + 1) // 2
        if alike(start, middle):
            low = middle
        else:
            high = middle - 1
    return low


def found_nearby(last: WrittenText, text: str) -> tuple[Found, ...]:
    """Return what is found in a text, of which ``last`` was read before it was changed."""
    change = change_of(last.text, text)
    part = last.part_around((change.start, change.before), longest=_LONGEST)
    moved = [
        Found(one.finding, change.moved(one.span))
        for one in last.found
        if part is None or not _within(one.span, part)
    ]
    if part is not None:
        moved += _of_the_part(last, text, part, change)
    return tuple(sorted(moved, key=lambda one: one.span))


def _within(span: Span, part: Span) -> bool:
    return part[0] <= span[0] and span[1] <= part[1]


def _of_the_part(last: WrittenText, text: str, part: Span, change: Change) -> list[Found]:
    after = part[0], part[1] + change.longer_by
    then = last.part_as_it_is(part)
    now = last.part(text[slice(*after)], part[0])
    if not now.is_one_element:  # the change reaches beyond it, until the rest is typed
        return [
            Found(one.finding, change.moved(one.span))
            for one in last.found
            if _within(one.span, part)
        ]
    by_itself = Counter(_known(one, part[0]) for one in then.found)
    on_the_page = [one for one in last.found if _within(one.span, part)]
    found = [
        Found(one.finding, change.moved(one.span))
        for one in on_the_page
        if not by_itself[_known(one)]
    ]
    only_by_itself = Counter((one.finding.check, one.finding.says) for one in then.found)
    only_by_itself.subtract((one.finding.check, one.finding.says) for one in on_the_page)
    for one in now.found:
        known = one.finding.check, one.finding.says
        if only_by_itself[known] > 0:
            only_by_itself[known] -= 1
            continue
        found.append(Found(one.finding, (one.span[0] + part[0], one.span[1] + part[0])))
    return found


def _known(found: Found, moved: int = 0) -> tuple[str, str, int]:
    return found.finding.check, found.finding.says, found.span[0] + moved
