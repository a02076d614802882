"""A source as bytes: edits of its text written into them, every other byte left alone."""

from __future__ import annotations

import codecs
from collections.abc import Iterable
from dataclasses import replace

from plumrake.core.mending.edits import Edit, applied, ordered
from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.markup import Encoded, decoded

_SHOWN = 12


class CannotEncode(CannotMend):
    """The source's encoding has no place for characters of the new text. ``entities`` tells whether
    they can be written as character references instead."""

    def __init__(self, missing: str, encoding: str) -> None:
        shown = ", ".join(f"{one} (U+{ord(one):04X})" for one in missing[:_SHOWN])
        super().__init__(
            f"the file's encoding, {encoding}, has no {shown}; it can be written as a character "
            "reference (&#…;) instead, or the file be saved as UTF-8"
        )
        self.missing = missing


def with_edits(
    body: bytes, charset: str | None, edits: Iterable[Edit], *, as_references: bool = False
) -> bytes:
    """Return a source with edits of its text; bytes outside of their spans are as before.

    Raises ``CannotEncode`` (with ``as_references`` what the encoding lacks becomes a character
    reference), ``CannotMend`` where the encoding does not let the place be changed alone,
    ``Contradiction``, ``NotAsRead``.
    """
    known = decoded(body, charset)
    wanted = ordered(edits)
    places = _byte_places(
        body, known, sorted({at for one in wanted for at in (one.start, one.end)})
    )
    out: list[bytes] = []
    copied = 0
    for edit in wanted:
        out.append(body[copied : places[edit.start]])
        out.append(_encoded(edit.text, known, as_references=as_references))
        copied = places[edit.end]
    changed = b"".join([*out, body[copied:]])
    if as_references:
        wanted = list(written_as(wanted, known.codec))
    if decoded(changed, charset).text != applied(known.text, wanted):
        raise CannotMend(
            f"in {known.name} this place cannot be changed alone; save the file as UTF-8 first"
        )
    return changed


def written_as(edits: Iterable[Edit], codec: str) -> tuple[Edit, ...]:
    """Return edits with character references for what an encoding has no place for."""
    return tuple(
        replace(edit, text=edit.text.encode(codec, "xmlcharrefreplace").decode(codec))
        for edit in edits
    )


def _encoded(text: str, known: Encoded, *, as_references: bool) -> bytes:
    try:
        return text.encode(known.codec, "xmlcharrefreplace" if as_references else "strict")
    except UnicodeEncodeError:
        missing = "".join(dict.fromkeys(one for one in text if not _has(known.codec, one)))
        raise CannotEncode(missing, known.name) from None


def _has(codec: str, character: str) -> bool:
    try:
        character.encode(codec)
    except UnicodeEncodeError:
        return False
    return True


def _byte_places(body: bytes, known: Encoded, wanted: list[int]) -> dict[int, int]:
    """Return where places of the text (offsets in characters, in order) stand in the bytes."""
    if known.text.encode(known.codec, "replace") == body[known.skipped :]:
        places: dict[int, int] = {}
        at, byte = 0, known.skipped
        for place in wanted:
            byte += len(known.text[at:place].encode(known.codec))
            places[place], at = byte, place
        return places
    return _counted(body, known, wanted)


def _counted(body: bytes, known: Encoded, wanted: list[int]) -> dict[int, int]:
    """Count the characters that come of each byte: for sources with bytes that stand for nothing,
    or for what the encoding writes in another way."""
    decoder = codecs.getincrementaldecoder(known.codec)("replace")
    starts: list[int] = []  # where the first byte of each character stands
    begin = known.skipped
    for at in range(known.skipped, len(body)):
        if came := len(decoder.decode(body[at : at + 1])):
            starts.extend([begin] * came)
            begin = at + 1
    starts.extend([begin] * len(decoder.decode(b"", final=True)))
    starts.append(len(body))
    return {place: starts[min(place, len(starts) - 1)] for place in wanted}
