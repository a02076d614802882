"""Places of a text as the protocol counts them: lines from 0, characters in the units that client
and server agreed on (LSP 3.17, Position)."""

from __future__ import annotations

from typing import Final

from lsprotocol.types import Position, PositionEncodingKind, Range

from plumrake.core.html_source import Lines

UTF_16: Final = PositionEncodingKind.Utf16


class Places:
    """Offsets of a text, in characters, as positions of the protocol and back."""

    def __init__(self, text: str, encoding: PositionEncodingKind | str = UTF_16) -> None:
        self._text = text
        self._lines = Lines(text)
        self._encoding = encoding
        self._ranges: dict[tuple[int, int], Range] = {}

    @property
    def encoding(self) -> PositionEncodingKind | str:
        """The units that characters are counted in."""
        return self._encoding

    def position(self, offset: int) -> Position:
        """Return the position of an offset."""
        line, column = self._lines.of(offset)
        start = offset - column + 1
        return Position(line - 1, self._units(self._text[start:offset]))

    def range(self, start: int, end: int) -> Range:
        """Return the range of a span."""
        known = self._ranges.get((start, end))
        if known is None:
            known = Range(self.position(start), self.position(end))
            self._ranges[start, end] = known
        return known

    def offset(self, position: Position) -> int:
        """Return the offset of a position; one behind the end of its line is that end, one behind
        the text the text's end."""
        if position.line >= self._lines.count:
            return len(self._text)
        start = self._lines.offset(position.line + 1, 1)
        last = position.line + 1 == self._lines.count
        end = len(self._text) if last else self._lines.offset(position.line + 2, 1)
        line = self._text[start:end].rstrip("\r\n")
        if self._encoding == PositionEncodingKind.Utf32:
            return start + min(position.character, len(line))
        units = 0
        for at, character in enumerate(line):
            if units >= position.character:
                return start + at
            units += self._units(character)
        return start + len(line)

    def _units(self, text: str) -> int:
        if text.isascii() or self._encoding == PositionEncodingKind.Utf32:
            return len(text)
        if self._encoding == PositionEncodingKind.Utf8:
            return len(text.encode("utf-8", "surrogatepass"))
        return len(text) + sum(character > "\uffff" for character in text)
