"""The page has no main landmark.

``main`` tells where the content is. Programs offer a key that leads there.

## Who is hindered

People who listen to the page or go by keyboard: on every page the way to the content leads through
the menus.

## What an editor does

Tell whoever keeps the templates.

## What a template developer does

Put the page's own content into one ``main``.

## Wrong

    <html lang="en"><body><header>Harrowmere</header><div><h1>Moorings</h1></div></body></html>

## Right

    <html lang="en"><body><header>Harrowmere</header><main><h1>Moorings</h1></main></body></html>

## Left alone

Where no browser runs the page: pages whose scripts could add it, which are not tested.

``role="main"`` is as good.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.added_by_scripts import unless_scripts_add
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="page/no-main",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "2.4.1"),
    needs=(Needs.TREE, Needs.PAGE),
    only_people=(
        "What is the page's own content and what is its frame, the template's author knows."
    ),
    messages={"none": "The page has no main landmark."},
)
def no_main(page: Page) -> Iterator[Flag]:
    """Yield the page when it has no exposed ``main`` landmark."""
    if not page.exposed(role="main"):
        unless_scripts_add(page.document, "main")
        mend = Mend(
            "advice",
            "Put the page's own content into a main element, menus and footer outside of it.",
        )
        yield failed(
            page.root,
            "none",
            facts={"landmarks": [page.role_of(one) for one in page.landmarks.all]},
            mends=(mend,),
        )
