"""The language of a passage, told from its letters by py3langid's model of four letters at a time.

The model is part of the package; nothing is asked of the network.
"""

from __future__ import annotations

import contextlib
from functools import cache, lru_cache
from typing import Any

from plumrake.core.page import Page
from plumrake.core.words.languages import NAMES
from plumrake.core.written import words_of
from plumrake.spelling.dictionaries import DictionaryUnreadable, lexicon

_MORE_LIKELY = 0.6
"""By so much, per letter, the likelihood's logarithm of another language has to be higher. German
called English stands at 1.4, an English list of names and numbers below 0.5."""
_SAME = {"nb": "no", "nn": "no", "bs": "hr", "sh": "hr"}
_MOST_LETTERS = 2000
_LOOKED_UP, _KNOWN = 40, 0.8
"""Of French called English an English dictionary has up to two thirds, where it is full of names;
of English, for all its names, more than four fifths."""


@cache
def _identifier() -> Any:
    from py3langid.langid import MODEL_FILE, LanguageIdentifier  # takes a fifth of a second

    identifier = LanguageIdentifier.from_model_file(MODEL_FILE)
    identifier.set_languages([tag for tag in NAMES if tag in identifier.labels])
    return identifier


def other_language(text: str, said: str) -> str | None:
    """Return the primary subtag of the language that a text looks to be in, where that is clearly
    another than its tag says; None where it is not, or where the model does not know what is
    said."""
    return _other_language(text[:_MOST_LETTERS], said)


@lru_cache(maxsize=512)
def _other_language(text: str, said: str) -> str | None:
    if _is_known(text, said):
        return None
    primary = said.partition("-")[0]
    likely = dict(_identifier().rank(text))
    own = likely.get(_SAME.get(primary, primary))
    best = max(likely, key=lambda tag: likely[tag])
    if own is None or (likely[best] - own) / len(text) < _MORE_LIKELY:
        return None
    return str(best)


def _is_known(text: str, said: str) -> bool:
    """Tell whether a dictionary of a language has nearly all of the words that a text begins with,
    so that nobody need guess from its letters."""
    words = words_of(text)[:_LOOKED_UP]
    may_be_unknown = len(words) * (1 - _KNOWN)
    with contextlib.suppress(DictionaryUnreadable):
        if (own := lexicon(said)) is None:
            return False
        for word in words:
            may_be_unknown -= not own.knows(word)
            if may_be_unknown < 0:
                return False
        return bool(words)
    return False


def tongues(page: Page) -> dict[tuple[str, str], str]:
    """Return what the long passages look to be in, where that is another language than they say,
    by their said language and text."""
    return {
        (one.language, one.text): other
        for one in page.prose
        if (other := other_language(one.text, one.language)) is not None
    }
