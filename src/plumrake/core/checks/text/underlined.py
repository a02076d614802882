"""Underline where there is no link.

On the web, visitors take underlined words for a link. They click, nothing happens, and they wonder
whether the page is broken. Afterwards they trust real links less.

## Who is hindered

People who look over the page for links, and people for whom each click that does nothing is an
effort: those who use a switch, a mouth stick or speech.

## What an editor does

Take the underline away; for emphasis use bold.

## What a template developer does

Keep underlines for links.

## Wrong

    <p>The lock is <u>closed</u> in frost.</p>

## Right

    <p>The lock is <strong>closed</strong> in frost.</p>

## Left alone

Links and buttons, insertions (``ins``), abbreviations with an explanation, marked misspellings.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import has_letters_or_digits, shortened

_OTHERWISE = frozenset("ins abbr a button summary acronym dfn label input select textarea".split())


@check(
    id="text/underlined",
    weight=Weight.FRICTION,
    criteria=(),
    needs=Needs.STYLE,
    styles="display visibility text_decoration_line",
    messages={"underlined": "“{text}” is underlined and is no link."},
    questions={"underlined": "Does the underline mean something that could be shown otherwise?"},
)
def underlined(page: Page) -> Iterator[Flag]:
    """Yield every shown element outside controls that underlines text."""
    for element in page.every_exposed():
        style = element.style
        if (
            style is None
            or "underline" not in style.text_decoration_line
            or not page.is_seen(element)
        ):
            continue
        path = (element, *element.ancestors())
        if any(
            one.tag in _OTHERWISE
            or page.role_of(one) in ("link", "button", "tab", "menuitem", "option")
            for one in path
        ):
            continue
        if any(page.role_of(one) == "link" or one.tag == "a" for one in element.descendants()):
            continue
        text = page.text_of(element)
        if has_letters_or_digits(text):
            mend = Mend(
                "set-style", "Take the underline away.", property="text-decoration", value="none"
            )
            yield cant_tell(
                element,
                "underlined",
                text=shortened(text, 60),
                facts={"text": text[:200]},
                mends=(mend,),
            )
