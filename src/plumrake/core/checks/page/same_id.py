"""An id is used more than once.

Whatever refers to the id (a label, a link, a name) finds the first of them.

## Who is hindered

People who listen to the page, when a label or name ends at the wrong element. Where nothing refers
to the id, nobody is for now.

## What an editor does

If you pasted a block twice, ask whoever keeps the templates whether that is meant.

## What a template developer does

Make ids of repeated blocks unique, for instance with the entry's number.

## Wrong

    <label for="boat">Boat</label><input id="boat"><label for="boat">Place</label><input id="boat">

## Right

    <label for="boat">Boat</label><input id="boat"><label for="place">Place</label><input
      id="place">

## Left alone

Ids in different shadow trees.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import REFERENCES
from plumrake.core.words import shortened


@check(
    id="page/same-id",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2", "1.3.1"),
    needs=Needs.TREE,
    messages={
        "referred": "The id “{id}” is used {count} times, and {by} refers to it.",
        "unused": "The id “{id}” is used {count} times; nothing refers to it.",
    },
    questions={"unused": "Does a script or a link from another page need this id?"},
)
def same_id(page: Page) -> Iterator[Flag]:
    """Yield each element of several with one id: failed where something refers to it, else
    ``cantTell``."""
    doubled = {key: members for key, members in page.document.ids.items() if len(members) > 1}
    if not doubled:
        return
    referred = _references(page)
    for (_, identifier), members in doubled.items():
        by = referred.get(identifier)
        for element in members:
            facts = {"id": identifier, "referred_by": by, "others": page.others(members, element)}
            mend = Mend("own-id", "Give it an id of its own, and let what refers to it follow.")
            data = {"id": shortened(identifier, 40), "count": len(members), "by": by}
            if by:
                yield failed(
                    element, "referred", facts=facts, mends=(mend,), cause=(identifier,), **data
                )
            else:
                yield cant_tell(
                    element,
                    "unused",
                    weight=Weight.FRICTION,
                    facts=facts,
                    mends=(mend,),
                    cause=(identifier,),
                    **data,
                )


def _references(page: Page) -> dict[str, str]:
    """Return, for every id that something on the page refers to, the attribute that does."""
    found: dict[str, str] = {}
    for element in page.elements:
        for attribute, value in element.attributes.items():
            if attribute in REFERENCES or attribute in ("for", "headers", "list", "form"):
                found |= dict.fromkeys(value.split(), attribute)
            elif attribute == "href" and value.startswith("#") and len(value) > 1:
                found[value[1:]] = "href"
    return found
