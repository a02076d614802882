"""What rows with a block have in common: where in its item the place is, in its editor's words."""

from __future__ import annotations

from plumrake.core.blocks import block_says
from plumrake.core.editor_words import in_editor


class PlacedInItem:
    """A row about a place of a page, with the check that found fault with it and the key of the
    block that made it."""

    __slots__ = ()
    block: str
    check: str

    @property
    def where(self) -> str:
        """Where the place is in its item; ``""`` where nothing is known."""
        return block_says(self.block)

    @property
    def in_editor(self) -> str:
        """What to do there in the editor."""
        return in_editor(self.block, self.check)
