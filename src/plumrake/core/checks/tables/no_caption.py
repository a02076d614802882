"""A data table has no caption.

The caption says what the table is about before its cells are read.

## Who is hindered

People who listen to the page and jump from table to table: they have to listen into each to find
the right one.

## What an editor does

Write a caption in the table's settings.

## What a template developer does

Print ``caption`` as the table's first child; a heading above may name it by ``aria-labelledby``.

## Wrong

    <table><tr><th scope="col">Lock</th></tr><tr><td>Hallow</td></tr></table>

## Right

    <table><caption>Locks with a keeper</caption><tr><th
      scope="col">Lock</th></tr><tr><td>Hallow</td></tr></table>

## Left alone

Tables that seem to place things, tables named in another way, and the only table of a captioned
figure.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.tables.shared import data_tables, first_words
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="tables/no-caption",
    weight=Weight.FRICTION,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={"none": "The table “{first} …” has no caption and no other name."},
)
def no_caption(page: Page) -> Iterator[Flag]:
    """Yield every data table without ``caption`` or name."""
    for model in data_tables(page):
        if (
            model.cells
            and not page.name_of(model.table)
            and not _in_captioned_figure(page, model.table)
        ):
            heading = page.heading_before(model.table)
            words = page.name_of(heading) if heading is not None else ""
            says = (
                f"Write a caption; the heading above says “{shortened(words, 50)}”."
                if words
                else "Write a caption that says what the table is about."
            )
            facts = {
                "rows": len(model.rows),
                "columns": model.width,
                "heading_above": words or None,
            }
            yield failed(
                model.table,
                "none",
                first=first_words(model),
                facts=facts,
                mends=(Mend("insert", says, to="caption", where="first"),),
            )


def _in_captioned_figure(page: Page, table: Element) -> bool:
    figure = table.closest("figure")
    return figure is not None and any(
        child.tag == "figcaption" and page.text_of(child) for child in figure.elements()
    )
