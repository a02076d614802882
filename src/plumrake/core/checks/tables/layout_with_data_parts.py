"""A table is marked as layout and has the parts of a data table.

``role="presentation"`` takes rows, columns and headers away. Header cells, caption or summary say
that there is something to be taken away.

## Who is hindered

People who listen to the page, if it is a data table: its headers are lost.

## What an editor does

Tell whoever keeps the templates whether the table holds data.

## What a template developer does

If it holds data, take the role away. If not, print ``td`` instead of ``th``, and no caption or
summary.

## Wrong

    <table role="presentation"><tr><th>Lock</th></tr><tr><td>Hallow</td></tr></table>

## Right

    <table><caption>Locks</caption><tr><th
      scope="col">Lock</th></tr><tr><td>Hallow</td></tr></table>

## Left alone

Presentational tables of plain cells.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="tables/layout-with-data-parts",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={"parts": "The table is marked as layout and has {parts}."},
)
def layout_with_data_parts(page: Page) -> Iterator[Flag]:
    """Yield every table with a presentational role that has ``th``, ``caption`` or ``summary``."""
    for element in page.every_exposed():
        if element.tag != "table" or page.explicit_role(element) != "none":
            continue
        model = page.table_model_of(element)
        parts = [
            word
            for word, there in (
                ("header cells", bool(model.headers)),
                ("a caption", any(child.tag == "caption" for child in element.elements())),
                ("a summary", bool(element.get("summary").strip())),
            )
            if there
        ]
        if parts:
            mends = (
                Mend("remove-attribute", "If it holds data, take the role away.", attribute="role"),
                Mend(
                    "advice",
                    (
                        "If it only places things, make its header cells plain cells and take "
                        "caption and summary away."
                    ),
                ),
            )
            yield failed(
                element, "parts", parts=" and ".join(parts), facts={"parts": parts}, mends=mends
            )
