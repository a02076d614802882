"""The text of a picture repeats what stands beside it.

When caption, heading or link text say the same as the picture's text, it is heard twice.

## Who is hindered

People who listen to the page: everything twice, on pages with many teasers twice as long.

## What an editor does

If the words beside the picture say all, leave its text empty. If the picture shows more, write
that.

## What a template developer does

Do not fill the picture's text with the headline or caption. In a teaser, an empty ``alt`` beside
the linked headline is right.

## Wrong

    <a href="/locks"><img src="lock.jpg" alt="Our locks"> Our locks</a>

## Right

    <a href="/locks"><img src="lock.jpg" alt=""> Our locks</a>

## Left alone

Texts that say more than what stands beside them.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import (
    file_of,
    link_of,
    mark_decorative,
    pictures,
    write_text,
)
from plumrake.core.dom import Element, Neighbours, Text, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, shortened

_BESIDE = frozenset(["p", "h1", "h2", "h3", "h4", "h5", "h6"])


@check(
    id="pictures/repeats-nearby",
    weight=Weight.FRICTION,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={
        "caption": "The picture's text “{name}” is also its caption.",
        "link": "The picture's text “{name}” also stands beside it in the same link.",
        "beside": "The picture's text “{name}” also stands beside it.",
    },
)
def repeats_nearby(page: Page) -> Iterator[Flag]:
    """Yield every picture whose name equals its caption, the rest of its link, or the paragraph or
    heading beside it."""
    neighbours = Neighbours()
    for element in pictures(page):
        name = page.name_of(element)
        small = normalised(name)
        if not small or element.tag == "area":
            continue
        message = next(
            (
                kind
                for kind, text in _nearby(page, element, neighbours)
                if normalised(text) == small
            ),
            None,
        )
        if message:
            yield failed(
                element,
                message,
                name=shortened(name),
                facts={"name": name, "file": file_of(element)},
                mends=_mends(element, message),
            )


def _mends(element: Element, message: str) -> tuple[Mend, ...]:
    """Return what may be done; a picture with a caption is hardly decorative."""
    if message == "caption":
        return (write_text(element, "Write what the picture shows beyond its caption."),)
    return (
        mark_decorative(element, "The words beside it say all: leave its text empty."),
        write_text(element, "Or write what the picture shows beyond them."),
    )


def _nearby(page: Page, element: Element, neighbours: Neighbours) -> Iterator[tuple[str, str]]:
    figure = element.closest("figure")
    if figure is not None:
        yield from (
            ("caption", page.text_of(child))
            for child in figure.elements()
            if child.tag == "figcaption"
        )
    if (link := link_of(element)) is not None:
        yield "link", page.text_of(link)
        return
    wrapper = element
    while (
        wrapper.parent is not None
        and wrapper.parent.tag not in ("body", "main", "li", "td")
        and not _has_more(wrapper.parent, wrapper)
    ):
        wrapper = wrapper.parent
    yield from (
        ("beside", page.text_of(one)) for one in neighbours.of(wrapper) if one.tag in _BESIDE
    )


def _has_more(parent: Element, only: Element) -> bool:
    """Tell whether the parent holds more than this one child."""
    return any(
        child is not only and not (isinstance(child, Text) and is_blank(child.data))
        for child in parent.children
    )
