"""Success criteria of WCAG 2.2: all at levels A and AA, and those at AAA that checks refer to, with
number, name, level and the version that brought them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args


@dataclass(frozen=True, slots=True)
class Criterion:
    """A success criterion; ``since`` is the WCAG version that brought it, ``level`` is A, AA or
    AAA."""

    number: str
    level: str
    since: str
    name: str


StandardName = Literal["wcag20", "wcag21", "wcag22"]
LevelName = Literal["a", "aa", "aaa"]
STANDARDS: dict[str, str] = {"wcag20": "2.0", "wcag21": "2.1", "wcag22": "2.2"}
LEVELS: tuple[str, ...] = get_args(LevelName)

_ROWS = """
1.1.1 A 2.0 Non-text Content
1.2.1 A 2.0 Audio-only and Video-only (Prerecorded)
1.2.2 A 2.0 Captions (Prerecorded)
1.2.3 A 2.0 Audio Description or Media Alternative (Prerecorded)
1.2.4 AA 2.0 Captions (Live)
1.2.5 AA 2.0 Audio Description (Prerecorded)
1.3.1 A 2.0 Info and Relationships
1.3.2 A 2.0 Meaningful Sequence
1.3.3 A 2.0 Sensory Characteristics
1.3.4 AA 2.1 Orientation
1.3.5 AA 2.1 Identify Input Purpose
1.3.6 AAA 2.1 Identify Purpose
1.4.1 A 2.0 Use of Color
1.4.2 A 2.0 Audio Control
1.4.3 AA 2.0 Contrast (Minimum)
1.4.4 AA 2.0 Resize Text
1.4.5 AA 2.0 Images of Text
1.4.6 AAA 2.0 Contrast (Enhanced)
1.4.8 AAA 2.0 Visual Presentation
1.4.9 AAA 2.0 Images of Text (No Exception)
1.4.10 AA 2.1 Reflow
1.4.11 AA 2.1 Non-text Contrast
1.4.12 AA 2.1 Text Spacing
1.4.13 AA 2.1 Content on Hover or Focus
2.1.1 A 2.0 Keyboard
2.1.2 A 2.0 No Keyboard Trap
2.1.3 AAA 2.0 Keyboard (No Exception)
2.1.4 A 2.1 Character Key Shortcuts
2.2.1 A 2.0 Timing Adjustable
2.2.2 A 2.0 Pause, Stop, Hide
2.3.1 A 2.0 Three Flashes or Below Threshold
2.4.1 A 2.0 Bypass Blocks
2.4.2 A 2.0 Page Titled
2.4.3 A 2.0 Focus Order
2.4.4 A 2.0 Link Purpose (In Context)
2.4.5 AA 2.0 Multiple Ways
2.4.6 AA 2.0 Headings and Labels
2.4.7 AA 2.0 Focus Visible
2.4.8 AAA 2.0 Location
2.4.9 AAA 2.0 Link Purpose (Link Only)
2.4.10 AAA 2.0 Section Headings
2.4.11 AA 2.2 Focus Not Obscured (Minimum)
2.5.1 A 2.1 Pointer Gestures
2.5.2 A 2.1 Pointer Cancellation
2.5.3 A 2.1 Label in Name
2.5.4 A 2.1 Motion Actuation
2.5.5 AAA 2.1 Target Size (Enhanced)
2.5.7 AA 2.2 Dragging Movements
2.5.8 AA 2.2 Target Size (Minimum)
3.1.1 A 2.0 Language of Page
3.1.2 AA 2.0 Language of Parts
3.1.3 AAA 2.0 Unusual Words
3.1.5 AAA 2.0 Reading Level
3.2.1 A 2.0 On Focus
3.2.2 A 2.0 On Input
3.2.3 AA 2.0 Consistent Navigation
3.2.4 AA 2.0 Consistent Identification
3.2.6 A 2.2 Consistent Help
3.3.1 A 2.0 Error Identification
3.3.2 A 2.0 Labels or Instructions
3.3.3 AA 2.0 Error Suggestion
3.3.4 AA 2.0 Error Prevention (Legal, Financial, Data)
3.3.7 A 2.2 Redundant Entry
3.3.8 AA 2.2 Accessible Authentication (Minimum)
4.1.2 A 2.0 Name, Role, Value
4.1.3 AA 2.1 Status Messages
"""

CRITERIA: dict[str, Criterion] = {
    number: Criterion(number, level, since, name)
    for number, level, since, name in (row.split(" ", 3) for row in _ROWS.strip().splitlines())
}


def within(number: str, standard: str, level: str) -> bool:
    """Tell whether a criterion belongs to the target: brought by that version or before, at that
    level or a lower one."""
    criterion = CRITERIA[number]
    return criterion.since <= STANDARDS[standard] and LEVELS.index(
        criterion.level.lower()
    ) <= LEVELS.index(level)
