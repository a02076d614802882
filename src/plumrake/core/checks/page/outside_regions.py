"""Content stands outside every landmark.

Whoever goes from landmark to landmark misses what stands between them.

## Who is hindered

People who move by landmarks and listen: they do not come by this content.

## What an editor does

Tell whoever keeps the templates.

## What a template developer does

Put it into the landmark that it belongs to: ``header``, ``nav``, ``main``, ``aside`` or ``footer``.

## Wrong

    <div class="alert">The lock is closed.</div><main><h1>Moorings</h1></main>

## Right

    <main><div class="alert">The lock is closed.</div><h1>Moorings</h1></main>

## Left alone

Links that lead past the menus, messages by role (alert, status), dialogs.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.page.shared import is_skip_link
from plumrake.core.dom import Element, collapse
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_ON_THEIR_OWN = frozenset(
    ["alert", "alertdialog", "dialog", "log", "status", "timer", "tooltip", "marquee"]
)


@check(
    id="page/outside-regions",
    weight=Weight.FRICTION,
    criteria=("1.3.1",),
    needs=(Needs.TREE, Needs.PAGE),
    only_people="Which landmark a part belongs to, the template's author knows.",
    messages={"outside": "“{text}” stands outside every landmark of the page."},
)
def outside_regions(page: Page) -> Iterator[Flag]:
    """Yield the outermost elements that hold text and lie in no landmark, nor hold one."""
    holds = {ancestor.index for landmark in page.landmarks.all for ancestor in landmark.ancestors()}
    stack = [page.body]
    while stack:
        element = stack.pop()
        role = page.role_of(element)
        if (
            page.landmarks.is_one(element)
            or role in _ON_THEIR_OWN
            or is_skip_link(page, element)
            or not page.is_rendered(element)
        ):
            continue
        own = (
            collapse(" ".join(text.data for text in page.own_texts(element)))
            if page.is_exposed(element)
            else ""
        )
        if element.index in holds and not own:
            stack.extend(reversed(list(element.elements())))
            continue
        text = own or _stray_text(page, element)
        if text:
            mend = Mend(
                "advice",
                "Put it into the landmark that it belongs to: header, nav, main, aside or footer.",
            )
            yield failed(
                element,
                "outside",
                text=shortened(text, 60),
                facts={"text": text[:200]},
                mends=(mend,),
            )


def _stray_text(page: Page, element: Element) -> str:
    """Return the element's exposed text, without that of skip links and of messages by role."""
    if not any(
        is_skip_link(page, inner) or page.role_of(inner) in _ON_THEIR_OWN
        for inner in element.descendants()
    ):
        return page.text_of(element)
    parts = [
        own.data
        for inner in (element, *element.descendants())
        if page.is_exposed(inner) and not _aside(page, inner)
        for own in page.own_texts(inner)
    ]
    return collapse(" ".join(parts))


def _aside(page: Page, element: Element) -> bool:
    return any(
        is_skip_link(page, one) or page.role_of(one) in _ON_THEIR_OWN
        for one in (element, *element.ancestors())
    )
