"""An icon that is all of a control is too pale.

An icon without words has to be seen to be understood; its colour needs 3:1 against what lies behind
it.

## Who is hindered

People with low vision: they do not see that there is a control.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Give the icon one of the proposed colours, or write words beside it.

## Wrong

    <button aria-label="Search"><svg width="24" height="24"><circle cx="12" cy="12" r="9"
      fill="#c8c8c8"/></svg></button>

## Right

    <button aria-label="Search"><svg width="24" height="24"><circle cx="12" cy="12" r="9"
      fill="#4a4a4a"/></svg></button>

## Left alone

Icons of several colours, icons beside words, pictures from files, disabled controls.
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
_SHAPES = frozenset(
    ["path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "use", "text"]
)
_CONTROLS = frozenset(
    ["link", "button", "tab", "menuitem", "switch", "checkbox", "radio", "option"]
)


@check(
    id="contrast/icon",
    weight=Weight.OBSTACLE,
    criteria=("1.4.11",),
    needs=(Needs.STYLE, Needs.LAYOUT),
    messages={
        "pale": "The icon {colour} on {background} has a contrast of {ratio}:1; 3:1 is required."
    },
)
def icon(page: Page) -> Iterator[Flag]:
    """Yield every single-colour icon that is the only content of a shown, enabled control and
    stands out by less than 3:1."""
    for control in page.every_exposed():
        if (
            page.role_of(control) not in _CONTROLS
            or is_disabled(control)
            or has_letters_or_digits(page.seen_text_of(control))
        ):
            continue
        drawing, colours = _icon(page, control)
        if drawing is None or drawing.box is None or len(colours) != 1 or not page.is_seen(drawing):
            continue
        surface = page.backgrounds.behind(
            drawing.parent if drawing.tag == "svg" and drawing.parent else drawing,
            [_middle(drawing)],
            colours[0],
            passing=drawing,
        )
        if surface is None:
            continue
        ratio = contrast(surface.text, surface.background)
        if ratio < _REQUIRED:
            better = nearest_passing(surface.text, surface.background, _REQUIRED)
            text, background = surface.text.hex(), surface.background.hex()
            facts = {
                "colour": text,
                "background": background,
                "ratio": truncated(ratio),
                "required": _REQUIRED,
                "proposal": better.hex() if better else None,
            }
            mends = (
                (Mend("paint", f"Set the icon's colour to {better.hex()}.", value=better.hex()),)
                if better
                else ()
            )
            mends = mends or (
                Mend("advice", "Change both colours: neither side alone can reach the ratio."),
            )
            yield failed(
                drawing,
                "pale",
                colour=text,
                background=background,
                ratio=f"{truncated(ratio):.2f}",
                cause=(text, background),
                facts=facts,
                mends=mends,
            )


def _icon(page: Page, control: Element) -> tuple[Element | None, list[Colour]]:
    """Return the control's only drawing or glyph and its colours; None where it holds something
    else."""
    inner = [one for one in control.descendants() if page.is_shown(one)]
    if any(one.tag in ("img", "canvas", "video", "object", "input") for one in inner):
        return None, []
    drawings = [one for one in inner if one.tag == "svg" and one.namespace == "svg"]
    if len(drawings) == 1 and not page.seen_text_of(control).strip():
        return drawings[0], _colours(drawings[0])
    glyphs = [
        one
        for one in (control, *inner)
        if one.style is not None
        and one.namespace == "html"
        and (page.own_texts(one) or one.before.strip() or one.after.strip())
    ]
    if (
        not drawings
        and len(glyphs) == 1
        and not any(map(str.isalnum, glyphs[0].before + glyphs[0].after))
    ):
        style = glyphs[0].style
        return glyphs[0], [parse_or(style.color, BLACK)] if style is not None else []
    return None, []


def _colours(drawing: Element) -> list[Colour]:
    found: dict[Colour, None] = {}
    for shape in drawing.descendants():
        if (
            shape.tag not in _SHAPES
            or shape.style is None
            or shape.closest("defs", "clipPath", "mask") is not None
        ):
            continue
        for paint in (shape.style.fill, shape.style.stroke):
            colour = parse_or(paint, TRANSPARENT) if paint != "none" else TRANSPARENT
            if colour.alpha > 0:
                found[colour] = None
    return list(found)


def _middle(drawing: Element) -> tuple[float, float, float, float]:
    assert drawing.box is not None
    x, y, width, height = drawing.box
    return x + width / 4, y + height / 4, max(1.0, width / 2), max(1.0, height / 2)
