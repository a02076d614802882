"""Hunspell's dictionaries, asked through Enchant, which has hunspell itself: compiled, so that a
language is there in a tenth of a second.

Enchant's personal word lists are off: what a page is told depends on no file of whoever runs this.
"""

from __future__ import annotations

import os
import re
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cached_property
from pathlib import Path
from typing import Any

_SET = re.compile(rb"^\s*SET[ \t]+(\S+)", re.MULTILINE)
_COUNT = re.compile(r"\ufeff?\d+(\s|$)")
_DATA = re.compile(r"(?<![ \t])[ \t]+(?=\w\w:)|\t")
"""What parts a word from what is said of it."""
_HEAD_BYTES = 20_000
_PROVIDER = "hunspell"
_asking = threading.RLock()
"""Enchant is asked by one thread at a time."""


class Dictionary:
    """One dictionary: ``name.aff`` and ``name.dic``."""

    def __init__(self, path: Path) -> None:
        """Open it. Raises ``ValueError``, ``OSError`` or ``ImportError`` where it, or Enchant, is
        not what it should be."""
        self._path = path
        self._encoding = _encoding_of(path)
        with Path(f"{path}.dic").open(encoding=self._encoding) as file:
            if not _COUNT.match(file.readline()):
                raise ValueError("its first line is no number of words")
        self._asked = _opened(path)

    def lookup(self, word: str) -> bool:
        """Tell whether the word is one of the language's, in a form of it."""
        with _asking:
            return bool(self._asked.check(word))

    def suggest(self, word: str) -> list[str]:
        """Return what may have been meant, the likeliest first."""
        with _asking:
            return list(self._asked.suggest(word))

    @cached_property
    def stems(self) -> frozenset[str]:
        """Every word as it is listed, without the forms that are made of it."""
        text = Path(f"{self._path}.dic").read_text(self._encoding, errors="replace")
        return frozenset(filter(None, map(_stem, text.split("\n")[1:])))


def _encoding_of(path: Path) -> str:
    """Return what the words are encoded in, as the affix file says."""
    with Path(f"{path}.aff").open("rb") as file:
        said = _SET.search(file.read(_HEAD_BYTES))
    encoding = said.group(1).decode("ascii", "replace") if said is not None else "iso-8859-1"
    try:
        "".encode(encoding)
    except LookupError:
        raise ValueError(f"its encoding '{encoding}' is not known") from None
    return encoding


def _stem(line: str) -> str:
    word = _DATA.split(line, maxsplit=1)[0].strip()
    if "\\/" not in word:
        return word.partition("/")[0]
    return word.replace("\\/", "\0").partition("/")[0].replace("\0", "/")


def _opened(path: Path) -> Any:
    with _asking, _looked_into(path.parent) as place:
        os.environ["ENCHANT_CONFIG_DIR"] = place
        import enchant  # only for whom a word is to be looked up

        broker = enchant.Broker()
        broker.set_ordering(path.name, _PROVIDER)
        try:
            found = broker.request_dict(path.name)
        except enchant.errors.Error as error:
            raise ValueError(str(error)) from None
        if found.provider.name != _PROVIDER:
            raise ValueError(f"Enchant knows it by {found.provider.name} only")
        return found


@contextmanager
def _looked_into(folder: Path) -> Iterator[str]:
    """Have a folder in which Enchant finds a folder's dictionaries first, and no word lists; it
    reads a dictionary whole when it is asked for, so nothing is left to whoever is killed."""
    with tempfile.TemporaryDirectory(prefix="plumrake-words-") as place:
        (Path(place) / _PROVIDER).symlink_to(folder.resolve())
        yield place
