"""A fragment set into a page's frame: the source of a page of the site, with what is inside its
slot replaced."""

from __future__ import annotations

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
    lines = Lines(frame)
    begin = lines.offset(*position)
    inside, after = _inside(frame, begin, found[0].tag)
    return frame[:inside] + fragment + frame[after:], lines.of(inside)[0] - 1


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
