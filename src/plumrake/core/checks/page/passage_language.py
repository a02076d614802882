"""The language of a passage does not exist.

Passages in another language are marked so that they are read with its voice. A mark that no program
knows does nothing.

## Who is hindered

People who listen to the page: the passage is read with the voice of the language around it.

## What an editor does

Choose the passage's language anew in the editor.

## What a template developer does

Print a language tag: ``de``, ``fr``, ``cy``, not a language's name or a country's code.

## Wrong

    <p>They say <span lang="german">Schleuse</span> for lock.</p>

## Right

    <p>They say <span lang="de">Schleuse</span> for lock.</p>

## Left alone

Empty ``lang`` (the language is not known), and parts without text.
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
    id="page/passage-language",
    weight=Weight.OBSTACLE,
    criteria=("3.1.2",),
    needs=Needs.TREE,
    act_rule="de46e4",
    messages={
        "form": "The language “{tag}” of “{text}” does not have the form of a language tag.",
        "unknown": "The language “{tag}” of “{text}” is in no register of languages.",
    },
)
def passage_language(page: Page) -> Iterator[Flag]:
    """Yield every exposed part below ``html`` with text whose non-empty ``lang`` is no valid
    tag."""
    for element in page.every_exposed():
        tag = element.get("lang")
        if element is page.root or is_blank(tag):
            continue
        fault = fault_of_tag(tag)
        text = (page.text_of(element) or page.name_of(element)) if fault else ""
        if fault and text:
            near = near_tag(tag)
            mend = Mend(
                "set-attribute",
                f"Write {near}." if near else "Write the language of the passage: de, fr, cy …",
                attribute="lang",
                value=near,
                sure=near is not None,
            )
            yield failed(
                element,
                fault,
                tag=shortened(tag, 30),
                text=shortened(text, 50),
                facts={"lang": tag, "text": text[:200]},
                mends=(mend,),
            )
