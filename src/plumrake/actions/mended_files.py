"""Files that are being mended: what they were, what they are by now, and how they are written."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from pathlib import Path

from plumrake.actions.changed_pages import diff_of_texts
from plumrake.actions.mended_sheets import MendedSheet
from plumrake.actions.reading import PageResult
from plumrake.connectors.whole_files import write_whole
from plumrake.core.findings import Finding, Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.edits import Edit
from plumrake.lenses.encoded import with_edits
from plumrake.lenses.markup import decoded
from plumrake.lenses.reader import is_markdown
from plumrake.lenses.sources import Source
from plumrake.net.problems import Problem

PassedOver = tuple[str, int | str]
"""A check, and where in the text it found something (an offset, or a selector)."""


@dataclass(frozen=True, slots=True)
class Step:
    """One mend that was made: of which finding, by which edits, and what the page was before."""

    file: MendedFile
    finding: Finding
    mend: Mend
    edits: tuple[Edit, ...]
    source: Source
    result: PageResult
    passed: frozenset[PassedOver]
    sheet: MendedSheet | None = None
    others: tuple[tuple[MendedFile, PageResult], ...] = ()
    """Files that were read again for a mend of a sheet, with what was found in them before."""


@dataclass(eq=False)
class MendedFile:
    """A file that is being mended: its bytes as they were read, its text as it is by now, and what
    is found in that."""

    path: Path
    root: Path
    shown_as: str
    body: bytes
    source: Source
    result: PageResult
    steps: list[Step] = field(default_factory=list)
    passed: frozenset[PassedOver] = frozenset()
    """What a person passed over, by check and place in the text."""
    _lines: tuple[Source, Lines] | None = None

    @property
    def text_before(self) -> str:
        """The text as it was read."""
        return decoded(self.body, self.charset).text

    @property
    def charset(self) -> str | None:
        """The encoding that is known beforehand."""
        return "utf-8" if is_markdown(self.path) else None

    @property
    def is_changed(self) -> bool:
        """Whether anything was mended."""
        return bool(self.steps)

    def place_of(self, finding: Finding) -> PassedOver:
        """Return what a finding is passed over by."""
        placed = self.source.placed(finding)
        if placed.line is None or placed.column is None:
            return finding.check, finding.selector
        if self._lines is None or self._lines[0] is not self.source:
            self._lines = self.source, Lines(self.source.text)
        return finding.check, self._lines[1].offset(placed.line, placed.column)

    @property
    def text(self) -> str:
        """The text as it is by now."""
        return self.source.text

    @property
    def mends(self) -> int:
        """How many mends were made."""
        return len(self.steps)

    def changed_body(self) -> bytes:
        """Return the file's bytes with all mends. Raises ``CannotMend``."""
        body = self.body
        for step in self.steps:
            body = with_edits(body, self.charset, step.edits)
        return body


Mended = MendedFile | MendedSheet


def diff_of(file: Mended) -> str:
    """Return what was mended in a file as a unified diff."""
    return diff_of_texts(file.text_before, file.text, file.shown_as)


def written(file: Mended) -> Problem | None:
    """Write a file whole or not at all, with the permissions that it has."""
    try:
        if hashlib.sha256(file.path.read_bytes()).digest() != hashlib.sha256(file.body).digest():
            return Problem("changed", "it was changed meanwhile; nothing was written to it")
        write_whole(file.path, file.changed_body())
    except OSError as error:
        return Problem("not-writable", f"it cannot be written: {error.strerror}")
    return None
