"""Content made of blocks, opened so that its blocks can be mended: their elements, and the
attributes in their comments."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from plumrake.core.blocks import Block, block_title, parse_blocks, written_attributes
from plumrake.core.dom import Element
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.source_page import CannotMend, SourcePage


@dataclass(frozen=True, eq=False)
class BlockPage:
    """A content made of blocks: its HTML as it is stored, comments included."""

    html: SourcePage

    @property
    def text(self) -> str:
        """The content as it is stored."""
        return self.html.text

    @cached_property
    def blocks(self) -> tuple[Block, ...]:
        """The blocks that stand in no other."""
        return parse_blocks(self.text)

    def block_of(self, element: Element) -> Block | None:
        """Return the innermost block that an element is written in; None outside of blocks."""
        start = self.html.start_tag(element).start
        found = None
        for block in self.blocks:
            for one in block.walk():
                if one.start <= start < one.end:
                    found = one
        return found

    def elements_of(self, block: Block) -> Iterator[Element]:
        """Yield the elements that are a block's own, and not those of blocks in it."""
        for index, start in self.html.starts.items():
            if block.own(start):
                yield self.html.page.elements[index]

    def root(self, block: Block) -> Element:
        """Return the element that a block is. Raises ``CannotMend``."""
        found = min(
            self.elements_of(block), key=lambda one: self.html.starts[one.index], default=None
        )
        if found is None:
            raise CannotMend(f"the {block_title(block.name)} block has no element of its own")
        return found

    def inside(self, block: Block) -> str:
        """Return what stands between the tags of the element that a block is. Raises
        ``CannotMend``."""
        return self.text[slice(*self.html.content(self.root(block)))]

    def with_attributes(self, block: Block, **changed: Any) -> Iterator[Edit]:
        """Yield the edit of a block's comment that sets attributes; None takes one away."""
        wanted = {**block.attributes, **changed}
        wanted = {name: value for name, value in wanted.items() if value is not None}
        if wanted == dict(block.attributes):
            return
        written = written_attributes(wanted) if wanted else ""
        if block.attributes_span is not None:
            start, end = block.attributes_span
            end += 0 if written else len(self.text[end:]) - len(self.text[end:].lstrip())
            yield self.replaced(start, end, written)
            return
        at = self.text.index("-->", block.start)
        at -= self.text[at - 1] == "/"
        yield self.replaced(at, at, f"{written} ")

    def replaced(self, start: int, end: int, text: str) -> Edit:
        """Return the edit that puts a text where a span stands."""
        return Edit(start, end, text, self.text[start:end])
