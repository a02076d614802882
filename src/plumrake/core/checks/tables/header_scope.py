"""It cannot be told what a header heads.

In tables with headers above and at the side, or with headers over several columns, programs have to
guess which cells a header belongs to. ``scope`` says it.

## Who is hindered

People who listen to the page: cells are announced with the wrong header or with none.

## What an editor does

In the editor, say for each header whether it heads its column or its row.

## What a template developer does

Print ``scope="col"``, ``"row"``, ``"colgroup"`` or ``"rowgroup"`` for each ``th``.

## Wrong

    <table><tr><td></td><th>Summer</th></tr><tr><th>Hallow</th><td>8 to 19</td></tr></table>

## Right

    <table><tr><td></td><th scope="col">Summer</th></tr><tr><th scope="row">Hallow</th><td>8 to
      19</td></tr></table>

## Left alone

Tables with headers on one side only, tables whose cells name their headers, and titles over the
whole table's width.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.tables.shared import first_words, native_tables
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.table_model import TableModel, span

_SCOPES = frozenset(["col", "row", "colgroup", "rowgroup"])


@check(
    id="tables/header-scope",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={
        "both": (
            "The table “{first} …” has headers above and at the side, and {count} of them do not "
            "say which way they head."
        ),
        "spanning": (
            "The table “{first} …” has headers over several cells, and {count} of them do not "
            "say which way they head."
        ),
    },
)
def header_scope(page: Page) -> Iterator[Flag]:
    """Yield every table with headers on both axes or spanning headers where ``scope`` and
    ``headers`` are missing."""
    for model in native_tables(page):
        if any(cell.get("headers").strip() for cell in model.cells):
            continue
        headers = [cell for cell in model.headers if not _is_idle(model, cell)]
        unsaid = [cell for cell in headers if not _says(cell)]
        spanning = [
            cell for cell in unsaid if span(cell, "colspan") > 1 or span(cell, "rowspan") != 1
        ]
        message = (
            "both" if unsaid and _on_both_axes(model, headers) else "spanning" if spanning else None
        )
        if message:
            which = unsaid if message == "both" else spanning
            mend = Mend(
                "set-scopes",
                "Say for each header cell whether it heads its column or its row (scope).",
                sure=True,
            )
            facts = {"headers": [page.selector_of(cell) for cell in which]}
            yield failed(
                model.table,
                message,
                first=first_words(model),
                count=len(which),
                facts=facts,
                mends=(mend,),
            )


def _says(cell: Element) -> bool:
    return cell.get("scope").strip().lower() in _SCOPES or cell.get("role").strip().lower() in (
        "columnheader",
        "rowheader",
    )


def _is_idle(model: TableModel, cell: Element) -> bool:
    """Tell whether the header heads nothing in particular: an empty corner, or a title over the
    whole width."""
    if model.is_corner(cell) and not cell.text():
        return True
    return (
        span(cell, "colspan") >= model.width > 1
        and len(model.rows[model.places[cell.index][1]]) == 1
    )


def _on_both_axes(model: TableModel, headers: list[Element]) -> bool:
    above = any(
        model.is_in_header_row(cell) or cell.get("scope").lower().startswith("col")
        for cell in headers
    )
    aside = any(
        not model.is_in_header_row(cell) or cell.get("scope").lower().startswith("row")
        for cell in headers
    )
    return above and aside
