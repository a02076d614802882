"""Content codings are taken off up to a limit, whatever is packed in them."""

from __future__ import annotations

import gzip
import zlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plumrake.net.unpacking import BadCoding, TooMuch, unpacked, unpacker

TEXT = b"Locks open at nine. " * 40_000


def raw(content: bytes) -> bytes:
    """Return content deflated without zlib's frame, as some servers send it."""
    deflate = zlib.compressobj(wbits=-zlib.MAX_WBITS)
    return deflate.compress(content) + deflate.flush()


PACKED = [
    ("", TEXT),
    ("identity", TEXT),
    ("gzip", gzip.compress(TEXT)),
    ("X-GZip", gzip.compress(TEXT)),
    ("deflate", zlib.compress(TEXT)),
    ("deflate", raw(TEXT)),
]


@pytest.mark.parametrize(("coding", "packed"), PACKED)
@pytest.mark.parametrize("step", [7, 1_000, 10**9])
def test_what_was_packed_comes_out(coding: str, packed: bytes, step: int) -> None:
    """In whatever pieces it comes."""
    unpack = unpacker(coding, len(TEXT))
    pieces = (packed[at : at + step] for at in range(0, len(packed), step))
    assert b"".join(map(unpack.feed, pieces)) == TEXT


@given(st.binary(max_size=3_000), st.integers(1, 500), st.sampled_from(["gzip", "deflate"]))
def test_any_bytes_come_out(content: bytes, step: int, coding: str) -> None:
    """Bytes of any kind, packed and cut anywhere."""
    packed = gzip.compress(content) if coding == "gzip" else zlib.compress(content)
    unpack = unpacker(coding, len(content))
    pieces = [packed[at : at + step] for at in range(0, len(packed), step)]
    assert b"".join(map(unpack.feed, pieces)) == content


@pytest.mark.parametrize(("coding", "packed"), PACKED)
def test_one_byte_too_many_is_too_much(coding: str, packed: bytes) -> None:
    """The limit is on what comes out."""
    with pytest.raises(TooMuch):
        unpacked(packed, coding, len(TEXT) - 1)


def test_a_bomb_stops_at_the_limit() -> None:
    """Of a gigabyte behind a megabyte no more than a step past the limit is ever unpacked."""
    bomb = gzip.compress(bytes(10**8))
    unpack = unpacker("gzip", 10**6)
    came = 0
    with pytest.raises(TooMuch):
        for at in range(0, len(bomb), 100):
            came += len(unpack.feed(bomb[at : at + 100]))
    assert came <= 10**6


def test_members_follow_one_another() -> None:
    """gzip may come in several members (RFC 1952, 2.2); what is none after them is ignored."""
    assert unpacked(gzip.compress(b"a") + gzip.compress(b"b") + b"\0\0x", "gzip", 10) == b"ab"


@pytest.mark.parametrize("coding", ["gzip, gzip", "deflate, gzip", "br", "zstd", "compress"])
def test_what_was_not_asked_for_is_refused(coding: str) -> None:
    """Several codings in one another, and ones that are not read."""
    with pytest.raises(BadCoding, match=coding):
        unpacker(coding, 10)


@pytest.mark.parametrize("coding", ["gzip", "deflate"])
def test_what_is_not_what_it_says(coding: str) -> None:
    """Text that is called packed."""
    with pytest.raises(BadCoding):
        unpacked(b"<!doctype html><p>plain", coding, 100)
