"""A cell names a header that is not there.

``headers`` ties a cell to its header cells by their ids. An id that no cell of the table has ties
it to nothing.

## Who is hindered

People who listen to the page: the cell is announced without its headers, since ``headers`` takes
the place of what could be guessed.

## What an editor does

If rows were copied or deleted, tell whoever keeps the templates.

## What a template developer does

Write ids of header cells of the same table, or use ``scope`` instead.

## Wrong

    <table><tr><th id="summer">Summer</th></tr><tr><td headers="sommer">8 to 19</td></tr></table>

## Right

    <table><tr><th id="summer">Summer</th></tr><tr><td headers="summer">8 to 19</td></tr></table>

## Left alone

Empty ``headers``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.tables.shared import native_tables
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="tables/headers-dangling",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    act_rule="a25f45",
    messages={
        "dangling": (
            "The cell “{text}” names the header “{missing}”, which no other cell of its table is."
        )
    },
)
def headers_dangling(page: Page) -> Iterator[Flag]:
    """Yield every exposed cell whose ``headers`` names an id that no other cell of the same table
    has."""
    for model in native_tables(page):
        known = {cell.get("id"): cell for cell in model.cells if cell.get("id")}
        for cell in model.cells:
            missing = [
                token for token in cell.get("headers").split() if known.get(token) in (None, cell)
            ]
            if missing and page.is_exposed(cell):
                found = [header for header in model.headers if header.get("id")]
                facts = {
                    "missing": missing,
                    "ids_of_headers": [header.get("id") for header in found][:20],
                }
                mends = (
                    Mend(
                        "set-attribute",
                        "Write the ids of the header cells that it belongs to.",
                        attribute="headers",
                    ),
                    Mend(
                        "remove-attribute",
                        (
                            "Or take headers away: its place in the table then tells which "
                            "headers belong to it."
                        ),
                        attribute="headers",
                    ),
                )
                yield failed(
                    cell,
                    "dangling",
                    text=shortened(page.text_of(cell), 40),
                    missing=" ".join(missing),
                    facts=facts,
                    mends=mends,
                )
