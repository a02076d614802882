"""Several drafts of one source: each keeps its edits of the source as it was read, and all of them
are applied at once."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from plumrake.core.mending.edits import Edit, Moved, ordered


def after_others(edits: Iterable[Edit], others: Sequence[Edit]) -> tuple[Edit, ...]:
    """Return edits of a text as edits of what ``others`` make of it; none of them contradict each
    other."""
    moved = Moved(others)
    return tuple(
        replace(
            edit,
            start=moved.after(edit.start),
            end=moved.after(edit.start) + edit.end - edit.start,
        )
        for edit in edits
    )


def undone(edits: Sequence[Edit], wanted: Sequence[Edit]) -> tuple[Edit, ...]:
    """Return the edits of what ``edits`` make of a text that take the ``wanted`` of them back."""
    shift = 0
    back: list[Edit] = []
    for edit in ordered(edits):
        start = edit.start + shift
        if edit in wanted:
            back.append(Edit(start, start + len(edit.text), edit.before, edit.text))
        shift += len(edit.text) - (edit.end - edit.start)
    return tuple(back)


def through(edits: Iterable[Edit], later: Sequence[Edit]) -> tuple[Edit, ...] | None:
    """Return edits of a text as edits of what ``later`` made of it; None where one of those changed
    what they replace."""
    moved = Moved(later)
    kept: list[Edit] = []
    for edit in edits:
        for other in later:
            touches = (
                other.start < edit.end and edit.start < other.end
                if other.end > other.start
                else edit.start < other.start < edit.end
            )
            if touches:
                return None
        start = moved.after(edit.start)
        kept.append(replace(edit, start=start, end=start + edit.end - edit.start))
    return tuple(kept)


def net_edit(before: str, after: str) -> tuple[Edit, ...]:
    """Return the one edit that leads from a text to another: all between what they have in common
    at both ends; none where they are alike."""
    if before == after:
        return ()
    most = min(len(before), len(after))
    start = next((at for at in range(most) if before[at] != after[at]), most)
    most -= start
    end = next((at for at in range(most) if before[-1 - at] != after[-1 - at]), most)
    old_end, new_end = len(before) - end, len(after) - end
    return (Edit(start, old_end, after[start:new_end], before[start:old_end]),)
