"""Content codings (RFC 9110, 8.4.1) taken off as bytes come in, with an upper limit.

A kilobyte that would become a gigabyte stops at the limit, not in memory.
"""

from __future__ import annotations

import zlib
from typing import Protocol

CODINGS = "gzip, deflate"
"""What requests ask for, as ``Accept-Encoding`` has it."""
_STEP = 2**16
_GZIP, _ZLIB, _RAW = 16 + zlib.MAX_WBITS, zlib.MAX_WBITS, -zlib.MAX_WBITS


class BadCoding(ValueError):
    """What came is not coded as its header says, or in a way that is not read."""


class TooMuch(ValueError):
    """There is more than was to be had."""


class Unpacker(Protocol):
    """Takes one content coding off."""

    def feed(self, chunk: bytes) -> bytes:
        """Return what a chunk holds. Raises ``TooMuch`` past the limit, ``BadCoding``."""


class _Plain:
    def __init__(self, most_bytes: int) -> None:
        self._left = most_bytes

    def feed(self, chunk: bytes) -> bytes:
        self._left -= len(chunk)
        if self._left < 0:
            raise TooMuch
        return chunk


class _Deflated:
    """gzip (RFC 1952; several members follow one another) or deflate: with zlib's frame (RFC 1950)
    as the standard says, or without (RFC 1951) as some servers send it."""

    def __init__(self, most_bytes: int, kind: int) -> None:
        self._left = most_bytes
        self._kind = kind
        self._stream = zlib.decompressobj(kind)
        self._members = 0
        self._is_new = True
        self._is_over = False

    def feed(self, chunk: bytes) -> bytes:
        out: list[bytes] = []
        has_more = True
        while (chunk or has_more) and not self._is_over:
            piece, chunk = self._step(chunk)
            has_more = len(piece) == _STEP  # it may hold back what needs no further input
            self._left -= len(piece)
            if self._left < 0:
                raise TooMuch
            out.append(piece)
        return b"".join(out)

    def _step(self, chunk: bytes) -> tuple[bytes, bytes]:
        """Return what comes next, and what is left of the chunk."""
        try:
            piece = self._stream.decompress(chunk, _STEP)
        except zlib.error as error:
            if self._members:  # what follows the last member is ignored, as browsers do
                self._is_over = True
                return b"", b""
            if self._is_new and self._kind == _ZLIB:
                self._kind, self._stream, self._is_new = _RAW, zlib.decompressobj(_RAW), False
                return b"", chunk
            raise BadCoding(f"what came cannot be unpacked: {error}") from None
        self._is_new = False
        if not self._stream.eof:
            return piece, self._stream.unconsumed_tail
        self._members += 1
        self._is_over = self._kind != _GZIP
        rest = self._stream.unused_data
        self._stream = zlib.decompressobj(self._kind)
        return piece, rest


def unpacker(coding: str, most_bytes: int) -> Unpacker:
    """Return what takes off the coding that ``Content-Encoding`` names. Raises ``BadCoding`` where
    it names one that was not asked for, or several, each of which may blow up the other."""
    wanted = [one for part in coding.lower().split(",") if (one := part.strip()) != "identity"]
    match [one for one in wanted if one]:
        case []:
            return _Plain(most_bytes)
        case ["gzip" | "x-gzip"]:
            return _Deflated(most_bytes, _GZIP)
        case ["deflate"]:
            return _Deflated(most_bytes, _ZLIB)
        case _:
            raise BadCoding(f"what came is coded as '{coding[:80]}', which is not read")


def unpacked(packed: bytes, coding: str, most_bytes: int) -> bytes:
    """Return the whole of packed bytes. Raises ``TooMuch``, ``BadCoding``."""
    return unpacker(coding, most_bytes).feed(packed)
