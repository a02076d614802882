"""A data table has no headers.

Headers tie each value to what it is. Without them, "9" in a table is just nine.

## Who is hindered

People who listen to the page and move from cell to cell: they hear numbers without meaning.

## What an editor does

In the editor, mark the first row (and the first column, if it names the rows) as headers.

## What a template developer does

Print ``th`` with ``scope`` for the cells that name columns or rows.

## Wrong

    <table><tr><td>Lock</td><td>Opens</td></tr><tr><td>Hallow</td><td>8</td></tr></table>

## Right

    <table><tr><th scope="col">Lock</th><th scope="col">Opens</th></tr><tr><th
      scope="row">Hallow</th><td>8</td></tr></table>

## Left alone

Tables that seem to place things are for ``tables/layout-suspect``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.tables.shared import data_tables, first_words, has_headers
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="tables/no-headers",
    weight=Weight.BARRIER,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={"none": "The table “{first} …” of {rows} rows has no header cell."},
)
def no_headers(page: Page) -> Iterator[Flag]:
    """Yield every data table without ``th``, header roles or ``headers``."""
    for model in data_tables(page):
        if model.cells and not has_headers(model):
            facts = {
                "rows": len(model.rows),
                "columns": model.width,
                "first_row": [cell.text() for cell in model.rows[0]][:12],
            }
            mends = (
                Mend(
                    "head-table",
                    'Make the cells of the first row header cells (th with scope="col").',
                    to="row",
                ),
                Mend(
                    "head-table",
                    (
                        "Where the first column names the rows, make its cells header cells too "
                        '(scope="row").'
                    ),
                    to="both",
                ),
            )
            yield failed(
                model.table,
                "none",
                first=first_words(model),
                rows=len(model.rows),
                facts=facts,
                mends=mends,
            )
