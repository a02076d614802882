"""An empty paragraph makes room.

Pressing Enter once more to push the next line down leaves a paragraph with nothing in it. Some
screen readers stop there and say "blank"; when the page is enlarged, or printed, the hole grows
with it.

## Who is hindered

People who listen to the page line by line, and wonder whether something failed to load.

## What an editor does

Delete the empty paragraph. Where room is wanted, use the editor's own spacing or a separator.

## What a template developer does

Set the distance of paragraphs in the style sheet, and do not print a field that is empty.

## Wrong

    <p>The lock is closed.</p><p>&nbsp;</p><p>It opens in March.</p>

## Right

    <p>The lock is closed.</p><p>It opens in March.</p>

## Left alone

Paragraphs that a script may fill, such as those with an ``id`` or a role, and hidden ones.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check

_FILLED = frozenset(
    "id role slot is contenteditable data-bind data-text data-content data-field data-i18n".split()
)
_BOUND = ("aria-", "v-", "x-", ":", "@", "ng-", "*ng")


@check(
    id="text/empty-paragraph",
    weight=Weight.FRICTION,
    criteria=(),
    needs=Needs.TREE,
    messages={"empty": "A paragraph has nothing in it; it only makes room."},
)
def empty_paragraph(page: Page) -> Iterator[Flag]:
    """Yield every paragraph that is shown and holds nothing but white space and line breaks."""
    for element in page.elements:
        if element.tag == "p" and _is_empty(element) and page.is_shown(element):
            yield failed(
                element,
                "empty",
                cause=("empty paragraph",),
                mends=(Mend("remove-element", "Delete the empty paragraph."),),
            )


def _is_empty(element: Element) -> bool:
    """Tell whether a paragraph holds nothing, and nothing says that it will."""
    if any(name in _FILLED or name.startswith(_BOUND) for name in element.attributes):
        return False
    inside = list(element.descendants())
    if any(one.tag != "br" for one in inside):
        return False
    return all(is_blank(text.data.replace("\u00a0", " ")) for text in element.texts())
