"""The table model: which cell lies where, and which header cells belong to it (HTML Standard,
4.9.12)."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from dataclasses import dataclass, field
from functools import cached_property

from plumrake.core.dom import Element
from plumrake.core.numbers import non_negative

_MOST_SPAN = 1000
_MOST_SLOTS = 100_000
"""Where spans would fill more slots than this, the cells that remain count as one slot each."""
_MOST_HEADERS = 40
"""So many header cells of one cell are looked at in each direction; nobody keeps more in mind."""


@dataclass
class _Line:
    """The header cells of one row or column, with the slots where they lie, in order."""

    slots: list[int] = field(default_factory=list)
    cells: list[Element] = field(default_factory=list)

    def add(self, slot: int, cell: Element) -> None:
        self.slots.append(slot)
        self.cells.append(cell)

    def before(self, slot: int) -> list[Element]:
        """Return the header cells before a slot, the nearest first."""
        until = bisect_left(self.slots, slot)
        return self.cells[max(0, until - _MOST_HEADERS) : until][::-1]


class TableModel:
    """The grid of one ``table``: its own cells, those of nested tables left out."""

    def __init__(self, table: Element) -> None:
        self.table = table
        self.rows: list[list[Element]] = [self._cells(row) for row in self._row_elements()]
        self.places: dict[int, tuple[int, int, int, int]] = {}
        """By a cell's index: its first column, first row, width and height in slots."""
        self._grid: dict[tuple[int, int], Element] = {}
        self._lay_out()

    @cached_property
    def cells(self) -> list[Element]:
        """Every cell, row by row."""
        return [cell for row in self.rows for cell in row]

    @cached_property
    def width(self) -> int:
        """The number of columns."""
        return 1 + max((x for x, _ in self._grid), default=-1)

    @cached_property
    def headers(self) -> list[Element]:
        """The header cells: ``th``, and cells with the role of a header."""
        return [cell for cell in self.cells if is_header(cell)]

    def _row_elements(self) -> list[Element]:
        rows: list[Element] = []
        for child in self.table.elements():
            if child.tag == "tr":
                rows.append(child)
            elif child.tag in ("thead", "tbody", "tfoot"):
                rows.extend(row for row in child.elements() if row.tag == "tr")
        return rows

    @staticmethod
    def _cells(row: Element) -> list[Element]:
        return [cell for cell in row.elements() if cell.tag in ("td", "th")]

    def _lay_out(self) -> None:
        """Place every cell in the grid ("forming a table")."""
        total = len(self.rows)
        for y, row in enumerate(self.rows):
            x = 0
            for cell in row:
                while (x, y) in self._grid:
                    x += 1
                width, height = span(cell, "colspan"), span(cell, "rowspan")
                height = total - y if height == 0 else min(height, total - y)
                if len(self._grid) + width * height > _MOST_SLOTS:
                    width = height = 1
                self.places[cell.index] = (x, y, width, height)
                for column in range(x, x + width):
                    for line in range(y, y + height):
                        self._grid.setdefault((column, line), cell)
                x += width

    def at(self, x: int, y: int) -> Element | None:
        """Return the cell at a column and row, both from 0."""
        return self._grid.get((x, y))

    def is_corner(self, cell: Element) -> bool:
        """Tell whether the cell is the top left one."""
        return self.places[cell.index][:2] == (0, 0)

    def is_in_header_row(self, cell: Element) -> bool:
        """Tell whether all cells of the cell's first row (an empty corner aside) are headers, or
        the row stands in ``thead``."""
        return self.places[cell.index][1] in self._header_rows

    @cached_property
    def _header_rows(self) -> frozenset[int]:
        return frozenset(y for y, row in enumerate(self.rows) if row and self._is_of_headers(row))

    def _is_of_headers(self, row: list[Element]) -> bool:
        group = row[0].parent.parent if row[0].parent is not None else None
        if group is not None and group.tag == "thead":
            return True
        return all(is_header(cell) or (self.is_corner(cell) and not cell.text()) for cell in row)

    def headers_of(self, cell: Element) -> list[Element]:
        """Return the header cells of a cell: those its ``headers`` names, else those above and
        before it."""
        named = cell.get("headers").split()
        if named:
            return [other for other in self.cells if other.get("id") in named and other is not cell]
        x, y, width, height = self.places[cell.index]
        found = [
            *(self._heading_columns[column].before(y) for column in range(x, x + width)),
            *(self._heading_rows[line].before(x) for line in range(y, y + height)),
        ]
        headers = {header.index: header for line in found for header in line}
        return [header for header in headers.values() if header is not cell]

    @cached_property
    def _heading_columns(self) -> defaultdict[int, _Line]:
        """By column: the header cells in it that head a column, from the top."""
        return self._heading("col", 0)

    @cached_property
    def _heading_rows(self) -> defaultdict[int, _Line]:
        """By row: the header cells in it that head a row, from the left."""
        return self._heading("row", 1)

    def _heading(self, direction: str, axis: int) -> defaultdict[int, _Line]:
        found = defaultdict[int, _Line](_Line)
        for place, cell in sorted(self._grid.items()):
            if self._heads(cell, direction):
                found[place[axis]].add(place[1 - axis], cell)
        return found

    def _heads(self, header: Element, direction: str) -> bool:
        if not is_header(header):
            return False
        scope = header.get("scope").strip().lower().removesuffix("group")
        if scope in ("col", "row"):
            return scope == direction
        return (
            direction == ("col" if self.is_in_header_row(header) else "row")
            or len(self.rows[self.places[header.index][1]]) == 1
        )


def is_header(cell: Element) -> bool:
    """Tell whether the cell is a header cell by its tag or role."""
    return cell.tag == "th" or cell.get("role").strip().lower() in ("columnheader", "rowheader")


def span(cell: Element, attribute: str) -> int:
    """Return ``colspan`` (1 to 1000) or ``rowspan`` (0 to 65534) as the standard reads it; 1 where
    it is no number."""
    written = non_negative(cell.get(attribute))
    number = written if written is not None else 1
    if attribute == "colspan":
        return min(_MOST_SPAN, number) or 1
    return min(_MOST_SPAN, number)
