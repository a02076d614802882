"""A field's edge can hardly be seen.

Where a field begins and ends shows by its border or fill. Both have to stand out from what is
around them by 3:1.

## Who is hindered

People with low vision: they do not find where to write.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Give the border (or the fill, or the line below the field) one of the proposed colours.

## Wrong

    <input aria-label="Boat" style="border: 1px solid #dddddd; background: #ffffff">

## Right

    <input aria-label="Boat" style="border: 1px solid #767676; background: #ffffff">

## Left alone

Buttons that their text shows, fields in the browser's own look, disabled controls.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.colours import BLACK, TRANSPARENT, Colour, contrast, parse_or, truncated
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_disabled
from plumrake.core.style.nearest import nearest_passing
from plumrake.core.words import has_letters_or_digits

_REQUIRED = 3.0
_NATIVE_LOOK = frozenset(
    ["checkbox", "radio", "range", "color", "file", "image", "hidden", "submit", "reset", "button"]
)
_ROLES = frozenset(
    "textbox searchbox combobox listbox spinbutton checkbox radio switch slider button".split()
)
_OWN_EDGE = frozenset(["rgb(118, 118, 118)", "rgb(133, 133, 133)"])


@check(
    id="contrast/control-edge",
    weight=Weight.OBSTACLE,
    criteria=("1.4.11",),
    needs=(Needs.STYLE, Needs.LAYOUT),
    messages={
        "faint": (
            "The edge of this {kind} stands out from {around} around it by {ratio}:1 at most; "
            "3:1 is required."
        )
    },
)
def control_edge(page: Page) -> Iterator[Flag]:
    """Yield every shown, enabled field (or control without words) whose border and fill stand out
    by less than 3:1."""
    for element in page.every_exposed():
        if not _is_asked(page, element) or element.box is None or element.parent is None:
            continue
        surface = page.backgrounds.behind(element.parent, [element.box], BLACK, passing=element)
        if surface is None:
            continue
        around = surface.background
        edges = [edge.over(around) for edge in _edges(element)]
        ratio = max((contrast(edge, around) for edge in edges), default=1.0)
        if ratio < _REQUIRED:
            best = max(edges, key=lambda edge: contrast(edge, around), default=around)
            better = nearest_passing(best, around, _REQUIRED)
            facts = {
                "around": around.hex(),
                "edges": [edge.hex() for edge in edges],
                "ratio": truncated(ratio),
                "required": _REQUIRED,
                "proposal": better.hex() if better else None,
            }
            mends = (
                (
                    Mend(
                        "set-style",
                        f"Give it a border of {better.hex()}.",
                        property="border",
                        value=f"1px solid {better.hex()}",
                    ),
                )
                if better
                else ()
            )
            mends = mends or (Mend("advice", "Give it a border that stands out by 3:1."),)
            kind = page.role_of(element) or "field"
            yield failed(
                element,
                "faint",
                kind=kind,
                around=around.hex(),
                ratio=f"{truncated(ratio):.2f}",
                cause=(around.hex(), best.hex()),
                facts=facts,
                mends=mends,
            )


def _is_asked(page: Page, element: Element) -> bool:
    role = page.role_of(element)
    native = element.tag in ("input", "select", "textarea")
    if (role not in _ROLES and not native) or is_disabled(element) or not page.is_seen(element):
        return False
    if element.tag == "input" and element.get("type").strip().lower() in _NATIVE_LOOK:
        return False
    if not native and (
        has_letters_or_digits(page.seen_text_of(element))
        or any(inner.tag in ("img", "svg") for inner in element.descendants())
    ):
        return False
    if (
        not native
        and role in ("button", "checkbox", "radio", "switch", "slider")
        and (element.before or element.after or list(element.elements()))
    ):
        return False
    return not (native and _has_own_look(element))


def _has_own_look(element: Element) -> bool:
    style = element.style
    return (
        style is not None
        and style.appearance not in ("none",)
        and style.border_top_color in _OWN_EDGE
        and style.border_bottom_color in _OWN_EDGE
    )


def _edges(element: Element) -> Iterator[Colour]:
    """Yield the colours that may show the control: its fill, its borders, and a shadow around
    it."""
    style = element.style
    assert style is not None
    if style.background_image != "none":
        yield BLACK
    yield parse_or(style.background_color, TRANSPARENT)
    for width, colour in (
        (style.border_top_width, style.border_top_color),
        (style.border_bottom_width, style.border_bottom_color),
        (style.border_left_width, style.border_left_color),
    ):
        if width != "0px":
            yield parse_or(colour, TRANSPARENT)
    if style.outline_style != "none":
        yield BLACK
    if style.box_shadow != "none":
        yield parse_or(style.box_shadow.partition(")")[0] + ")", TRANSPARENT)
