"""Picture and text are two links to one page.

A picture link and a text link to one page, one after the other: every card costs two Tab stops and
is announced twice.

## Who is hindered

People who go from link to link by Tab or by ear: twice the way.

## What an editor does

If you made both, put picture and text into one link.

## What a template developer does

Make one link of picture and headline, with an empty ``alt`` for the picture. Or leave only the
headline a link.

## Wrong

    <a href="/hallow"><img src="hallow.jpg" alt="Hallow Lock"></a> <a href="/hallow">Hallow Lock</a>

## Right

    <a href="/hallow"><img src="hallow.jpg" alt=""> Hallow Lock</a>

## Left alone

A picture link that is hidden from assistive technology. Links with text between them.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import is_picture_only, resource_of, target_of
from plumrake.core.dom import Element, Text, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.headings import nodes_in_order


@check(
    id="links/twins",
    weight=Weight.FRICTION,
    criteria=("2.4.4",),
    needs=Needs.TREE,
    messages={
        "picture": "This picture link leads to {target}, like the text link beside it.",
        "text": "This text link leads to {target}, like the picture link beside it.",
    },
)
def twins(page: Page) -> Iterator[Flag]:
    """Yield both of a picture link and a text link to one address with nothing between them."""
    for first, second in _adjacent(page):
        if resource_of(page, first) != resource_of(page, second) or is_picture_only(
            page, first
        ) == is_picture_only(page, second):
            continue
        for link, other in ((first, second), (second, first)):
            if not is_picture_only(page, link) and not page.text_of(link):
                break
            message = "picture" if is_picture_only(page, link) else "text"
            facts = {"target": target_of(link), "others": [page.selector_of(other)]}
            mends: tuple[Mend, ...] = (
                Mend(
                    "merge-links",
                    "Make one link of picture and text, and leave the picture's own text empty.",
                ),
            )
            if message == "picture":
                only_text = "Or keep only the text a link, and leave the picture's text empty."
                mends += (Mend("unlink-picture", only_text),)
            yield failed(link, message, target=target_of(link), facts=facts, mends=mends)


def _adjacent(page: Page) -> Iterator[tuple[Element, Element]]:
    """Yield the pairs of exposed links that no text, picture or control stands between."""
    last: Element | None = None
    inside: Element | None = None
    for node in nodes_in_order(page.body):
        parent = node.parent
        if (
            inside is not None
            and parent is not None
            and (parent is inside or inside in parent.ancestors())
        ):
            continue
        inside = None
        if isinstance(node, Text):
            if not is_blank(node.data) and page.is_exposed(node.parent):
                last = None
        elif page.role_of(node) == "link" and page.is_exposed(node) and node.has("href"):
            if last is not None:
                yield last, node
            last = inside = node
        elif page.is_exposed(node) and node.tag in (
            "img",
            "svg",
            "input",
            "button",
            "select",
            "textarea",
            "video",
            "iframe",
            "hr",
        ):
            last = None
