"""A link has no name.

Screen readers announce a link by its name. One without a name is read as "link" or as its raw
address, so nobody listening can tell where it goes, and speech control cannot reach it.

The usual cause is a link that holds only an icon, or a picture with an empty ``alt``. An empty
``alt`` is right for a decorative picture, but inside a link the picture is often the only content,
and then it must say where the link goes.

## Who is hindered

People who listen to the page, and people who steer by voice and say a link's name to follow it.

## What an editor does

Write a text for the link. Where the link is a picture, write as the picture's text where the link
leads. Delete a link that was left behind with nothing in it.

## What a template developer does

Give icon links a name: text that is hidden from sight, or ``aria-label``. Where a card's picture
and its headline lead to the same page, make one link of them.

## Wrong

    <a href="/locks"><img src="lock.svg" alt=""></a>

## Right

    <a href="/locks"><img src="lock.svg" alt="Lock opening times"></a>

## Left alone

Hidden links, and ``<a>`` without ``href``, which is no link. Parts of image maps are for
``pictures/no-text``, a link whose text is hidden for ``controls/name-hidden``, one whose name
says too little for ``links/vague``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import is_code, target_of
from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="links/no-name",
    weight=Weight.BARRIER,
    criteria=("2.4.4", "4.1.2"),
    needs=Needs.TREE,
    act_rule="c487ae",
    messages={
        "empty": "The link to {target} has no text and no other name.",
        "picture-only": "The link to {target} holds only a picture, and the picture has no text.",
        "glyphs": "The link to {target} is called “{glyphs}”, which is no name.",
    },
)
def no_name(page: Page) -> Iterator[Flag]:
    """Yield every exposed link with an empty name, image-map areas aside."""
    for link in page.exposed(role="link"):
        if link.tag == "area" or page.name_of(link) or page.hidden_name_of(link):
            continue
        glyphs = page.raw_name_of(link)
        if glyphs and is_code(link):
            continue
        message = _message(link, glyphs)
        yield failed(
            link,
            message,
            target=target_of(link),
            glyphs=glyphs,
            facts={"name": "", "target": link.get("href"), "text": link.text()},
            mends=_mends(message),
        )


def _message(link: Element, glyphs: str) -> str:
    if glyphs:
        return "glyphs"
    holds_picture = any(
        inner.tag in ("img", "svg", "canvas", "object") or inner.get("role") == "img"
        for inner in link.descendants()
    )
    return "picture-only" if holds_picture and is_blank(link.text()) else "empty"


def _mends(message: str) -> tuple[Mend, ...]:
    name_it = Mend("set-attribute", "Or name the link itself.", attribute="aria-label")
    if message == "picture-only":
        return (
            Mend(
                "set-attribute",
                "Write as the picture's text where the link leads.",
                attribute="alt",
                target="picture",
            ),
            name_it,
        )
    return (
        Mend("replace-text", "Write where the link leads."),
        Mend("remove-element", "Or delete the link if nothing was meant to be here."),
    )
