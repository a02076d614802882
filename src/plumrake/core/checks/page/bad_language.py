"""The page's language does not exist.

A language that no program knows counts as none.

## Who is hindered

People who listen to the page: it may be read with the wrong voice.

## What an editor does

Choose the page's language anew in its settings; else tell whoever keeps the templates.

## What a template developer does

Print a language tag: ``en``, ``en-GB``, ``de``, ``cy``, not a language's name or a country's code.

## Wrong

    <html lang="english"><body></body></html>

## Right

    <html lang="en"><body></body></html>

## Left alone

Regions and variants behind a known language.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened
from plumrake.core.words.languages import fault_of_tag, near_tag


@check(
    id="page/bad-language",
    weight=Weight.OBSTACLE,
    criteria=("3.1.1",),
    needs=(Needs.TREE, Needs.PAGE),
    act_rule="bf051a",
    messages={
        "form": "The page's language “{tag}” does not have the form of a language tag.",
        "unknown": "The page's language “{tag}” is in no register of languages.",
    },
)
def bad_language(page: Page) -> Iterator[Flag]:
    """Yield the page when ``html lang`` is not well-formed or its primary subtag is not
    registered."""
    tag = page.root.get("lang")
    fault = fault_of_tag(tag) if not is_blank(tag) else None
    if fault is not None:
        near = near_tag(tag)
        mend = Mend(
            "set-attribute",
            f"Write {near}." if near else "Write the language of the page: en, de, cy …",
            attribute="lang",
            value=near,
            sure=near is not None,
        )
        yield failed(page.root, fault, tag=shortened(tag, 30), facts={"lang": tag}, mends=(mend,))
