"""The page does not say its language.

Screen readers choose a voice by the language. Without it, a page is read with the voice that was
used last.

## Who is hindered

People who listen to the page: English read by a German voice cannot be understood. People who have
pages translated.

## What an editor does

Choose the page's language in its settings, if there is such a field; else tell whoever keeps the
templates.

## What a template developer does

Print ``lang`` on ``html``: ``en``, ``de``, ``cy`` …

## Wrong

    <html><head><title>Moorings</title></head><body></body></html>

## Right

    <html lang="en"><head><title>Moorings</title></head><body></body></html>

## Left alone

Where no browser runs the page: pages whose scripts could add it, which are not tested.

A language that does not exist is for ``page/bad-language``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.added_by_scripts import unless_scripts_add
from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="page/no-language",
    weight=Weight.BARRIER,
    criteria=("3.1.1",),
    needs=(Needs.TREE, Needs.PAGE),
    act_rule="b5c3f8",
    messages={
        "missing": "The page does not say which language it is in.",
        "empty": "The page's language is empty.",
        "xml": "The page's language stands only in xml:lang, which does not count in HTML.",
    },
)
def no_language(page: Page) -> Iterator[Flag]:
    """Yield the page when ``html`` has no ``lang`` or a blank one."""
    if is_blank(page.root.get("lang")):
        unless_scripts_add(page.document, "language")
        message = (
            "empty"
            if page.root.has("lang")
            else "xml"
            if not is_blank(page.root.get("xml:lang"))
            else "missing"
        )
        value = page.root.get("xml:lang") if message == "xml" else None
        mend = Mend(
            "set-attribute",
            "Write the language of the page: en, de, cy …",
            attribute="lang",
            value=value,
        )
        yield failed(
            page.root, message, facts={"lang": page.root.attributes.get("lang")}, mends=(mend,)
        )
