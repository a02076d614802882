"""Dictionaries: hunspell's, as Debian installs them, asked through Enchant. Without any the
spelling stays untested.

``PLUMRAKE_DICTIONARIES`` names another folder than Debian's. A dictionary is read when its language
is first met and stays in memory.
"""

from __future__ import annotations

import os
import threading
import time
from collections import OrderedDict
from functools import cache, lru_cache
from pathlib import Path

from plumrake.core.evidence import Spelled
from plumrake.core.overtaking import go_on
from plumrake.core.page import Page
from plumrake.core.words.forms import is_known, slips_of, stems_of
from plumrake.spelling.hunspell import Dictionary

_USUAL = {"en": ("en_GB", "en_US"), "pt": ("pt_PT", "pt_BR")}
_MOST_WORDS, _SECONDS = 4000, 20.0
_MOST_KEPT = 300_000
_MOST_SUGGESTED = 6


class TooManyWords(TimeoutError):
    """Asking about all words of the page would take too long."""


class DictionaryUnreadable(OSError):
    """A dictionary's files are not what they should be; the message says which."""

    code = "no-dictionary"


class Lexicon:
    """What is known of one language tag: the dictionaries that answer for it, and what they have
    answered."""

    def __init__(self, tag: str, names: tuple[str, ...], folder: Path) -> None:
        self.tag = tag
        self._names, self._folder = names, folder
        self._known: OrderedDict[str, bool] = OrderedDict()
        self._near: OrderedDict[str, bool] = OrderedDict()

    def knows(self, word: str) -> bool:
        """Tell whether a dictionary of the language has the word, possessives and hyphenated words
        by their parts."""
        if word not in self._known:
            _remember(self._known, word, is_known(word, self.tag, self._has))
        return self._known[word]

    def has_near(self, word: str) -> bool:
        """Tell whether a word is one slip away from one that stands in a dictionary, or from a
        plain form of one."""
        if word not in self._near:
            _remember(self._near, word, self._stands_near(word))
        return self._near[word]

    def _stands_near(self, word: str) -> bool:
        stems = [_stems(file) for file in self._files()]
        return any(
            stem in known
            for slip in slips_of(word)
            if len(slip) > 2
            for stem in stems_of(slip, self.tag)
            for known in stems
        )

    def suggest(self, word: str) -> list[str]:
        """Return up to six words that may have been meant, the likeliest first."""
        found: dict[str, None] = {}
        for file in self._files():
            for meant in _dictionary(file).suggest(word):
                if meant.casefold() == word.casefold():
                    continue
                found[meant] = None
                if len(found) == _MOST_SUGGESTED:
                    return list(found)
        return list(found)

    def _files(self) -> list[Path]:
        return [self._folder / name for name in self._names]

    def _has(self, word: str) -> bool:
        return any(_dictionary(file).lookup(word) for file in self._files())


def _remember(answers: OrderedDict[str, bool], word: str, answer: bool) -> None:
    """Keep an answer; the oldest go where there are too many."""
    answers[word] = answer
    while len(answers) > _MOST_KEPT:
        answers.popitem(last=False)


_lock = threading.RLock()


@cache
def _read(file: Path) -> Dictionary:
    try:
        return Dictionary(file)
    except ImportError:
        raise DictionaryUnreadable(
            "the library Enchant is not on this machine; install Debian's 'libenchant-2-2'"
        ) from None
    except (ValueError, OSError) as error:
        raise DictionaryUnreadable(
            f"the dictionary {file}.dic cannot be read: {error or type(error).__name__}"
        ) from error


def _dictionary(file: Path) -> Dictionary:
    with _lock:  # read once, whoever asks first
        return _read(file)


@cache
def _stems(file: Path) -> frozenset[str]:
    return _dictionary(file).stems


def _folder() -> Path:
    return Path(os.environ.get("PLUMRAKE_DICTIONARIES", "/usr/share/hunspell"))


@cache
def _installed(folder: Path) -> frozenset[str]:
    return (
        frozenset(file.stem for file in folder.glob("*.dic") if file.with_suffix(".aff").is_file())
        if folder.is_dir()
        else frozenset()
    )


@lru_cache(maxsize=256)
def _lexicon(tag: str, folder: Path) -> Lexicon | None:
    primary, _, region = tag.partition("-")
    there = _installed(folder)
    exact = f"{primary}_{region.rpartition('-')[2].upper()}"
    if region and exact in there:
        return Lexicon(tag, (exact,), folder)
    usual = tuple(
        name for name in _USUAL.get(primary, (f"{primary}_{primary.upper()}",)) if name in there
    )
    others = tuple(sorted(name for name in there if name.partition("_")[0] == primary))[:1]
    names = usual or others
    return Lexicon(tag, names, folder) if names else None


def lexicon(tag: str) -> Lexicon | None:
    """Return what is known of a language tag (``en``, ``en-gb``), or None where no dictionary
    answers for it.

    A tag with a region is answered by that region's dictionary where it is there, one without by
    all usual ones together.
    """
    return _lexicon(tag.strip().lower().replace("_", "-"), _folder())


def installed() -> frozenset[str]:
    """Return the names of the dictionaries on this machine (``en_GB``)."""
    return _installed(_folder())


def spell(page: Page) -> Spelled:
    """Return what the dictionaries say about a page's words. Raises ``TooManyWords``,
    ``DictionaryUnreadable``."""
    end = time.monotonic() + _SECONDS
    asked = {(one.language, one.word) for one in page.written}
    capitals = {(one.language, one.word) for one in page.written if one.is_capital}
    lexicons = {
        tag: lexicon(tag)
        for tag in {tag for tag, _ in asked} | {page.language.lower().replace("_", "-")}
    }
    if len(asked) > _MOST_WORDS:
        raise TooManyWords(f"the page has more than {_MOST_WORDS:,} different words")
    unknown, near, english, variant = set(), set(), set(), set()
    lingua = lexicon("en")
    for tag, word in sorted(asked):
        go_on()
        known = lexicons[tag]
        if known is None or known.knows(word):
            continue
        unknown.add((tag, word))
        anywhere = lexicon(tag.partition("-")[0]) if "-" in tag else None
        if anywhere is not None and anywhere.knows(word):
            variant.add((tag, word))
        if (tag, word) in capitals and known.has_near(word):
            near.add((tag, word))
        if lingua is not None and tag.partition("-")[0] != "en" and lingua.knows(word):
            english.add((tag, word))
        if time.monotonic() > end:
            raise TooManyWords(
                f"the dictionaries took more than {_SECONDS:g} s for the page's words"
            )
    return Spelled(
        frozenset(unknown),
        frozenset(near),
        frozenset(english),
        frozenset(tag for tag, known in lexicons.items() if known is not None),
        frozenset(variant),
    )
