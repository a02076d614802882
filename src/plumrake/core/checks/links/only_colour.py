"""A link in a text is told from it by colour alone.

Whoever does not see the difference of two colours does not see that there is a link.

## Who is hindered

People who do not tell colours apart well, people with low vision, and everybody in bright light.

## What an editor does

Take away a colour that you set for the link yourself. Else hand it to whoever keeps the templates.

## What a template developer does

Underline links in running text. If colour is to do it alone, it needs 3:1 against the text around
it, and another mark when the pointer or focus is on it.

## Wrong

    <p style="color: #333333">See the <a href="/fees" style="color: #1b4a5c; text-decoration:
      none">mooring fees</a> for a night.</p>

## Right

    <p style="color: #333333">See the <a href="/fees" style="color: #1b4a5c; text-decoration:
      underline">mooring fees</a> for a night.</p>

## Left alone

Links that stand alone (menus, lists), and links with an underline, border, weight, background or
icon of their own.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.checks.links.shared import block_of, target_of
from plumrake.core.colours import BLACK, TRANSPARENT, Colour, contrast, parse_or, truncated
from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_REQUIRED = 3.0


@check(
    id="links/only-colour",
    weight=Weight.OBSTACLE,
    criteria=("1.4.1",),
    needs=Needs.STYLE,
    messages={
        "colour": (
            "The link “{name}” ({link}) differs from the text around it ({text}) only by colour, "
            "and by {ratio}:1."
        )
    },
)
def only_colour(page: Page) -> Iterator[Flag]:
    """Yield every link within running text that only a colour of less than 3:1 tells from that
    text."""
    for link in page.exposed(role="link"):
        around = _text_around(page, link)
        if (
            around is None
            or link.style is None
            or not page.text_of(link)
            or not page.is_seen(link)
            or _has_mark(link, around)
        ):
            continue
        own, other = _colour(_innermost(link)), _colour(around)
        ratio = contrast(own, other)
        if ratio < _REQUIRED:
            facts = {
                "name": page.name_of(link),
                "target": target_of(link),
                "link": own.hex(),
                "text": other.hex(),
                "ratio": truncated(ratio),
                "required": _REQUIRED,
            }
            yield failed(
                link,
                "colour",
                name=shortened(page.name_of(link)),
                link=own.hex(),
                text=other.hex(),
                ratio=f"{truncated(ratio):.2f}",
                cause=(own.hex(), other.hex()),
                facts=facts,
                mends=(
                    Mend(
                        "set-style",
                        "Underline the link.",
                        property="text-decoration",
                        value="underline",
                    ),
                ),
            )


def _text_around(page: Page, link: Element) -> Element | None:
    """Return the element that owns running text beside the link in the same block, or None where
    there is none."""
    block = block_of(link)
    if block is None or any(page.role_of(ancestor) == "heading" for ancestor in link.ancestors()):
        return None
    for text in block.texts():
        holder = text.parent
        in_link = holder is link or any(
            page.role_of(one) in ("link", "button") for one in (holder, *holder.ancestors())
        )
        if (
            not in_link
            and _is_of(holder, block)
            and page.is_shown(holder)
            and any(map(str.isalpha, text.data))
        ):
            return holder
    return None


def _is_of(holder: Element, block: Element) -> bool:
    """Tell whether only inline elements stand between a text's holder and the block."""
    here: Element | None = holder
    while here is not None and here is not block:
        if here.style is None or not here.style.display.startswith("inline"):
            return False
        here = here.parent
    return here is block


def _innermost(link: Element) -> Element:
    return next((text.parent for text in link.texts() if not is_blank(text.data)), link)


def _colour(element: Element) -> Colour:
    return parse_or(element.style.color, BLACK) if element.style is not None else BLACK


def _has_mark(link: Element, around: Element) -> bool:
    theirs = around.style
    assert theirs is not None
    inner = [one for one in link.descendants() if one.style is not None]
    if any(one.tag in ("img", "svg", "i") for one in inner) or any(
        one.before.strip() or one.after.strip() for one in (link, *inner)
    ):
        return True
    for element in (link, *inner):
        style = element.style
        assert style is not None
        edges = (
            (style.border_top_width, style.border_top_color),
            (style.border_bottom_width, style.border_bottom_color),
            (style.border_left_width, style.border_left_color),
        )
        if (
            "underline" in style.text_decoration_line
            or any(width != "0px" and _paints(colour) for width, colour in edges)
            or _casts(style.box_shadow)
        ):
            return True
        if (
            style.background_image != "none"
            or parse_or(style.background_color, TRANSPARENT).alpha > 0
            or style.font_style != theirs.font_style
        ):
            return True
        if (
            abs(float(style.font_weight) - float(theirs.font_weight)) >= 200
            or style.font_size != theirs.font_size
        ):
            return True
    return "underline" not in theirs.text_decoration_line and any(
        "underline" in one.style.text_decoration_line
        for one in link.ancestors()
        if one.style is not None and one.style.display.startswith("inline")
    )


def _paints(colour: str) -> bool:
    return parse_or(colour, TRANSPARENT).alpha > 0


def _casts(shadow: str) -> bool:
    """Tell whether one of the shadows (colour first, as browsers give it) can be seen."""
    colours = re.findall(r"rgba?\([^)]*\)|color\([^)]*\)|oklch\([^)]*\)", shadow)
    return shadow != "none" and (not colours or any(map(_paints, colours)))
