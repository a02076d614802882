"""A link or control is called otherwise than it shows.

People who steer by voice say what they read. If the accessible name does not hold those words,
nothing happens.

## Who is hindered

People who steer by voice, and people who see the page and hear it at the same time.

## What an editor does

Begin the hidden name with the words that are seen: "Buy – licence for a year" on a button "Buy".

## What a template developer does

Leave ``aria-label`` away where the visible text says enough; where it has to add something, let it
hold the visible text word by word.

## Wrong

    <a href="/fees" aria-label="Mooring charges">Fees</a>

## Right

    <a href="/fees" aria-label="Fees for moorings">Fees</a>

## Left alone

Text that is hidden from screen readers, single signs such as "×", and typed values.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import target_of
from plumrake.core.dom import Element, collapse, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import holds_phrase, normalised, shortened

_ROLES = frozenset(
    (
        "link button checkbox radio switch tab menuitem menuitemcheckbox menuitemradio option "
        "treeitem"
    ).split()
)
_FIELDS = frozenset(
    "textbox searchbox combobox spinbutton slider listbox checkbox radio switch".split()
)


@check(
    id="links/label-differs",
    weight=Weight.OBSTACLE,
    criteria=("2.5.3",),
    needs=Needs.TREE,
    act_rule="2ee8b8",
    messages={
        "differs": "It reads “{label}” and is called “{name}”, which does not hold these words."
    },
)
def label_differs(page: Page) -> Iterator[Flag]:
    """Yield every link and control whose visible text is not part of its accessible name."""
    for element in page.interactive():
        if not (element.has("aria-label") or element.has("aria-labelledby")):
            continue
        name, label = page.name_of(element), _visible_label(page, element)
        if (
            not name
            or len(normalised(label)) < 2
            or holds_phrase(normalised(name), normalised(label))
        ):
            continue
        yield failed(
            element,
            "differs",
            label=shortened(label),
            name=shortened(name),
            facts={
                "label": label,
                "name": name,
                "target": target_of(element) if page.role_of(element) == "link" else None,
            },
            mends=(
                Mend(
                    "remove-attribute",
                    "Let the visible text be the name.",
                    attribute="aria-label" if element.has("aria-label") else "aria-labelledby",
                ),
                *(
                    (
                        Mend(
                            "set-attribute",
                            "Or begin the name with the visible words.",
                            attribute="aria-label",
                            value=f"{label} – {name}",
                        ),
                    )
                    if element.has("aria-label") and not element.has("aria-labelledby")
                    else ()
                ),
            ),
        )


def _visible_label(page: Page, element: Element) -> str:
    role = page.role_of(element)
    if element.tag == "input" and element.get("type").lower() in ("button", "submit", "reset"):
        return element.get("value")
    if role in _FIELDS and (labels := page.labels_of(element)):
        return collapse(" ".join(_seen(page, label, element) for label in labels))
    return (
        _seen(page, element, None)
        if role in _ROLES and element.tag not in ("input", "select", "textarea")
        else ""
    )


def _seen(page: Page, element: Element, without: Element | None) -> str:
    """Return the text that is seen and exposed, controls inside it left out."""
    laid_out = "layout" in page.evidence.kinds
    parts = []
    for text in element.texts():
        holder = text.parent
        if (
            not page.is_exposed(holder)
            or holder is without
            or (without is not None and without in holder.ancestors())
        ):
            continue
        if (
            laid_out
            and not is_blank(text.data)
            and not page.sight.visible_lines(holder, text.lines)
        ):
            continue
        parts.append(text.data)
    return collapse(" ".join(parts))
