"""What the checks of tables share: which tables hold data."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.page import Page
from plumrake.core.semantics.table_model import TableModel
from plumrake.core.vocabulary import BLOCK_TAGS

_TABLES = ("table", "grid", "treegrid")
_IN_CELLS = BLOCK_TAGS | {"img", "form", "input", "button"}


def data_tables(page: Page) -> Iterator[TableModel]:
    """Yield the exposed tables that are not marked as presentational and do not seem to place
    things."""
    for model in native_tables(page):
        if why_layout(page, model) is None:
            yield model


def native_tables(page: Page) -> Iterator[TableModel]:
    """Yield every exposed ``table`` with the role of a table, as a model."""
    for element in page.every_exposed():
        if element.tag == "table" and page.role_of(element) in _TABLES:
            yield page.table_model_of(element)


def has_headers(model: TableModel) -> bool:
    """Tell whether the table has header cells, or cells that name their headers."""
    return bool(model.headers) or any(cell.get("headers").strip() for cell in model.cells)


def why_layout(page: Page, model: TableModel) -> str | None:
    """Return why a table without headers seems to place things: ``nested``, ``one-cell``,
    ``one-row``; else None."""
    table = model.table
    if (
        has_headers(model)
        or any(child.tag == "caption" for child in table.elements())
        or table.get("summary").strip()
        or page.name_of(table)
    ):
        return None
    if (
        any(inner.tag == "table" for inner in table.descendants())
        or table.closest("td", "th") is not None
    ):
        return "nested"
    if len(model.cells) <= 1:
        return "one-cell"
    if len(model.rows) == 1 and any(
        inner.tag in _IN_CELLS for cell in model.cells for inner in cell.elements()
    ):
        return "one-row"
    return None


def first_words(model: TableModel) -> str:
    """Return the text of the first cells, to know the table by."""
    return " | ".join(cell.text() for cell in model.cells[:3])[:80]
