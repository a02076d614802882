"""What is wanted of a reading beside the document itself."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from plumrake.core.journeys import JourneyState
from plumrake.core.patterns import Part, Stand
from plumrake.core.written_patterns import Tree
from plumrake.lenses.runners import Runner
from plumrake.net.shared_files import SharedFiles
from plumrake.net.style_sheets import StyleSheets

PictureDown = Callable[[], Awaitable[int | None]]
"""Tells how far down (CSS px) the picture of the page in hand is wanted, or None where none is."""

StandFor = Callable[[frozenset[int]], Awaitable[Stand | None]]
"""Tells which page stands for one of these patterns (``core/patterns.py``), or None where it is to
be tried itself."""


@dataclass(frozen=True, slots=True)
class Tried:
    """What was tried with a page: its patterns, the parts, at what they showed something; and the
    page that stands for it in the others; and its tree as the browser has it, where known."""

    patterns: frozenset[int]
    parts: Part
    found: Mapping[int, Part]
    at: str | None = None
    tree: Tree | None = None


DrawnAs = Literal["whole", "narrow", "enlarged", "spaced", "focus"]
"""How a picture of a page is drawn, in the page's own layout: as it is, 320 CSS px wide, with text
at 200 %, with the spacing of WCAG 2.2, 1.4.12, with the focus mark of each stop of Tab."""


@dataclass(frozen=True, slots=True)
class ReadOptions:
    """What to wait for, whether to take the page's picture, and which of the costlier evidence to
    gather.

    ``pixels`` behind texts, a walk by ``keyboard``, trials of other layouts (``zoom``) and the
    ``words`` in pictures are for the rendered lens alone, and so are the ``state`` of a journey, to
    which the page is brought first, and the ``viewport`` (width and height in CSS px) in place of
    the usual one. ``shared`` is what the pages of a sweep share; a reading that is of none shares
    nothing. With ``drawn_as`` nothing is wanted but a picture of the page, drawn so. With
    ``stand_for`` other pages may stand for it where other layouts and Tab are tried.
    ``by_source`` reads the page by its source and style sheets, whatever the reader's lens;
    ``sheets`` are those that the pages of a sweep have in common.
    ``runner`` computes for the page; default: a thread of this process.
    """

    wait_for: str | None = None
    picture_down: PictureDown | None = None
    pixels: bool = True
    keyboard: bool = True
    zoom: bool = True
    words: bool = True
    state: JourneyState | None = None
    viewport: tuple[int, int] | None = None
    shared: SharedFiles | None = None
    drawn_as: DrawnAs | None = None
    stand_for: StandFor | None = None
    by_source: bool = False
    sheets: StyleSheets | None = None
    runner: Runner | None = None
