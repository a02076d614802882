"""Style sheets beside the files that are being mended: where a colour of a page comes from, and
what is to stand there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from plumrake.core.dom import Element
from plumrake.core.findings import Finding, Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.edits import Edit, applied
from plumrake.core.mending.sheets import declared
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.scope import BadSelector, selected
from plumrake.lenses.encoded import with_edits
from plumrake.lenses.markup import decoded
from plumrake.lenses.sources import Source

MOST_BYTES = 5_000_000
_COLOURS = ("color", "background-color")


@dataclass(eq=False)
class MendedSheet:
    """A style sheet of its own: its bytes as they were read, and the edits that were made, one
    after the other."""

    path: Path
    shown_as: str
    body: bytes
    edits: list[Edit]

    @property
    def text_before(self) -> str:
        """The text as it was read."""
        return decoded(self.body, "utf-8").text

    @property
    def text(self) -> str:
        """The text as it is by now."""
        text = self.text_before
        for edit in self.edits:
            text = applied(text, [edit])
        return text

    @property
    def is_changed(self) -> bool:
        """Whether anything was mended."""
        return bool(self.edits)

    @property
    def mends(self) -> int:
        """How many mends were made."""
        return len(self.edits)

    def changed_body(self) -> bytes:
        """Return the sheet's bytes with all mends. Raises ``CannotMend``."""
        body = self.body
        for edit in self.edits:
            body = with_edits(body, "utf-8", [edit])
        return body


@dataclass(frozen=True, slots=True)
class SheetMend:
    """A mend in the rule that a colour comes from: what it says, the edit, and the sheet, None for
    one within the page."""

    says: str
    mend: Mend
    edit: Edit
    sheet: MendedSheet | None


def sheet_mend(
    source: Source, finding: Finding, mend: Mend, sheet_at: Callable[[str], MendedSheet | None]
) -> SheetMend | None:
    """Return the mend of a colour in the rule that it comes from, or None where there is none.
    ``sheet_at`` gives the sheet at an address of the page."""
    if source.markdown is not None or mend.kind != "set-style" or mend.property not in _COLOURS:
        return None
    assert mend.value is not None
    try:
        element = _element(source, finding, mend)
    except (CannotMend, BadSelector):
        return None
    sheets = list(_sheets(source, sheet_at))
    if element is None or not sheets:
        return None
    found = declared(source.page, element, mend.property, [text for text, _, _ in sheets])
    if found is None or found.value == mend.value:
        return None
    _, base, sheet = sheets[found.sheet]
    edit = Edit(found.start + base, found.end + base, mend.value, found.value)
    whole = sheet.text if sheet is not None else source.text
    line = Lines(whole).of(edit.start)[0]
    where = f"{sheet.shown_as}:{line}" if sheet is not None else f"line {line}"
    says = (
        f"Or for all that {found.selector} styles: {found.name}: {mend.value} instead of "
        f"{found.value} ({where})."
    )
    return SheetMend(says, mend, edit, sheet)


def _element(source: Source, finding: Finding, mend: Mend) -> Element | None:
    element = source.element_of(finding)
    if mend.property == "color":
        return element
    behind = str(finding.facts.get("background_from") or "")
    return next(iter(selected(source.page.document, behind)), None) if behind else None


def _sheets(
    source: Source, sheet_at: Callable[[str], MendedSheet | None]
) -> Iterator[tuple[str, int, MendedSheet | None]]:
    """Yield the page's sheets in their order: the text, where it begins in its file, and the sheet,
    None for one within the page."""
    for element in source.page.elements:
        if element.tag == "style" and element.index in source.html.starts:
            start, end = source.html.content(element)
            yield source.text[start:end], start, None
        elif element.tag == "link" and "stylesheet" in element.get("rel").lower().split():
            sheet = sheet_at(element.get("href"))
            if sheet is not None:
                yield sheet.text, 0, sheet
