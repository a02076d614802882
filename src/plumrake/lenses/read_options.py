"""What is wanted of a reading beside the document itself."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from typing import Literal

from plumrake.core.journeys import JourneyState
from plumrake.lenses.runners import Runner
from plumrake.net.shared_files import SharedFiles

PictureDown = Callable[[], Awaitable[int | None]]
"""Tells how far down (CSS px) the picture of the page in hand is wanted, or None where none is."""

TriedAt = Callable[[frozenset[int]], Awaitable[str | None]]
"""Tells at which page all of a page's patterns (``core/patterns.py``) were tried, or None where it
is to be tried itself."""


@dataclass(frozen=True, slots=True)
class Tried:
    """The patterns of a page, those of them at which other layouts or Tab showed something, and
    the page that stands for it where it was not tried itself."""

    patterns: frozenset[int]
    faulty: frozenset[int]
    at: str | None = None


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
    ``tried_at`` neither other layouts nor Tab are tried where pages of the same patterns were.
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
    tried_at: TriedAt | None = None
    runner: Runner | None = None
