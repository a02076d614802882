"""A fragment set into a page's frame: the source of a page of the site, with what is inside its
slot replaced."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.html_source import Lines, every_tag
from plumrake.core.scope import BadSelector, selected
from plumrake.core.vocabulary import VOID_ELEMENTS
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.net.problems import Problem, Unreadable

_OF_DOCUMENTS = ("html", "head", "body")


def set_into_frame(
    body: bytes, charset: str | None, slot: str, fragment: bytes
) -> tuple[bytes, int] | Problem:
    """Return a frame's source in UTF-8 with ``fragment`` inside the one element that ``slot`` (CSS)
    selects, and the line before the fragment's first; or why that cannot be (bad-frame)."""
    try:
        whole, line = _set_in(
            decode(body, charset), slot, normal(fragment.decode("utf-8", "replace"))
        )
    except (Unreadable, TooManyElements) as problem:
        return Problem("bad-frame", str(problem))
    return whole.encode("utf-8", "replace"), line


def _set_in(frame: str, slot: str, fragment: str) -> tuple[str, int]:
    document = parse_document(frame, "frame")
    try:
        found = selected(document, slot)
    except BadSelector as error:
        raise Unreadable("bad-frame", f"slot: {error}") from None
    if len(found) != 1:
        raise Unreadable(
            "bad-frame",
            (
                f"the slot '{slot}' selects {len(found)} elements of the page frame; it has to "
                "be exactly one"
            ),
        )
    position = document.position_of(found[0])
    if position is None or found[0].tag in VOID_ELEMENTS:
        raise Unreadable(
            "bad-frame",
            f"the slot '{slot}' is no element of the frame's source that can hold a fragment",
        )
    inside, after = _inside(frame, Lines(frame).offset(*position), found[0].tag)
    heading = _first_heading(fragment)
    before, behind = frame[:inside], frame[after:]
    if heading is not None:
        before, behind = _for(heading, before), _for(heading, behind)
    return before + fragment + behind, Lines(before).of(len(before))[0] - 1


def _for(heading: str, part: str) -> str:
    """Return a part of a frame for content that has a main heading of its own: without the frame's,
    and with that as title."""
    kept: list[str] = []
    at = 0
    for name, start, inside, end, after in _pairs(part, "h1", "title"):
        if name == "title":
            kept += (part[at:inside], heading, part[end:after])
        else:
            kept += (part[at:start], "\n" * part.count("\n", start, after))
        at = after
    return "".join([*kept, part[at:]])


def _first_heading(fragment: str) -> str | None:
    """Return what the fragment's own main heading says, as it is written in text."""
    for _, _, inside, end, _ in _pairs(fragment, "h1"):
        words: list[str] = []
        at = inside
        for start, after, _, _ in every_tag(fragment[inside:end]):
            words.append(fragment[at : inside + start])
            at = inside + after
        text = "".join([*words, fragment[at:end]]).strip()
        if text:
            return text
    return None


def _pairs(html: str, *names: str) -> Iterator[tuple[str, int, int, int, int]]:
    """Yield the elements of some names that no other such stands in: the name, where the start tag
    begins and ends, where the end tag does."""
    opened: tuple[str, int, int] | None = None
    for start, end, name, closes in every_tag(html):
        if name not in names:
            continue
        if not closes and opened is None:
            opened = name, start, end
        elif closes and opened is not None and opened[0] == name:
            yield name, opened[1], opened[2], start, end
            opened = None


def _inside(html: str, begin: int, tag: str) -> tuple[int, int]:
    """Return the offsets where the content of the element that begins at ``begin`` starts and
    ends."""
    depth, inside = 0, -1
    for start, end, name, closes in every_tag(html):
        if start < begin or name != tag:
            continue
        if not closes:
            depth += 1
            inside = end if inside < 0 else inside
        else:
            depth -= 1
            if depth == 0:
                return inside, start
    raise Unreadable(
        "bad-frame", f"the element <{tag}> that holds the slot is not closed in the frame's source"
    )


def normal(fragment: str) -> str:
    """Return a fragment without what only whole documents have, so that it cannot close the frame
    around it."""
    kept: list[str] = []
    at = 0
    for start, end, name, _ in every_tag(fragment):
        if name in _OF_DOCUMENTS:
            kept.append(fragment[at:start])
            at = end
    return "".join([*kept, fragment[at:]])
