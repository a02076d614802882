"""Hunspell's dictionaries by spylls, read so that they are there at once: a line of the word list
becomes a word when it is first asked for. Of a hundred thousand words a site uses a few thousand.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import cached_property
from pathlib import Path
from typing import Any

from spylls.hunspell.algo.capitalization import Type
from spylls.hunspell.algo.lookup import Lookup
from spylls.hunspell.algo.suggest import Suggest
from spylls.hunspell.data.dic import Dic, Word
from spylls.hunspell.readers import read_aff, read_dic
from spylls.hunspell.readers.file_reader import FileReader

_COUNT = re.compile(r"\d+(\s|$)")
_WITH_MORE = re.compile(r"\t|\\/|[ \t]\w{2}:|^/|/.*/")
"""Lines with data beside the word and its flags, or with a slash in the word."""


class WordList(Dic):  # type: ignore[misc]
    """The lines of a ``.dic`` file, with spylls' way of asking."""

    def __init__(self, lines: Iterable[str], aff: Any, context: Any) -> None:
        """Take the lines in; those with more than a word and flags are read by spylls at once,
        since they change ``aff``."""
        self._aff, self._context = aff, context
        self._flags: dict[str, list[str]] = {}
        self._words: dict[str, list[Word]] = {}
        with_more: list[tuple[int, str]] = []
        for line in lines:
            if context.ignore or _WITH_MORE.search(line):
                with_more.append((2, line))
            else:
                stem, _, flags = line.partition("/")
                self._flags.setdefault(stem, []).append(flags)
        self._more: Dic = read_dic(with_more, aff=aff, context=context)

    def stems(self) -> Iterator[str]:
        """Yield every word as it is listed, once."""
        yield from self._flags
        yield from (stem for stem in self._more.index if stem not in self._flags)

    @cached_property
    def words(self) -> list[Word]:
        """Every word; that takes a second or more."""
        return [word for stem in self.stems() for word in self.homonyms(stem)]

    @cached_property
    def _by_lower(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = defaultdict(list)
        for stem in self.stems():
            if self._aff.casing.guess(stem) != Type.NO:
                for small in self._aff.casing.lower(stem):
                    found[small].append(stem)
        return found

    def homonyms(self, stem: str, *, ignorecase: bool = False) -> list[Word]:
        """Return the words that are written so, or that are in small letters."""
        if ignorecase:
            return [word for one in self._by_lower.get(stem, ()) for word in self.homonyms(one)]
        known = self._words.get(stem)
        if known is None:
            if stem not in self._flags:
                return self._more.index.get(stem, [])  # type: ignore[no-any-return]
            known = self._words[stem] = [
                Word(
                    stem=stem,
                    flags={*self._context.parse_flags(flags)},
                    data={},
                    alt_spellings=[],
                    captype=self._aff.casing.guess(stem),
                )
                for flags in self._flags[stem]
            ] + self._more.index.get(stem, [])
        return known


class Dictionary:
    """One dictionary: ``name.aff`` and ``name.dic``."""

    def __init__(self, path: Path) -> None:
        """Read it. Raises whatever spylls does over files that are not what they should be."""
        aff, context = read_aff(FileReader(f"{path}.aff"))
        with Path(f"{path}.dic").open(
            encoding=context.encoding, errors="surrogateescape", newline="\n"
        ) as file:
            text = file.read().removeprefix("\ufeff")
        lines = [line for one in text.split("\n") if (line := one.strip())]
        if lines and _COUNT.match(lines[0]):
            del lines[0]
        self._aff = aff
        self.list = WordList(lines, aff, context)
        self._lookup = Lookup(aff, self.list)

    @cached_property
    def _suggest(self) -> Suggest:
        return Suggest(self._aff, self.list, self._lookup)

    def lookup(self, word: str) -> bool:
        """Tell whether the word is one of the language's, in a form of it."""
        return bool(self._lookup(word))

    def suggest(self, word: str) -> Iterator[str]:
        """Yield what may have been meant, the likeliest first; the first time that takes
        seconds."""
        yield from self._suggest(word)
