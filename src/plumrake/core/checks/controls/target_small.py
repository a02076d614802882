"""A target is too small to be hit.

What is pressed has to be 24 by 24 CSS px at least, or has to stand so far from its neighbours that
a circle of 24 px around each of them touches no other.

## Who is hindered

People whose hands tremble, people with large fingers or a prosthesis, and everybody who presses in
a moving bus: they hit the neighbour.

## What an editor does

Put more space between single links; hand menus, icons and numbers of pages to whoever keeps the
templates.

## What a template developer does

Give it room by ``padding``, or the row more distance between its members. The text need not grow.

## Wrong

    <p><a href="/a" style="font-size:12px">1</a><a href="/b" style="font-size:12px">2</a></p>

## Right

    <p><a href="/a" style="padding:6px 10px">1</a> <a href="/b" style="padding:6px 10px">2</a></p>

## Left alone

Links in a sentence, whose size the line gives; what the browser draws itself, such as a checkbox;
small targets with another, larger way to the same place on the page; places on maps and drawings;
disabled controls; and what stands far enough from all else (WCAG 2.2, 2.5.8).
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import ceil, hypot

from plumrake.core.dom import Element, Text
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.geometry import Box
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_disabled
from plumrake.core.words import has_letters_or_digits, shortened

_LEAST = 24.0
_DRAWN_BY_BROWSER = frozenset(["checkbox", "radio", "range", "color", "file", "date", "time"])
_OF_DRAWINGS = frozenset(["area", "svg", "path", "g", "circle", "rect", "polygon", "text", "tspan"])
_PLAIN_BUTTON = "rgb(239, 239, 239)"
_LISTS = frozenset(["ul", "ol", "dl", "menu"])
_IN_SENTENCES = frozenset(",;.:")
_NEAR_ANCESTORS = 3
_CLICKS = frozenset(["click", "pointerdown", "pointerup", "mousedown", "mouseup"])


@dataclass(frozen=True, slots=True)
class _Target:
    """What is pressed: its element, the boxes of its lines and parts, and the largest of them."""

    element: Element
    boxes: tuple[Box, ...]
    box: Box

    @property
    def is_small(self) -> bool:
        """Whether it is less than 24 px wide or high."""
        return min(self.box[2], self.box[3]) < _LEAST - 0.5

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of its box."""
        return self.box[0] + self.box[2] / 2, self.box[1] + self.box[3] / 2


@check(
    id="controls/target-small",
    weight=Weight.OBSTACLE,
    criteria=("2.5.8",),
    needs=(Needs.STYLE, Needs.LAYOUT),
    messages={
        "one": (
            "“{name}” is {width} by {height} px large and stands too close to “{other}”; 24 by 24 "
            "px are required, or more distance."
        ),
        "several": (
            "{count} targets here are as small as {width} by {height} px and stand too close to "
            "one another; 24 by 24 px are required, or more distance."
        ),
    },
)
def target_small(page: Page) -> Iterator[Flag]:
    """Yield every target that is too small and too close to others; several in one place are one,
    on what holds them."""
    targets = list(_targets(page))
    large = {
        one.element.get("href") for one in targets if not one.is_small and one.element.has("href")
    }
    crowded = {
        one.element.index: (one, other)
        for one, other in _crowded(targets)
        if one.element.get("href") not in large and not _is_excepted(page, one)
    }
    for holder, members in _held(crowded):
        yield _flag(page, holder, members)


def _targets(page: Page) -> Iterator[_Target]:
    for element in page.interactive():
        if element.box is None or is_disabled(element) or not page.is_seen(element):
            continue
        if element.tag == "option" or any(one.tag == "select" for one in element.ancestors()):
            continue
        lines = _lines_of(element)
        boxes = [*(lines if len(lines) > 1 else [element.box]), *_boxes_in(page, element)]
        largest = max(boxes, key=lambda box: box[2] * box[3])
        if len(lines) > 1:
            yield _Target(element, tuple(boxes), largest)
        else:
            yield _Target(element, (_around(boxes),), _around(boxes))


def _lines_of(element: Element) -> list[Box]:
    """Return the boxes of the lines that an inline target is broken into; what lies between their
    ends is not its own."""
    if element.style is None or element.style.display != "inline":
        return []
    texts = (child for child in element.children if isinstance(child, Text))
    return [box for text in texts for box in text.lines if min(box[2:]) > 1]


def _boxes_in(page: Page, element: Element) -> Iterator[Box]:
    pressed = [element, *page.labels_of(element)]
    for one in pressed:
        if one is not element and one.box is not None and page.is_seen(one):
            yield one.box
        for inner in one.descendants():
            if inner.box is not None and min(inner.box[2:]) > 1 and page.is_seen(inner):
                yield inner.box


def _around(boxes: Sequence[Box]) -> Box:
    left, top = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right = max(box[0] + box[2] for box in boxes)
    bottom = max(box[1] + box[3] for box in boxes)
    return left, top, right - left, bottom - top


def _crowded(targets: Sequence[_Target]) -> Iterator[tuple[_Target, _Target]]:
    """Yield the small targets whose circle meets another target, or the circle of another small
    one, with that other."""
    grid: dict[tuple[int, int], list[_Target]] = defaultdict(list)
    for target in targets:
        for cell in {cell for box in target.boxes for cell in _cells(box)}:
            grid[cell].append(target)
    for target in targets:
        if not target.is_small:
            continue
        x, y = target.middle
        around = (x - _LEAST, y - _LEAST, 2 * _LEAST, 2 * _LEAST)
        near = {
            one.element.index: one
            for cell in _cells(around)
            for one in grid[cell]
            if one is not target and not _is_within(one.element, target.element)
        }
        other = next((near[index] for index in sorted(near) if _meets(target, near[index])), None)
        if other is not None:
            yield target, other


def _cells(box: Box) -> Iterator[tuple[int, int]]:
    size = 2 * _LEAST
    for column in range(int(box[0] // size), int((box[0] + box[2]) // size) + 1):
        for row in range(int(box[1] // size), int((box[1] + box[3]) // size) + 1):
            yield column, row


def _meets(target: _Target, other: _Target) -> bool:
    x, y = target.middle
    if other.is_small:
        other_x, other_y = other.middle
        if hypot(x - other_x, y - other_y) < _LEAST - 0.5:
            return True
    return any(_apart(x, y, box) < _LEAST / 2 - 0.5 for box in other.boxes)


def _apart(x: float, y: float, box: Box) -> float:
    """Return how far a point lies from a box; 0 within."""
    left, top, width, height = box
    return hypot(max(left - x, 0, x - left - width), max(top - y, 0, y - top - height))


def _is_within(one: Element, other: Element) -> bool:
    return any(above is other for above in one.ancestors()) or any(
        above is one for above in other.ancestors()
    )


def _is_excepted(page: Page, target: _Target) -> bool:
    element = target.element
    return (
        element.tag in _OF_DRAWINGS
        or element.namespace == "svg"
        or _is_drawn_by_browser(element)
        or _is_in_sentence(page, element)
        or _is_pressed_by_more(element)
    )


def _is_drawn_by_browser(element: Element) -> bool:
    style = element.style
    if style is None or style.appearance == "none":
        return False
    if element.tag == "input" and element.get("type").strip().lower() in _DRAWN_BY_BROWSER:
        return True
    return element.tag in ("button", "input") and style.background_color == _PLAIN_BUTTON


def _is_in_sentence(page: Page, element: Element) -> bool:
    """Tell whether it is inline and text that is no target stands in the same block."""
    if element.style is None or not element.style.display.startswith("inline"):
        return False
    block = next((one for one in element.ancestors() if _is_block(one)), None)
    return block is not None and any(_plain_texts(page, block))


def _is_block(element: Element) -> bool:
    return element.style is not None and not element.style.display.startswith(
        ("inline", "contents")
    )


def _plain_texts(page: Page, block: Element) -> Iterator[bool]:
    for child in block.children:
        if isinstance(child, Text):
            if has_letters_or_digits(child.data) or not _IN_SENTENCES.isdisjoint(child.data):
                yield True
        elif not _is_block(child) and not _is_target(page, child):
            yield from _plain_texts(page, child)


def _is_target(page: Page, element: Element) -> bool:
    return page.role_of(element) in ("link", "button")


def _is_pressed_by_more(element: Element) -> bool:
    """Tell whether something larger around it reacts as well: a card, a row."""
    for above, _ in zip(element.ancestors(), range(_NEAR_ANCESTORS), strict=False):
        is_large = above.box is not None and min(above.box[2:]) >= _LEAST
        if is_large and (above.has("onclick") or above.listeners & _CLICKS):
            return True
    return False


def _held(
    crowded: dict[int, tuple[_Target, _Target]],
) -> Iterator[tuple[Element | None, list[tuple[_Target, _Target]]]]:
    """Yield the targets by the list that holds them (of lists in lists the outermost), else by the
    nearest element that holds more than one of them; alone where there is none."""
    counts: dict[int, int] = defaultdict(int)
    for one, _ in crowded.values():
        for above in one.element.ancestors():
            counts[above.index] += 1
    groups: dict[int, list[tuple[_Target, _Target]]] = defaultdict(list)
    holders: dict[int, Element] = {}
    for one, other in crowded.values():
        near = next((up for up in one.element.ancestors() if counts[up.index] > 1), None)
        lists = [up for up in one.element.ancestors() if up.tag in _LISTS and counts[up.index] > 1]
        holder = lists[-1] if lists else near
        if holder is None or holder.tag in ("body", "html", "main"):
            yield None, [(one, other)]
            continue
        holders[holder.index] = holder
        groups[holder.index].append((one, other))
    for index, members in groups.items():
        yield (holders[index] if len(members) > 1 else None), members


def _flag(page: Page, holder: Element | None, members: list[tuple[_Target, _Target]]) -> Flag:
    target, other = min(members, key=lambda pair: min(pair[0].box[2:]))
    width, height = (f"{side:.0f}" for side in target.box[2:])
    missing = max(1, ceil((_LEAST - min(target.box[2:])) / 2))
    tags = sorted({one.element.tag for one, _ in members})
    inside = (
        "" if holder is None else f" {tags[0]}" if len(tags) == 1 else f" :is({', '.join(tags)})"
    )
    mends = (
        Mend(
            "add-rule",
            "Give it room around." if holder is None else "Give each of them room around.",
            to=inside,
            property=_room(members),
            value=f"{missing}px",
        ),
        Mend("advice", "Or put more distance between them: 24 px from middle to middle."),
    )
    facts = {
        "width": round(target.box[2]),
        "height": round(target.box[3]),
        "required": _LEAST,
        "targets": len(members),
        "others": [page.selector_of(one.element) for one, _ in members[:20]],
    }
    if holder is None:
        return failed(
            target.element,
            "one",
            name=_named(page, target),
            width=width,
            height=height,
            other=_named(page, other),
            facts=facts,
            mends=mends,
            cause=("small target",),
        )
    return failed(
        holder,
        "several",
        count=len(members),
        width=width,
        height=height,
        facts=facts,
        mends=mends,
        cause=("small targets",),
    )


def _room(members: list[tuple[_Target, _Target]]) -> str:
    """Return the property that gives room: around inline text only padding counts."""
    styles = [one.element.style for one, _ in members]
    is_inline = any(style is not None and style.display == "inline" for style in styles)
    return "padding" if is_inline else "margin"


def _named(page: Page, target: _Target) -> str:
    return shortened(page.name_of(target.element), 50) or f"<{target.element.tag}>"
