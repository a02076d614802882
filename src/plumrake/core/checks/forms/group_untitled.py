"""A group of choices has no title.

Each choice has its label ("Yes", "No"), but the question that they answer is missing.

## Who is hindered

People who listen to the page: they hear "yes, radio button" and do not know to what.

## What an editor does

Fill in the title of the question in the form's editor.

## What a template developer does

Put the choices into a ``fieldset`` with the question as its ``legend``.

## Wrong

    <p>Winter berth?</p><label><input type="radio" name="w"> Yes</label><label><input type="radio"
      name="w"> No</label>

## Right

    <fieldset><legend>Winter berth?</legend><label><input type="radio" name="w">
      Yes</label><label><input type="radio" name="w"> No</label></fieldset>

## Left alone

A single checkbox. Groups named by ``role="group"`` or ``radiogroup`` with a name.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="forms/group-untitled",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "3.3.2"),
    needs=Needs.TREE,
    messages={
        "fieldset": "The group of {count} choices “{name}” has no legend.",
        "control": "One of {count} choices called “{name}”: nothing says what they are about.",
    },
)
def group_untitled(page: Page) -> Iterator[Flag]:
    """Yield the ``fieldset`` of a group of radios or checkboxes that has no title, or each control
    where there is none."""
    groups: dict[tuple[int, str, str], list[Element]] = defaultdict(list)
    for element in page.every_exposed():
        kind = element.get("type").strip().lower()
        if element.tag == "input" and kind in ("radio", "checkbox") and element.get("name"):
            form = element.closest("form")
            groups[form.index if form is not None else -1, kind, element.get("name")].append(
                element
            )
    reported: set[int] = set()
    for (_, _, name), members in groups.items():
        if len(members) < 2 or all(_has_title(page, member) for member in members):
            continue
        fieldset = members[0].closest("fieldset")
        if fieldset is not None:
            if fieldset.index not in reported:
                reported.add(fieldset.index)
                mend = Mend(
                    "insert",
                    "Put a legend at the beginning of the group that asks the question.",
                    to="legend",
                    where="first",
                )
                yield failed(
                    fieldset,
                    "fieldset",
                    count=len(members),
                    name=name,
                    facts=_facts(page, name, members),
                    mends=(mend,),
                )
            continue
        for member in members:
            mend = Mend(
                "group-choices", "Put the choices into a fieldset with the question as its legend."
            )
            yield failed(
                member,
                "control",
                count=len(members),
                name=name,
                facts=_facts(page, name, members, member),
                mends=(mend,),
            )


def _facts(
    page: Page, name: str, members: list[Element], own: Element | None = None
) -> dict[str, object]:
    return {"field": name, "others": page.others(members, own)}


def _has_title(page: Page, element: Element) -> bool:
    return any(
        page.role_of(ancestor) in ("group", "radiogroup") and page.name_of(ancestor)
        for ancestor in element.ancestors()
    )
