"""A header cell is empty.

The column or row below or beside it has no name.

## Who is hindered

People who listen to the page: cells of this column or row are announced without what they are.

## What an editor does

Write what the column or row holds.

## What a template developer does

If the cell heads nothing, print ``td``. For a column of buttons, a text hidden from sight will do.

## Wrong

    <table><tr><th>Lock</th><th></th></tr><tr><td>Hallow</td><td>8 to 19</td></tr></table>

## Right

    <table><tr><th>Lock</th><th>Summer</th></tr><tr><td>Hallow</td><td>8 to 19</td></tr></table>

## Left alone

The top left corner.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.tables.shared import native_tables
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="tables/empty-header",
    weight=Weight.FRICTION,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={"empty": "Header cell {column} of row {row} is empty."},
)
def empty_header(page: Page) -> Iterator[Flag]:
    """Yield every exposed header cell with an empty name that is not the top left corner."""
    for model in native_tables(page):
        for cell in model.headers:
            if (
                page.is_exposed(cell)
                and not model.is_corner(cell)
                and not page.name_of(cell)
                and not _has_control(cell)
            ):
                x, y, _, _ = model.places[cell.index]
                mends = (
                    Mend("replace-text", "Write what the column or row holds."),
                    Mend(
                        "rename-element", "Or, if it heads nothing, make it a plain cell.", to="td"
                    ),
                )
                yield failed(
                    cell,
                    "empty",
                    column=x + 1,
                    row=y + 1,
                    facts={"column": x + 1, "row": y + 1},
                    mends=mends,
                )


def _has_control(cell: Element) -> bool:
    return any(inner.tag in ("input", "select", "button") for inner in cell.descendants())
