"""Pages with their drafts, for whoever writes them elsewhere: the changed page, an archive of them,
a unified diff."""

from __future__ import annotations

import difflib
import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from plumrake.core.mending.edits import Contradiction, Edit, ordered
from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.encoded import with_edits
from plumrake.lenses.markup import decoded
from plumrake.records import corrections
from plumrake.records.corrections import CorrectionRow, SourceTextRow
from plumrake.records.queries import Connection

_LEFT_OUT = "left-out.txt"


@dataclass(frozen=True, slots=True)
class ChangedPage:
    """A page as its drafts make it of the source that they were made for; ``left_out`` are drafts
    that were made for another."""

    path: str
    environment: str
    before: bytes
    after: bytes
    charset: str | None
    left_out: tuple[int, ...]
    known_file: str = ""

    @property
    def file(self) -> str:
        """The name of its file, or that which a folder of pages would have for it."""
        if self.known_file:
            return self.known_file
        path = self.path.partition("?")[0].lstrip("/")
        if not path or path.endswith("/"):
            return f"{path}index.html"
        return path if path.rpartition("/")[2].count(".") else f"{path}.html"

    @property
    def diff(self) -> str:
        """What the drafts change, as a unified diff."""
        return diff_of_texts(
            decoded(self.before, self.charset).text,
            decoded(self.after, self.charset).text,
            self.file,
        )


def diff_of_texts(before: str, after: str, name: str) -> str:
    """Return the unified diff of two texts, as patch takes it."""
    lines = difflib.unified_diff(
        before.splitlines(keepends=True), after.splitlines(keepends=True), f"a/{name}", f"b/{name}"
    )
    return "".join(
        line if line.endswith(("\n", "\r")) else f"{line}\n\\ No newline at end of file\n"
        for line in lines
    )


async def changed_pages(
    connection: Connection, drafts: Sequence[CorrectionRow]
) -> list[ChangedPage]:
    """Return the pages of corrections with their edits, by environment and path."""
    found: list[ChangedPage] = []
    in_order = sorted(drafts, key=lambda one: (one.environment, one.path, one.id))
    for _, group in groupby(in_order, key=lambda one: (one.environment, one.path)):
        own = [one for one in group if one.source_hash is not None]
        if not own:
            continue
        known_by = own[-1].source_hash
        assert known_by is not None
        source = await corrections.source_by_hash(connection, known_by)
        assert source is not None, "drafts keep their source"
        found.append(_changed(source, own))
    return found


def _changed(source: SourceTextRow, own: Sequence[CorrectionRow]) -> ChangedPage:
    edits: list[Edit] = []
    left_out: list[int] = []
    body = source.body
    for one in own:
        if one.source_hash != source.hash:
            left_out.append(one.id)
            continue
        try:
            wanted = ordered([*edits, *(Edit.of(edit) for edit in one.edits)])
            body = with_edits(source.body, source.charset, wanted)
        except (Contradiction, CannotMend):
            left_out.append(one.id)
            continue
        edits = wanted
    return ChangedPage(
        own[0].path,
        own[0].environment,
        source.body,
        body,
        source.charset,
        tuple(left_out),
        source.file,
    )


def archive_of_pages(pages: Sequence[ChangedPage]) -> bytes:
    """Return a ZIP of changed pages, each in the place that it has on the site."""
    out = io.BytesIO()
    several = len({page.environment for page in pages}) > 1
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for page in pages:
            name = f"{page.environment}/{page.file}" if several else page.file
            archive.writestr(name, page.after)
        left_out = [number for page in pages for number in page.left_out]
        if left_out:
            says = "Made for another state of their page, so not in here: corrections "
            archive.writestr(_LEFT_OUT, f"{says}{', '.join(map(str, left_out))}.\n")
    return out.getvalue()
