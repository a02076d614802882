"""A line looks like a heading and is none.

Bold or large type makes a heading for the eye. Without the element, nobody can jump to it, and it
is missing in the table of contents.

## Who is hindered

People who move by headings, and people who have the page's outline read to them.

## What an editor does

If the line opens what follows, choose a heading of the right level for it instead of bold type.

## What a template developer does

Offer headings in the editor, and look after pasted text: bold paragraphs are often headings there.

## Wrong

    <p><b>Opening times</b></p><p>The lock is open from eight to seven in summer.</p>

## Right

    <h2>Opening times</h2><p>The lock is open from eight to seven in summer.</p>

## Left alone

Bold words within a text, table cells, labels, captions, links, lines that end with a full stop,
and lines that introduce a list with a colon.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import has_letters_or_digits

_LONGEST, _LARGER, _BOLD = 80, 1.2, 600.0
_CANDIDATES = frozenset(["p", "div", "span", "center", "font", "b", "strong", "big"])
_NOT_IN = frozenset(
    (
        "h1 h2 h3 h4 h5 h6 td th caption figcaption label legend button a dt summary nav pre "
        "option header footer address blockquote th li"
    ).split()
)
_CONTROLS = frozenset(["a", "br", "img", "input", "select", "label"])
_ORDINARY = frozenset(["p", "ul", "ol", "dl", "div", "table", "blockquote", "pre"])


@check(
    id="headings/styled-as-heading",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.STYLE,
    messages={
        "bold": "“{text}” stands alone in bold, like a heading, and is none.",
        "large": (
            "“{text}” stands alone in type of {size} px, like a heading, and is none (body text: "
            "{body} px)."
        ),
    },
    questions={
        "bold": "Does this line open what follows? Then it has to be a heading.",
        "large": "Does this line open what follows? Then it has to be a heading.",
    },
)
def styled_as_heading(page: Page) -> Iterator[Flag]:
    """Yield every short block, wholly bold or clearly larger than body text, that ordinary text
    follows."""
    body, elsewhere = _body_size(page), _elsewhere(page)
    for element in page.every_exposed():
        if element.tag not in _CANDIDATES or not _is_block(element) or element.index in elsewhere:
            continue
        text = page.text_of(element)
        if (
            not text
            or len(text) >= _LONGEST
            or text[-1] in ".,;:…"
            or not has_letters_or_digits(text)
        ):
            continue
        looks = _looks(element)
        following = _next_block(element)
        if looks is None or following is None or not _is_ordinary(page, following, looks):
            continue
        size, weight = looks
        message = "large" if size >= body * _LARGER else "bold" if weight >= _BOLD else None
        if message:
            level = _level_here(page, element)
            facts = {
                "text": text,
                "font_size": size,
                "font_weight": weight,
                "body_size": body,
                "level": level,
            }
            mend = Mend("rename-element", f"Make it a heading of level {level}.", to=f"h{level}")
            yield cant_tell(
                element,
                message,
                text=text,
                size=f"{size:g}",
                body=f"{body:g}",
                facts=facts,
                mends=(mend,),
            )


def _body_size(page: Page) -> float:
    sizes: Counter[float] = Counter()
    for element in page.elements:
        if element.style is not None and page.is_shown(element):
            sizes[_size(element)] += sum(len(text.data) for text in page.own_texts(element))
    return sizes.most_common(1)[0][0] if sizes else 16.0


def _size(element: Element) -> float:
    return (
        round(float(element.style.font_size.removesuffix("px")), 2)
        if element.style is not None
        else 16.0
    )


def _is_block(element: Element) -> bool:
    return element.style is not None and element.style.display in ("block", "flow-root", "flex")


def _elsewhere(page: Page) -> set[int]:
    """Return the elements that are part of a heading, cell, link, label or the like, or hold blocks
    or controls of their own."""
    within: set[int] = set()
    holds_control: set[int] = set()
    holds_block: set[int] = set()
    for element in page.elements:
        own = element.tag in _NOT_IN or page.role_of(element) in (
            "heading",
            "link",
            "button",
            "banner",
            "contentinfo",
        )
        if own or (element.parent is not None and element.parent.index in within):
            within.add(element.index)
    for element in reversed(page.elements):
        if element.parent is None:
            continue
        if (
            element.index in holds_control
            or element.tag in _CONTROLS
            or page.role_of(element) in ("heading", "button")
        ):
            holds_control.add(element.parent.index)
        if element.index in holds_block or _is_block(element):
            holds_block.add(element.parent.index)
    return within | holds_control | holds_block


def _looks(element: Element) -> tuple[float, float] | None:
    """Return size and weight that all the block's text has in common: the least of each."""
    owners = [
        text.parent
        for text in element.texts()
        if not is_blank(text.data) and text.parent.style is not None
    ]
    if not owners:
        return None
    return min(map(_size, owners)), min(
        float(owner.style.font_weight) for owner in owners if owner.style is not None
    )


def _next_block(element: Element) -> Element | None:
    here: Element | None = element
    while here is not None and here.parent is not None:
        siblings = list(here.parent.elements())
        at = siblings.index(here)
        if at + 1 < len(siblings):
            return siblings[at + 1]
        if at > 0 or here.parent.tag in ("body", "main", "article", "section", "td", "li"):
            return None
        here = here.parent
    return None


def _is_ordinary(page: Page, following: Element, looks: tuple[float, float]) -> bool:
    if (
        following.tag not in _ORDINARY
        or not page.is_exposed(following)
        or page.role_of(following) in ("navigation", "none")
    ):
        return False
    theirs = _looks(following)
    if theirs is None or len(page.text_of(following)) < 20:
        return False
    return theirs[0] < looks[0] or theirs[1] < min(looks[1], _BOLD)


def _level_here(page: Page, element: Element) -> int:
    before = page.heading_before(element)
    return (
        min(6, page.level_of(before) + (1 if page.level_of(before) == 1 else 0))
        if before is not None
        else 2
    )
