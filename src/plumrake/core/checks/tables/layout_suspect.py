"""A table seems to place things instead of holding data.

Tables that only set things side by side are announced as tables, with rows and columns that mean
nothing.

## Who is hindered

People who listen to the page: "table with 1 row and 3 columns" where there is none, and text read
in the order of the cells.

## What an editor does

Set the blocks below each other, or use the editor's columns.

## What a template developer does

Place things by style sheet. Where the table has to stay, mark it ``role="presentation"``.

## Wrong

    <table><tr><td><p>Our locks are open.</p></td><td><img src="lock.jpg" alt="A
      lock"></td></tr></table>

## Right

    <table role="presentation"><tr><td><p>Our locks are open.</p></td><td><img src="lock.jpg" alt="A
      lock"></td></tr></table>

## Left alone

Tables with headers, a caption or a name.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.tables.shared import first_words, native_tables, why_layout
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="tables/layout-suspect",
    weight=Weight.FRICTION,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={
        "nested": "The table “{first} …” has no headers and is nested with another table.",
        "one-cell": "The table “{first} …” has one cell.",
        "one-row": "The table “{first} …” is one row of blocks without headers.",
    },
    questions={
        "nested": "Does this table hold data that belong to rows and columns?",
        "one-cell": "Does this table hold data that belong to rows and columns?",
        "one-row": "Does this table hold data that belong to rows and columns?",
    },
)
def layout_suspect(page: Page) -> Iterator[Flag]:
    """Yield every table without headers that is nested, has one cell or is one row of blocks."""
    for model in native_tables(page):
        why = why_layout(page, model)
        if why is not None and (model.cells or why == "nested"):
            facts = {"rows": len(model.rows), "columns": model.width, "why": why}
            mends = (
                Mend(
                    "set-attribute",
                    "If it only places things, say so.",
                    attribute="role",
                    value="presentation",
                ),
                Mend("advice", "If it holds data, give it header cells and a caption."),
            )
            yield cant_tell(model.table, why, first=first_words(model), facts=facts, mends=mends)
