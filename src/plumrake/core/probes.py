"""What is to be asked about a page beside its document: pixels behind texts, a walk by Tab, words
in pictures, what links lead to. All of it is plain data: who asks is elsewhere."""

from __future__ import annotations

from dataclasses import dataclass

from plumrake.core.checks.keyboard.shared import doubtful_controls
from plumrake.core.checks.page.shared import says_skip
from plumrake.core.dom import Element
from plumrake.core.evidence import LinkState
from plumrake.core.geometry import Box
from plumrake.core.page import Page
from plumrake.core.views.lists import address_of

MOST_LINKS = 1_000
_MOST_PICTURES, _MOST_IMAGES = 40, 400
_NARROWEST, _LOWEST, _LARGEST = 40, 14, 3_000_000
_TALLEST = 12_000
_WIDE_COVER, _HIGH_COVER = 60, 20
"""What is narrower or lower (CSS px) covers no control."""


@dataclass(frozen=True, slots=True)
class TextsInDoubt:
    """Where the texts stand whose background only pixels can tell: the strip that holds them (top,
    right end and bottom in CSS px), and their owners, by index, with their places."""

    top: int
    right: int
    bottom: int
    owners: tuple[tuple[int, float, float], ...]

    def strip(self, width: int) -> tuple[float, float, float, float]:
        """Return the strip's box (x, y, width, height in CSS px) in a viewport of a width."""
        right = min(_WIDEST_STRIP, max(width, self.right))
        return 0, self.top, right, max(1, self.bottom - self.top)


_WIDEST_STRIP = 2560


@dataclass(frozen=True, slots=True)
class PictureToRead:
    """A picture that may hold words: its element's index and size (CSS px), the language around it,
    what its file is known by."""

    index: int
    width: float
    height: float
    language: str
    content: str | None


@dataclass(frozen=True, slots=True)
class PageLink:
    """A link that may be followed: its element's index, the whole address that it leads to, the
    same as it is kept (within the site by its path), and the answer where nobody is to be asked."""

    index: int
    target: str
    address: str
    state: LinkState | None = None


def texts_in_doubt(page: Page) -> TextsInDoubt | None:
    """Return where the texts stand whose background only pixels can tell, down to 12,000 px; None
    where there are none."""
    runs = [run for run, surface in page.text_runs if surface is None]
    boxes = [box for run in runs for box in run.lines if box[1] < _TALLEST]
    if not boxes:
        return None
    return TextsInDoubt(
        max(0, int(min(box[1] for box in boxes)) - 1),
        int(max(box[0] + box[2] for box in boxes)) + 2,
        min(_TALLEST, int(max(box[1] + box[3] for box in boxes)) + 2),
        tuple(
            (run.owner.index, run.owner.box[0], run.owner.box[1])
            for run in runs
            if run.owner.box is not None
        ),
    )


def images_of(page: Page) -> list[int]:
    """Return the indexes of the elements that show a picture's file, the first four hundred."""
    found = [
        one.index
        for one in page.elements
        if one.tag == "img" or (one.tag == "input" and one.get("type").strip().lower() == "image")
    ]
    return found[:_MOST_IMAGES]


def picture_keys(page: Page) -> dict[int, str]:
    """Return what tells a picture's file by its source, by the index of its element: its address,
    or all among which a browser chooses."""
    return {index: _picture_key(page, page.elements[index]) for index in images_of(page)}


def _picture_key(page: Page, element: Element) -> str:
    written = element.get("src").strip()
    if written.startswith("data:"):
        return written
    address = page.resolved(written) or ""
    around = element.parent
    choices = [element] if element.has("srcset") else []
    if around is not None and around.tag == "picture":
        choices = [*(one for one in around.elements() if one.tag == "source"), element]
    if not choices:
        return address
    words = (one.get(name) for one in choices for name in ("srcset", "sizes", "media", "type"))
    return " ".join(["choice:", address, *words])


def links_of(page: Page) -> list[PageLink]:
    """Return the links that may be followed, the first thousand."""
    links = [link for link in page.exposed(role="link") if link.has("href")][:MOST_LINKS]
    return [found for link in links if (found := _link(page, link)) is not None]


def _link(page: Page, link: Element) -> PageLink | None:
    written = link.get("href").strip()
    if written in ("", "#"):
        return None
    kept = address_of(page, link.get("href"))
    full = page.resolved(written)
    if full is None:
        return PageLink(link.index, "", kept, LinkState("dead", "it is no address"))
    address, _, fragment = full.partition("#")
    if address == page.here:
        there = LinkState("works", fragment=page.has_part(fragment))
        return PageLink(link.index, full, kept, there)
    return PageLink(link.index, full, kept)


def wants_walk(page: Page) -> bool:
    """Tell whether pressing Tab may show something that the document does not: controls in doubt, a
    link past menus off-screen, something that stays in place and may cover the focus."""
    if any(says_skip(page, link) and not page.is_seen(link) for link in page.exposed(role="link")):
        return True
    return any(map(_may_cover, page.elements)) or any(True for _ in doubtful_controls(page))


def _may_cover(element: Element) -> bool:
    return (
        element.style is not None
        and element.style.position in ("fixed", "sticky")
        and element.box is not None
        and element.box[2] >= _WIDE_COVER
        and element.box[3] >= _HIGH_COVER
    )


def pictures_to_read(page: Page) -> list[PictureToRead]:
    """Return the seen pictures that are large enough to hold words, the first forty: files, picture
    buttons and canvases."""
    found: list[PictureToRead] = []
    for element in page.elements:
        if len(found) == _MOST_PICTURES:
            break
        if element.box is None or not _may_hold_words(element, element.box):
            continue
        if page.is_exposed(element) and page.is_seen(element):
            _, _, width, height = element.box
            found.append(
                PictureToRead(
                    element.index,
                    width,
                    height,
                    page.language_of(element),
                    page.evidence.files.get(element.index),
                )
            )
    return found


def _may_hold_words(element: Element, box: Box) -> bool:
    is_picture = element.tag in ("img", "canvas") or (
        element.tag == "input" and element.get("type").strip().lower() == "image"
    )
    _, _, width, height = box
    return is_picture and width >= _NARROWEST and height >= _LOWEST and width * height <= _LARGEST
