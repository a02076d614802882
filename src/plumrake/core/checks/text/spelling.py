"""A word is in no dictionary.

A misspelt word is stumbled over, read out wrong, and not found by search. Words of the site's own,
such as names of places and boats, are put into the site's list of words once and are right from
then on.

## Who is hindered

People who find reading hard, people who read in a language that is not their first, and people who
listen: speech says what is written.

## What an editor does

Correct the word. If it is right, add it to the site's words; if it is of another language, mark
that with ``lang``.

## What a template developer does

Nothing, unless the word stands in the template.

## Wrong

    <p>The lock is closed untill Easter.</p>

## Right

    <p>The lock is closed until Easter.</p>

## Left alone

Names, short forms in capitals, addresses, code, numbers with their units, passages in another
language, and languages without a dictionary on the machine.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from plumrake.core.evidence import Spelled
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words.languages import name_of_language
from plumrake.core.written import Written, foreign_passages

_SOURCES = {
    "text": "the text",
    "title": "the page’s title",
    "alt": "a text alternative",
    "label": "a label",
    "value": "a button",
}


@check(
    id="text/spelling",
    weight=Weight.FRICTION,
    criteria=(),
    needs=(Needs.TREE, Needs.DICTIONARY),
    messages={
        "once": "“{word}” is in no {language} dictionary; it stands in {where}.",
        "often": (
            "“{word}” is in no {language} dictionary; it stands on this page {count} times, "
            "first in {where}."
        ),
        "variant": (
            "{count} words, such as “{word}”, are spelt as another region spells {language}; the "
            "page says that it is {tag}."
        ),
    },
    questions={
        "once": "Is the word spelt right?",
        "often": "Is the word spelt right?",
        "variant": "Is the page in the language that it says, or are the words to be spelt so?",
    },
)
def spelling(page: Page, options: Mapping[str, Any]) -> Iterator[Flag]:
    """Yield each word that is in no dictionary, where it stands first."""
    spelled = page.evidence.spelled
    if spelled is None or (
        page.language and page.language.lower().replace("_", "-") not in spelled.languages
    ):
        raise NotTested(Needs.DICTIONARY)
    own = {word.casefold() for word in options["words"].get("own-words", ())}
    foreign = {one.passage for one, _ in page.foreign}
    yield from _of_other_regions(page, spelled, own)
    for places in _misspelt(page.written, spelled, own, foreign).values():
        first, count = places[0], len(places)
        language = name_of_language(first.language)
        where = _SOURCES.get(first.source, f"the {first.source} attribute")
        yield cant_tell(
            first.element,
            "once" if count == 1 else "often",
            word=first.word,
            language=language,
            where=where,
            count=count,
            facts={
                "word": first.word,
                "count": count,
                "language": first.language,
                "in": sorted({one.source for one in places}),
            },
            cause=("word", first.language.partition("-")[0], first.word.casefold()),
            anywhere=True,
            mends=(
                Mend(
                    "replace-word",
                    "Correct the word, or add it to the site’s words.",
                    to=first.word,
                    attribute=first.source if first.source in first.element.attributes else None,
                ),
            ),
        )


def _of_other_regions(page: Page, spelled: Spelled, own: set[str]) -> Iterator[Flag]:
    """Yield one remark on all words that another region of the page's language spells so: it is the
    same on every page of the site."""
    found: dict[str, list[str]] = {}
    for one in page.written:
        if (one.language, one.word) in spelled.variant and not _is_own(one.word, own):
            found.setdefault(one.language, []).append(one.word)
    for tag, words in found.items():
        yield cant_tell(
            page.root,
            "variant",
            count=len(words),
            word=words[0],
            language=name_of_language(tag.partition("-")[0]),
            tag=tag,
            facts={"words": sorted(set(words))[:20], "language": tag, "count": len(words)},
            cause=("variant", tag),
            anywhere=True,
            mends=(
                Mend(
                    "set-attribute",
                    "Say the language that the text is in, or spell all words as the page says.",
                    attribute="lang",
                    value=tag.partition("-")[0],
                ),
            ),
        )


def _misspelt(
    words: list[Written], spelled: Spelled, own: set[str], told: set[int]
) -> dict[tuple[str, str], list[Written]]:
    """Return the places of each doubtful word of a page by its language and its small letters,
    but for those in passages that were ``told`` to be of another language."""

    def is_unknown(one: Written) -> bool:
        key = one.language, one.word
        is_elsewhere = key in spelled.variant
        return key in spelled.unknown and not is_elsewhere and not _is_own(one.word, own)

    foreign = told | foreign_passages(
        words, is_unknown, lambda one: (one.language, one.word) in spelled.english
    )
    found: dict[tuple[str, str], list[Written]] = {}
    for one in words:
        doubtful = is_unknown(one) and (
            not one.is_capital or (one.language, one.word) in spelled.near
        )
        if doubtful and one.passage not in foreign:
            found.setdefault((one.language, one.word.casefold()), []).append(one)
    return found


def _is_own(word: str, own: set[str]) -> bool:
    small = word.casefold()
    return bool({small, small.removesuffix("'s"), small.removesuffix("'")} & own) or (
        "-" in small and all(part in own for part in small.split("-"))
    )
