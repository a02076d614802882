"""Words: a site's own, doubtful ones, and what may have been meant."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from plumrake.models.base import Answer, Model, must

OneWord = Annotated[
    str,
    StringConstraints(strip_whitespace=True, max_length=60),
    must(
        r"[^\W\d_]+(?:['’-][^\W\d_]+)*",
        (
            "is no word; write letters only, with hyphens or apostrophes inside, and one word at "
            "a time"
        ),
    ),
]
Tag = Annotated[
    str,
    StringConstraints(max_length=35),
    must(r"[A-Za-z]{2,3}([-_][A-Za-z0-9]+)*", "is no language tag; write it as 'en' or 'en-GB'"),
]


class NewWords(Model):
    """Words to be right on a site from now on, whatever dictionaries say; capitals make no
    difference."""

    words: list[OneWord] = Field(min_length=1, max_length=2000)


class WordsAdded(Answer):
    """How many of the words were new."""

    added: int


class SiteWord(Answer):
    """A word that is right on a site, and who added it."""

    id: int
    word: str
    added_by: str
    added_at: datetime


class DoubtfulWord(Answer):
    """A word of a sweep that is in no dictionary: in how many places of how many pages, and where
    it stands first."""

    word: str
    language: str
    places: int
    pages: int
    finding: int
    path: str
    excerpt: str
    cause: str


class Suggestions(Answer):
    """What may have been meant by a word, the likeliest first."""

    word: str
    language: str
    suggestions: list[str]
