"""Evidence beside the document: pixels behind texts, what pressing Tab did, the layout under zoom,
words read in pictures, what links lead to, what dictionaries know."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from plumrake.core.colours import Colour
from plumrake.core.geometry import Box

_SAMPLES = 24


@dataclass(frozen=True, slots=True)
class Pixels:
    """A strip of the page without its text, from ``top`` px down: 8-bit RGB, row by row, one pixel
    per CSS px. ``moved`` are elements (by index) that were elsewhere by then than in the document:
    the strip tells nothing of them."""

    top: int
    width: int
    height: int
    data: bytes
    moved: frozenset[int] = frozenset()

    def behind(self, box: Box) -> Iterator[Colour]:
        """Yield the colours of a grid of at most 24×24 points within the box; nothing for what lies
        outside the strip."""
        left, top = max(0, round(box[0])), max(0, round(box[1]) - self.top)
        right, bottom = (
            min(self.width, round(box[0] + box[2])),
            min(self.height, round(box[1] + box[3]) - self.top),
        )
        for y in range(top, bottom, max(1, (bottom - top) // _SAMPLES)):
            for x in range(left, right, max(1, (right - left) // _SAMPLES)):
                at = 3 * (y * self.width + x)
                red, green, blue = self.data[at : at + 3]
                yield Colour(red / 255, green / 255, blue / 255)


@dataclass(frozen=True, slots=True)
class Walk:
    """What pressing Tab through the page did; elements are given by their index in the document.

    ``stops`` took focus, in this order; ``trapped`` are those that focus cannot leave (neither by
    Tab, Shift+Tab nor Escape); ``unmarked`` look the same with and without focus; ``unseen`` are
    off the screen even then; ``covered`` lie wholly under something else while they have focus,
    each with what that is; ``ended`` tells whether the walk came to the page's end.
    """

    stops: tuple[int, ...] = ()
    trapped: tuple[int, ...] = ()
    unmarked: tuple[int, ...] = ()
    unseen: tuple[int, ...] = ()
    ended: bool = True
    covered: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class Misfit:
    """An element whose text does not fit any more: ``cut`` off by it, or ``overlap`` with another
    element's text."""

    element: int
    kind: str
    other: int | None = None
    pixels: int = 0


@dataclass(frozen=True, slots=True)
class Trials:
    """What became of the layout: at 320 CSS px wide, with text at 200 %, and with the text spacing
    of WCAG 2.2, 1.4.12.

    ``too_wide`` names the outermost elements that stick out at 320 px with how far each reaches;
    ``page_width`` is what the page as a whole takes there. What was not tried is None.
    """

    page_width: int = 320
    too_wide: tuple[tuple[int, int], ...] | None = ()
    doubled: tuple[Misfit, ...] | None = ()
    spaced: tuple[Misfit, ...] | None = ()


@dataclass(frozen=True, slots=True)
class ReadWord:
    """A word that optical character reading found in a picture, and how sure it is of it (0 to
    1)."""

    text: str
    sure: float


@dataclass(frozen=True, slots=True)
class LinkState:
    """What a link was found to lead to.

    ``state`` is ``works``, ``only-in-staging``, ``dead`` or ``unknown``; ``says`` one piece of a
    sentence with the reason. ``status`` is the last HTTP status, ``chain`` the addresses of the
    redirects up to the last. ``fragment`` tells whether the target page has the part behind ``#``;
    None where none is asked for, or a script may make it.
    """

    state: str
    says: str = ""
    status: int | None = None
    chain: tuple[str, ...] = ()
    fragment: bool | None = None


@dataclass(frozen=True, slots=True)
class Network:
    """What a page's links lead to, by the index of the link; and the origins of the site's staging
    environment (scheme, host and port)."""

    links: Mapping[int, LinkState]
    staging: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Spelled:
    """What dictionaries say about a page's words; words are pairs of language tag and word.

    ``unknown`` are in no dictionary of their language; ``near`` those of them that are one slip
    away from a word that is, ``english`` those that are English where another language is said,
    ``variant`` those that another region of the same language spells so.
    ``languages`` are the tags for which there is a dictionary.
    """

    unknown: frozenset[tuple[str, str]]
    near: frozenset[tuple[str, str]]
    english: frozenset[tuple[str, str]]
    languages: frozenset[str]
    variant: frozenset[tuple[str, str]] = frozenset()


@dataclass(frozen=True, slots=True)
class Evidence:
    """What is known of a page beside its document; None: not gathered.

    ``kinds`` are all kinds that checks may go by, those of the document among them (values of
    ``Needs``). ``words`` are read in pictures, by the index of the element, ``files`` the hashes of
    the pictures' files, as far as the lens knows them. ``tongues`` tells what language a long
    passage looks to be in, where that is another than it says, by its said language and its text.
    """

    kinds: frozenset[str]
    pixels: Pixels | None = None
    walk: Walk | None = None
    trials: Trials | None = None
    words: Mapping[int, tuple[ReadWord, ...]] | None = None
    files: Mapping[int, str] = field(default_factory=dict)
    network: Network | None = None
    spelled: Spelled | None = None
    tongues: Mapping[tuple[str, str], str] | None = None

    def learnt(self, *kinds: str, **facts: Any) -> Evidence:
        """Return it with more kinds and facts."""
        return replace(self, kinds=self.kinds.union(kinds), **facts)
