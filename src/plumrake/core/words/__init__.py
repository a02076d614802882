"""Phrase lists by language, kept as TOML beside this file, and the normalising that they are
compared after."""

from __future__ import annotations

import re
import tomllib
import unicodedata
from collections.abc import Iterable, Mapping
from functools import cache, lru_cache
from importlib.resources import files
from typing import Any

_FALLBACK = "en"


@cache
def table(name: str) -> dict[str, Any]:
    """Return the data file ``name``.toml: language subtag to list, or to whatever the file
    holds."""
    return tomllib.loads(files(__package__).joinpath(f"{name}.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=1_024)
def phrases(name: str, language: str) -> frozenset[str]:
    """Return the normalised phrases of a list for a language; English where the language is unknown
    or has no list."""
    lists = table(name)
    return frozenset(normalised(phrase) for phrase in lists.get(language, lists[_FALLBACK]))


@lru_cache(maxsize=16_384)
def normalised(text: str) -> str:
    """Return ``text`` in small letters, with every run of what is no letter or digit as one space;
    "C", "C++" and "C#" stay apart."""
    small = (
        unicodedata.normalize("NFKC", text).casefold().replace("\u00ad", "").replace("\u200b", "")
    )
    small = re.sub(r"(?<=\w)['’](?=\w)", "'", small)
    small = re.sub(r"(?<=\b[a-z])#", " sharp", re.sub(r"(?<=\w)\+\+", " plus plus", small))
    return " ".join(re.sub(r"[^\w']|_", " ", small).split()).strip("' ")


def meaningful(text: str, language: str) -> set[str]:
    """Return the words of a text that carry meaning: no articles, prepositions and the like."""
    empty = phrases("function_words", language)
    return {
        word
        for word in normalised(text).split()
        if word not in empty and (len(word) > 1 or word.isdigit())
    }


def begin_alike(one: str, other: str) -> bool:
    """Tell whether two words are the same or begin alike ("mooring", "moorings")."""
    short, long = sorted((one, other), key=len)
    return (
        short == long
        or (len(short) >= 4 and long.startswith(short))
        or (len(short) >= 6 and short[:5] == long[:5])
    )


def skip_words(language: str) -> str:
    """Return what a link past the menus says in a language; in English where that has no words."""
    words = table("skip_to_content")
    return str(words.get(language, words[_FALLBACK]))


def has_letters_or_digits(text: str) -> bool:
    """Tell whether the text holds at least one letter or digit of any script."""
    return any(character.isalnum() for character in text)


def listed(name: str, language: str, words: Mapping[str, Iterable[str]]) -> frozenset[str]:
    """Return the phrases of a list for a language and those that the site's policy adds
    (``words["vague-links"]`` …)."""
    return phrases(name, language) | {
        normalised(phrase) for phrase in words.get(name.replace("_", "-"), ())
    }


def shortened(text: str, most: int = 70) -> str:
    """Return ``text`` for a sentence: cut after ``most`` characters, with an ellipsis where
    something is left out."""
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def holds_phrase(text: str, phrase: str) -> bool:
    """Tell whether a normalised text holds a normalised phrase as whole words."""
    return f" {phrase} " in f" {text} "
