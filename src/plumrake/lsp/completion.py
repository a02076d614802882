"""What may be written into ``role``, ``aria-*``, ``lang`` and ``autocomplete``, with what it
means."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from plumrake.core.semantics.aria import REFERENCES, VALUES
from plumrake.core.words.languages import NAMES

_IN_TAG = re.compile(r"<[A-Za-z][^<>]*\Z")
_VALUE = re.compile(r"""(?<![\w-])([A-Za-z][\w-]*)\s*=\s*(?:"([^"]*)|'([^']*))\Z""")
_NAME = re.compile(r"""(?:["'\s])([A-Za-z][\w-]*)\Z""")
_IDS = re.compile(r"""\sid\s*=\s*["']?([^\s"'>]+)""")
_LOOKED_BACK = 4_000
_MOST_IDS = 500


@dataclass(frozen=True, slots=True)
class Completion:
    """What may be written instead of what stands from ``start`` to the cursor."""

    text: str
    means: str
    start: int
    is_attribute: bool


def completions(text: str, offset: int) -> list[Completion]:
    """Return what may be written at an offset of a text."""
    before = text[max(0, offset - _LOOKED_BACK) : offset]
    if _IN_TAG.search(before) is None:
        return []
    value = _VALUE.search(before)
    if value is not None:
        typed = value.group(2) if value.group(2) is not None else value.group(3)
        word = typed.rpartition(" ")[2]
        return [
            Completion(one, means, offset - len(word), is_attribute=False)
            for one, means in _values(value.group(1).lower(), text)
            if one.startswith(word.lower())
        ]
    name = _NAME.search(before)
    if name is None:
        return []
    typed = name.group(1).lower()
    return [
        Completion(one, means, offset - len(typed), is_attribute=True)
        for one, means in meanings("attribute").items()
        if one.startswith(typed)
    ]


def _values(attribute: str, text: str) -> Iterator[tuple[str, str]]:
    if attribute in ("role", "autocomplete"):
        yield from meanings(attribute).items()
    elif attribute == "lang":
        yield from NAMES.items()
    elif attribute in REFERENCES:
        found = dict.fromkeys(one.group(1) for one in _IDS.finditer(text))
        for one in [*found][:_MOST_IDS]:
            yield one, "An id of this text."
    elif "|" in VALUES.get(attribute, ""):
        for one in VALUES[attribute].split("|"):
            yield one, meanings("attribute").get(attribute, "")


@cache
def meanings(kind: str) -> dict[str, str]:
    """Return what the values of a kind mean: ``role``, ``attribute`` or ``autocomplete``."""
    data = files("plumrake.lsp").joinpath("meanings.toml").read_text(encoding="utf-8")
    return dict(tomllib.loads(data)[kind])
