"""The page holds text that nobody gets.

Text that is hidden from sight and from screen readers at once may be a leftover, or wait for a
script. Search and copies of the page still find it.

## Who is hindered

Nobody, if it is meant. If it was to be read, everybody.

## What an editor does

Read it. Delete it if it is a leftover.

## What a template developer does

Do not print what is not shown; load it when it is needed.

## Wrong

    <main><p>Open daily.</p><p hidden>Closed for the winter of 2019.</p></main>

## Right

    <main><p>Open daily.</p></main>

## Left alone

Closed ``details``, dialogs, panels that a control opens, what only labels or describes others, and
controls that scripts show: where all of the text is that of links and buttons.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.page.shared import opened_or_referred
from plumrake.core.dom import Element, collapse, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.vocabulary import NOT_RENDERED
from plumrake.core.words import has_letters_or_digits, shortened

_PASSED_OVER = NOT_RENDERED | frozenset(
    "dialog option optgroup datalist svg object video audio canvas iframe".split()
)
_OPENED_BY_SCRIPTS = frozenset(
    "dialog alertdialog tabpanel menu listbox tooltip alert status".split()
)


@check(
    id="page/hidden-content",
    weight=Weight.FRICTION,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={"hidden": "The page holds {count} words that are hidden from everyone: “{text}”."},
    questions={"hidden": "Is this text meant to be on the page?"},
)
def hidden_content(page: Page) -> Iterator[Flag]:
    """Yield the outermost elements with text that are neither shown nor exposed, but for what can
    be opened or labels others."""
    opened = opened_or_referred(page)
    stack = [page.body]
    while stack:
        element = stack.pop()
        if element.tag in _PASSED_OVER:
            continue
        if page.is_shown(element) or element.tag in ("html", "body"):
            inner = [one for one in element.elements() if not _in_closed_details(element, one)]
            stack.extend(reversed(inner))
            continue
        if element.get("id") in opened or page.explicit_role(element) in _OPENED_BY_SCRIPTS:
            continue
        if any(page.is_shown(inner) for inner in element.descendants()):
            stack.extend(reversed(list(element.elements())))
            continue
        text = collapse(
            " ".join(
                own.data
                for inner in (element, *element.descendants())
                if inner.tag not in NOT_RENDERED
                for own in page.own_texts(inner)
            )
        )
        if (
            has_letters_or_digits(text)
            and not _only_labels(element, opened)
            and not _only_controls(element)
        ):
            mend = Mend(
                "remove-element",
                "Delete it if it is a leftover; judge it to be fine if it is meant.",
            )
            yield cant_tell(
                element,
                "hidden",
                count=len(text.split()),
                text=shortened(text, 60),
                facts={"text": text[:300], "words": len(text.split())},
                mends=(mend,),
            )


def _only_labels(element: Element, referred: frozenset[str]) -> bool:
    """Tell whether all text below the element is in elements that others refer to."""
    if element.tag == "label":
        return True
    inside = {element.index, *(inner.index for inner in element.descendants())}
    owners = [text.parent for text in element.texts() if not is_blank(text.data)]
    paths = [
        [one for one in (owner, *owner.ancestors()) if one.index in inside] for owner in owners
    ]
    return all(
        any(one.get("id") in referred or one.tag == "label" for one in path) for path in paths
    )


def _only_controls(element: Element) -> bool:
    """Tell whether all text of the element is in links and buttons, which a script shows when they
    are of use."""
    owners = [text.parent for text in element.texts() if not is_blank(text.data)]
    return all(
        any(one.tag in ("a", "button") for one in (owner, *owner.ancestors())) for owner in owners
    )


def _in_closed_details(parent: Element, child: Element) -> bool:
    return parent.tag == "details" and not parent.has("open") and child.tag != "summary"
