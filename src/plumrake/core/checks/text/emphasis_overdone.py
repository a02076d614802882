"""Too much is emphasised.

Emphasis works by contrast with what is not emphasised. Whole paragraphs in bold, italics or
capitals emphasise nothing and are hard to read.

## Who is hindered

People who find reading hard, people with low vision, and people who listen to the page: capitals
are sometimes spelt out.

## What an editor does

Keep bold for a few words. Write in small and capital letters.

## What a template developer does

Do not set running text in capitals or italics by style sheet.

## Wrong

    <p><b>The lock is closed in frost, since ice over a finger thick can break the gates when they
      are moved.</b></p>

## Right

    <p>The lock is <b>closed in frost</b>, since ice over a finger thick can break the gates when
      they are moved.</p>

## Left alone

Short lines, headings, quotations in italics, and links that are bold as a whole.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_LEAST = 60
_LEAST_CAPITALS = 30
_BOLD = 600.0
_BLOCKS = frozenset(
    ["p", "li", "dd", "td", "div", "blockquote", "center", "section", "article", "figcaption"]
)
_APART = frozenset("h1 h2 h3 h4 h5 h6 th nav button a label legend pre code summary".split())
_ITALIC_BY_CUSTOM = frozenset(["blockquote", "q", "cite", "figcaption", "address", "em", "i"])


@check(
    id="text/emphasis-overdone",
    weight=Weight.FRICTION,
    criteria=(),
    needs=Needs.STYLE,
    only_people="Which of the words are to stand out, their author knows.",
    messages={
        "bold": "The whole paragraph “{text}” is bold.",
        "italic": "The whole paragraph “{text}” is in italics.",
        "capitals": "The whole paragraph “{text}” is in capitals.",
        "in-link": "Within the link “{text}” some words are bold.",
    },
    questions={
        "bold": "Does all of it need emphasis?",
        "italic": "Does all of it need emphasis?",
        "capitals": "Could it be written in small letters?",
        "in-link": "Does the bold type in this link mean anything?",
    },
)
def emphasis_overdone(page: Page) -> Iterator[Flag]:
    """Yield paragraphs that are wholly bold, italic or in capitals, and links with bold type
    inside."""
    for element in page.every_exposed():
        if element.style is None or not page.is_seen(element):
            continue
        if page.role_of(element) == "link":
            message = "in-link" if _has_bolder_part(element) else None
        else:
            message = _paragraph(page, element) if element.tag in _BLOCKS else None
        if message:
            text = page.text_of(element)
            mend = Mend(
                "advice", "Take the emphasis away, and keep it for a few words where it matters."
            )
            yield cant_tell(
                element,
                message,
                text=shortened(text, 60),
                facts={"text": text[:200]},
                mends=(mend,),
            )


def _owners(page: Page, element: Element) -> list[Element]:
    return [
        text.parent
        for text in element.texts()
        if not is_blank(text.data)
        and page.is_exposed(text.parent)
        and text.parent.style is not None
    ]


def _paragraph(page: Page, element: Element) -> str | None:
    if any(
        inner.tag in _BLOCKS or inner.tag in ("ul", "ol", "table", *_APART)
        for inner in element.descendants()
        if inner.tag != "a"
    ):
        return None
    if element.closest(*_APART) is not None or any(
        page.role_of(one) in ("heading", "button", "link", "banner", "contentinfo")
        for one in element.ancestors()
    ):
        return None
    owners = _owners(page, element)
    text = page.text_of(element)
    if not owners or len(text) < _LEAST_CAPITALS:
        return None
    if _in_capitals(text, owners) and len(text.split()) >= 5:
        return "capitals"
    if len(text) < _LEAST:
        return None
    if all(float(owner.style.font_weight) >= _BOLD for owner in owners if owner.style is not None):
        return "bold"
    italic = all(
        owner.style.font_style.startswith(("italic", "oblique"))
        for owner in owners
        if owner.style is not None
    )
    quoted = (
        element.tag in ("blockquote", "figcaption")
        or element.closest("blockquote", "figure", "address") is not None
    )
    return "italic" if italic and not quoted else None


def _in_capitals(text: str, owners: list[Element]) -> bool:
    if all(
        owner.style.text_transform == "uppercase" for owner in owners if owner.style is not None
    ):
        return True
    capitals = 0
    for letter in text:
        if letter.isalpha() and letter.lower() != letter.upper():
            if not letter.isupper():
                return False
            capitals += 1
    return capitals >= _LEAST_CAPITALS * 0.7


def _has_bolder_part(link: Element) -> bool:
    """Tell whether a part of the link's text is bolder than the rest, or all of it stands in ``b``
    or ``strong``."""
    texts = [
        text for text in link.texts() if not is_blank(text.data) and text.parent.style is not None
    ]
    weights = [
        float(text.parent.style.font_weight) for text in texts if text.parent.style is not None
    ]
    if weights and min(weights) + 200 <= max(weights) and max(weights) >= _BOLD:
        return True
    return bool(texts) and all(
        text.parent is not link and _in_bold_tag(text.parent, link) for text in texts
    )


def _in_bold_tag(element: Element, link: Element) -> bool:
    for one in (element, *element.ancestors()):
        if one is link:
            return False
        if one.tag in ("b", "strong"):
            return True
    return False
