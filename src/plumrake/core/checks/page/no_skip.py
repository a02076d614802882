"""There is no way past the menus.

Before the content stand more than ten links and controls. Without a link past them, each has to be
passed by Tab, on every page.

## Who is hindered

People who go by keyboard or switch.

## What an editor does

Tell whoever keeps the templates.

## What a template developer does

Let the first link of the page lead to the main content. It may be hidden until it takes focus.

## Wrong

    <nav><a href="/1">1</a><a href="/2">2</a><a href="/3">3</a><a href="/4">4</a><a
      href="/5">5</a><a href="/6">6</a><a href="/7">7</a><a href="/8">8</a><a href="/9">9</a><a
      href="/10">10</a><a href="/11">11</a></nav><main>Text</main>

## Right

    <a href="#content">Skip to the content</a><nav><a href="/1">1</a><a href="/2">2</a><a
      href="/3">3</a><a href="/4">4</a><a href="/5">5</a><a href="/6">6</a><a href="/7">7</a><a
      href="/8">8</a><a href="/9">9</a><a href="/10">10</a></nav><main id="content">Text</main>

## Left alone

Where no browser runs the page: pages whose scripts could add it, which are not tested.

Pages without a main landmark, which have a check of their own.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.added_by_scripts import unless_scripts_add
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.semantics.roles import is_disabled, is_tab_stop
from plumrake.core.words import skip_words


@check(
    id="page/no-skip",
    weight=Weight.OBSTACLE,
    criteria=("2.4.1",),
    needs=(Needs.TREE, Needs.PAGE),
    parameters={"most": 10},
    messages={
        "none": "{count} Tab stops come before the main content, and no link leads past them."
    },
)
def no_skip(page: Page, options: Options) -> Iterator[Flag]:
    """Yield the page when more than ``most`` Tab stops precede ``main`` and no link among them
    leads to it or past it."""
    main = page.landmarks.main
    if main is None:
        return
    stops = [
        element
        for element in page.every_exposed()
        if element.index < main.index and _is_stop(element)
    ]
    if len(stops) <= options["most"] or any(_leads_past(page, stop, main) for stop in stops):
        return
    unless_scripts_add(page.document, "way-past-menus")
    mend = Mend(
        "link-past-menus",
        "Let the first link of the page lead to the main content.",
        value=skip_words(page.language),
    )
    yield failed(
        page.root,
        "none",
        count=len(stops),
        facts={"stops": len(stops), "most": options["most"]},
        mends=(mend,),
    )


def _is_stop(element: Element) -> bool:
    return is_tab_stop(element) and not is_disabled(element)


def _leads_past(page: Page, stop: Element, main: Element) -> bool:
    address = stop.get("href").strip()
    if not address.startswith("#") or len(address) < 2:
        return False
    target = page.by_id(address[1:]) or next(
        (one for one in page.elements if one.tag == "a" and one.get("name") == address[1:]), None
    )
    return target is not None and (
        target.index >= main.index
        or main in target.descendants()
        or _is_just_before(page, target, main)
    )


def _is_just_before(page: Page, target: Element, main: Element) -> bool:
    """Tell whether no Tab stop stands between the target and the main content."""
    return not any(
        target.index < element.index < main.index and _is_stop(element)
        for element in page.every_exposed()
    )
