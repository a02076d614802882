"""Where the block editor offers what a mend does, in its words."""

from __future__ import annotations

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.blocks import BlockPage


def says_in_editor(page: BlockPage, element: Element, mend: Mend) -> str:
    """Return where the editor offers what a mend does, in its words; ``""`` where that is plain."""
    block = page.block_of(element)
    kind = block.name.removeprefix("core/") if block is not None else ""
    where = _IN_EDITOR.get((kind, mend.kind), "")
    return where.format(value=mend.value or "", to=(mend.to or "").upper()) if where else ""


_IN_EDITOR: dict[tuple[str, str], str] = {
    **{(name, "set-attribute"): "Image → Alt text" for name in ("image", "gallery")},
    **{(name, "say-with-text"): "Image → Alt text" for name in ("image", "gallery")},
    **{(name, "mark-decorative"): "Image → Alt text, left empty" for name in ("image", "gallery")},
    ("cover", "set-attribute"): "Cover → Media settings → Alt text",
    ("media-text", "set-attribute"): "Media & Text → Settings → Alt text",
    ("heading", "rename-element"): "Heading → Change level → {to}",
    ("paragraph", "rename-element"): "Paragraph → Transform to → Heading, {to}",
    ("paragraph", "make-list"): "Paragraph → Transform to → List",
    ("table", "head-table"): "Table → Header section on",
    ("table", "insert"): "Table → Caption below it",
    ("paragraph", "set-style"): "Paragraph → Color → Text {value}",
    ("heading", "set-style"): "Heading → Color → Text {value}",
}
