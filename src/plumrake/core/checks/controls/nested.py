"""A control stands inside another control.

A link in a button, or a button in a link: which of them a click or the Enter key means is left to
chance, and the inner one is often not announced.

## Who is hindered

People who listen to the page (the inner control is swallowed by the outer one's name), and people
with unsteady hands.

## What an editor does

If you put a link into a button or a linked block, take one of them away.

## What a template developer does

Set them beside each other. A card becomes clickable as a whole when its headline's link is
stretched over it by style sheet.

## Wrong

    <a href="/hallow">Hallow Lock <button>Remember</button></a>

## Right

    <a href="/hallow">Hallow Lock</a> <button>Remember</button>

## Left alone

Labels around their field, and composites that own their items (menus, trees, lists of choices).
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_tab_stop
from plumrake.core.vocabulary import INTERACTIVE_ROLES
from plumrake.core.words import shortened

_OUTER = frozenset(
    (
        "link button checkbox radio switch tab menuitem menuitemcheckbox menuitemradio option "
        "slider"
    ).split()
)


@check(
    id="controls/nested",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    only_people=("Where the inner control is to stand, and what the outer one does then."),
    act_rule="307n5z",
    messages={"inside": "This {inner} stands inside a {outer} (“{name}”)."},
)
def nested(page: Page) -> Iterator[Flag]:
    """Yield every exposed control inside a control that cannot hold one."""
    for element in page.every_exposed():
        role = page.role_of(element)
        if role not in INTERACTIVE_ROLES and not (is_tab_stop(element)):
            continue
        outer = next(
            (ancestor for ancestor in element.ancestors() if page.role_of(ancestor) in _OUTER), None
        )
        if (
            outer is None
            or (role == "menuitem" and page.role_of(outer) == "menuitem")
            or element.tag == "option"
        ):
            continue
        facts = {"role": role, "outer": page.selector_of(outer), "outer_role": page.role_of(outer)}
        mend = Mend("advice", f"Set it beside the {page.role_of(outer)} instead of inside it.")
        inner = role if role in INTERACTIVE_ROLES else f"<{element.tag}>"
        yield failed(
            element,
            "inside",
            inner=inner,
            outer=page.role_of(outer),
            name=shortened(page.name_of(outer), 50),
            facts=facts,
            mends=(mend,),
        )
