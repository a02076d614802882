"""Content made of blocks, as WordPress stores it: HTML with comments around each block, which hold
its attributes as JSON (the editor's own grammar); and the marks by which a page that is read
through our plugin says which block made which part of it."""

from __future__ import annotations

import json
import re
from bisect import bisect_right
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Final

_DELIMITER = re.compile(
    r"<!--\s+(?P<closer>/)?wp:(?P<space>[a-z][a-z0-9_-]*/)?(?P<name>[a-z][a-z0-9_-]*)\s+"
    r"(?P<attributes>\{(?:(?!\}\s+/?-->)[^\x00])*\}\s+)?(?P<empty>/)?-->"
)
_MARK = re.compile(r"<!--(/?)plumrake:(content|block|page)(?: ([0-9.]+) ([a-z0-9_/-]+))?-->")
_QUOTED = re.compile(r"(?<!\\)((?:\\\\)*)\\\"")
"""A quotation mark that JSON has written with a backslash, and not the end of a text that ends with
one."""
_MOST_BLOCKS = 20_000
FRAME: Final = "frame"
"""What is kept in place of a block for what is no part of an item's own content: the theme and the
system print it."""
_TITLES: Final[Mapping[str, str]] = {
    "audio": "Audio",
    "block": "Reusable block",
    "button": "Button",
    "buttons": "Buttons",
    "code": "Code",
    "column": "Column",
    "columns": "Columns",
    "cover": "Cover",
    "details": "Details",
    "embed": "Embed",
    "file": "File",
    "freeform": "Classic",
    "gallery": "Gallery",
    "group": "Group",
    "heading": "Heading",
    "html": "Custom HTML",
    "image": "Image",
    "latest-posts": "Latest Posts",
    "list": "List",
    "list-item": "List item",
    "media-text": "Media & Text",
    "navigation": "Navigation",
    "paragraph": "Paragraph",
    "preformatted": "Preformatted",
    "pullquote": "Pullquote",
    "quote": "Quote",
    "separator": "Separator",
    "shortcode": "Shortcode",
    "spacer": "Spacer",
    "table": "Table",
    "verse": "Verse",
    "video": "Video",
}
"""What the editor calls its blocks."""


@dataclass(frozen=True, slots=True)
class Block:
    """A block by offsets in its text: its name with the namespace, its attributes and where their
    JSON stands (None: it has none), where it starts and ends, and where what is in it does; its
    path counts blocks from 0 as the editor lists them (``2.0``: the first in the third)."""

    name: str
    attributes: Mapping[str, Any]
    attributes_span: tuple[int, int] | None
    start: int
    inner_start: int
    inner_end: int
    end: int
    path: str
    children: tuple[Block, ...]

    def own(self, offset: int) -> bool:
        """Tell whether an offset is this block's own, and not a child's."""
        return self.start <= offset < self.end and not any(
            child.start <= offset < child.end for child in self.children
        )

    def walk(self) -> Iterator[Block]:
        """Yield the block and all within it, in order."""
        yield self
        for child in self.children:
            yield from child.walk()


@dataclass(slots=True)
class _Open:
    match: re.Match[str] | None
    path: str
    children: list[Block] = field(default_factory=list)
    counted: int = 0
    at: int = 0


def parse_blocks(text: str) -> tuple[Block, ...]:
    """Return the blocks of a content; what stands between them and is not blank counts in paths as
    one block, which it is in the editor. A block that nothing closes ends with the text."""
    stack = [_Open(None, "")]
    for count, match in enumerate(_DELIMITER.finditer(text)):
        if count > _MOST_BLOCKS * 2:
            break
        top = stack[-1]
        if match["closer"]:
            if top.match is not None and _name(top.match) == _name(match):
                stack.pop()
                _close(stack[-1], top, match.start(), match.end())
            continue
        if top.match is None and text[top.at : match.start()].strip():
            top.counted += 1
        path = f"{top.path}.{top.counted}" if top.path else str(top.counted)
        top.counted += 1
        opened = _Open(match, path, at=match.end())
        if match["empty"]:
            _close(top, opened, match.end(), match.end())
        else:
            stack.append(opened)
    while len(stack) > 1:
        top = stack.pop()
        _close(stack[-1], top, len(text), len(text))
    return tuple(stack[0].children)


def _name(match: re.Match[str]) -> str:
    return f"{match['space'] or 'core/'}{match['name']}"


def _close(parent: _Open, opened: _Open, inner_end: int, end: int) -> None:
    match = opened.match
    assert match is not None
    given, span = match["attributes"], None
    attributes: Mapping[str, Any] = {}
    if given is not None:
        span = (match.start("attributes"), match.start("attributes") + len(given.rstrip()))
        try:
            loaded = json.loads(given)
        except ValueError:
            loaded = {}
        attributes = loaded if isinstance(loaded, dict) else {}
    parent.children.append(
        Block(
            _name(match),
            attributes,
            span,
            match.start(),
            match.end(),
            inner_end,
            end,
            opened.path,
            tuple(opened.children),
        )
    )
    parent.at = end


def written_attributes(attributes: Mapping[str, Any]) -> str:
    """Return attributes as the editor writes them into a comment: JSON in which nothing can end the
    comment early."""
    written = json.dumps(attributes, ensure_ascii=False, separators=(",", ":"))
    for sign, code in (("--", "\\u002d\\u002d"), ("<", "\\u003c"), (">", "\\u003e")):
        written = written.replace(sign, code)
    written = written.replace("&", "\\u0026")
    return _QUOTED.sub(lambda found: found.group(1) + "\\u0022", written)


@dataclass(frozen=True, slots=True)
class BlockMark:
    """A part of a page that a block of its content made, by offsets in the page."""

    path: str
    name: str
    start: int
    end: int

    @property
    def key(self) -> str:
        """What the block is kept by: its path and name."""
        return f"{self.path} {self.name}"


@dataclass(frozen=True)
class Marks:
    """What a page says of the blocks that made it; ``content`` are the spans of its item's own
    content. ``is_marked``: the page says it at all."""

    is_marked: bool
    content: tuple[tuple[int, int], ...]
    blocks: tuple[BlockMark, ...]

    @cached_property
    def _starts(self) -> list[int]:
        return [one.start for one in self.blocks]

    def key_at(self, offset: int) -> str:
        """Return what is kept of an offset: its block's key, ``FRAME`` outside of the content,
        ``""`` where nothing is known."""
        if not self.is_content(offset):
            return FRAME if self.is_marked else ""
        mark = self.at(offset)
        return mark.key if mark is not None else ""

    def is_content(self, offset: int) -> bool:
        """Tell whether the item's own content made what stands at an offset."""
        return any(start <= offset < end for start, end in self.content)

    def at(self, offset: int) -> BlockMark | None:
        """Return the innermost block that made what stands at an offset."""
        for index in range(bisect_right(self._starts, offset) - 1, -1, -1):
            if self.blocks[index].end > offset:
                return self.blocks[index]
        return None


def marks_of(html: str) -> Marks:
    """Return the marks that a page carries; those that do not pair are passed over."""
    if "<!--plumrake:" not in html:
        return Marks(False, (), ())
    is_marked = False
    opened: list[tuple[str, str, str, int]] = []
    content: list[tuple[int, int]] = []
    blocks: list[BlockMark] = []
    for match in _MARK.finditer(html):
        closes, kind, path, name = match.groups()
        if kind == "page":
            is_marked = True
        elif not closes:
            opened.append((kind, path or "", name or "", match.end()))
        elif opened and opened[-1][0] == kind:
            _, path, name, start = opened.pop()
            if kind == "content":
                content.append((start, match.start()))
            elif path:
                blocks.append(BlockMark(path, name, start, match.start()))
    blocks.sort(key=lambda one: (one.start, -one.end))
    return Marks(is_marked, tuple(content), tuple(blocks))


def block_title(name: str) -> str:
    """Return what the editor calls a kind of blocks."""
    own = name.partition("/")[2]
    return _TITLES.get(own) or own.replace("-", " ").capitalize()


def block_says(key: str) -> str:
    """Return where a block stands, in the editor's words: ``3rd block, Table``; of one in another,
    ``3rd block, 2nd in it, Image``; ``""`` for no block."""
    path, _, name = key.partition(" ")
    if not path:
        return ""
    if path == FRAME:
        return "outside the content, printed by theme or system"
    numbers = [int(part) + 1 for part in path.split(".")]
    inside = "".join(f", {_ordinal(number)} in it" for number in numbers[1:])
    return f"{_ordinal(numbers[0])} block{inside}, {block_title(name)}"


def _ordinal(number: int) -> str:
    ends = {1: "st", 2: "nd", 3: "rd"}
    sign = "th" if number % 100 in (11, 12, 13) else ends.get(number % 10, "th")
    return f"{number}{sign}"
