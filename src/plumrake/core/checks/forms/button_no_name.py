"""A button has no name.

A button without text or name is announced as "button": nobody listening can know what it does.

## Who is hindered

People who listen to the page, and people who steer by voice.

## What an editor does

Write what the button does. Where it shows only a picture, write that as the picture's text.

## What a template developer does

Give icon buttons a text that is hidden from sight, or ``aria-label``, and hide the icon itself.

## Wrong

    <button><svg aria-hidden="true"></svg></button>

## Right

    <button aria-label="Close"><svg aria-hidden="true"></svg></button>

## Left alone

``input type="submit"`` without ``value``: the browser labels it. A picture button without text is
for ``pictures/no-text``, one whose text is hidden for ``controls/name-hidden``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="forms/button-no-name",
    weight=Weight.BARRIER,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    act_rule="97a4e1",
    messages={
        "empty": "A button has no text and no other name.",
        "picture-only": "A button holds only a picture, and the picture has no text.",
        "glyphs": "A button is called “{glyphs}”, which is no name.",
    },
)
def button_no_name(page: Page) -> Iterator[Flag]:
    """Yield every exposed button with an empty accessible name, unless hiding alone empties it."""
    for button in page.exposed(role="button"):
        if (
            page.name_of(button)
            or (button.tag == "input" and button.get("type").strip().lower() == "image")
            or page.hidden_name_of(button)
        ):
            continue
        glyphs = page.raw_name_of(button).strip()
        pictures = any(
            inner.tag in ("img", "svg", "canvas", "object") for inner in button.descendants()
        )
        message = "glyphs" if glyphs else "picture-only" if pictures else "empty"
        mends = (
            Mend("set-attribute", "Write what the button does.", attribute="value")
            if button.tag == "input"
            else Mend("replace-text", "Write what the button does."),
            Mend(
                "set-attribute",
                "Or, where there is no room for text, name the button.",
                attribute="aria-label",
            ),
        )
        if pictures:
            mends = (
                Mend(
                    "set-attribute", "Name the button after what it does.", attribute="aria-label"
                ),
                Mend(
                    "set-attribute",
                    "Or give its picture a text that says what the button does.",
                    attribute="alt",
                    target="picture",
                ),
            )
        yield failed(
            button,
            message,
            glyphs=glyphs,
            facts={"name": "", "glyphs": glyphs or None},
            mends=mends,
        )
