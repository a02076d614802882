"""A passage is in another language than the page says.

Speech reads every passage with the voice of the language that is said for it. A German passage read
by an English voice is noise. So is a whole page whose ``lang`` was left at the template's.

## Who is hindered

People who listen to the page, and people who let it be translated or read in Braille: contractions
differ from language to language.

## What an editor does

Mark the passage with its language in the editor. If the whole page is in that language, choose the
page's language in its settings.

## What a template developer does

Print the language of each page into ``html lang``, and let editors mark passages.

## Wrong

    <p>Der Treidelpfad zwischen den beiden Schleusen bleibt bis Ende März gesperrt, während die
    Freiwilligen die im Sturm eingestürzte Mauer wieder aufbauen.</p>

## Right

    <p lang="de">Der Treidelpfad zwischen den beiden Schleusen bleibt bis Ende März gesperrt,
    während die Freiwilligen die im Sturm eingestürzte Mauer wieder aufbauen.</p>

## Left alone

Passages of fewer than twenty words, filler text, passages that say no language, and languages that
cannot be told from their letters.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened
from plumrake.core.words.languages import name_of_language

_SEVERAL = 3


@check(
    id="page/passage-unmarked",
    weight=Weight.OBSTACLE,
    criteria=("3.1.2",),
    needs=(Needs.TREE, Needs.LANGUAGES),
    messages={
        "passage": "“{text}” looks {looks}, but says that it is {said}.",
        "page": "The page says that it is {said}, but most of its text looks {looks}.",
    },
    questions={
        "passage": "Is this passage in the language that it says?",
        "page": "Is this page in the language that it says?",
    },
)
def passage_unmarked(page: Page) -> Iterator[Flag]:
    """Yield every passage of twenty words or more whose letters are those of another language than
    its ``lang`` says; the page once where most of its long passages are so in one language."""
    of_page = [
        other for one, other in page.foreign if one.language == page.language_tag_of(page.root)
    ]
    main, count = Counter(of_page).most_common(1)[0] if of_page else ("", 0)
    whole = count * 2 > len(page.prose) and count >= _SEVERAL
    if whole:
        said = page.language_tag_of(page.root)
        yield cant_tell(page.root, "page", **_words(said, main), mends=(_mend(main),))
    for one, other in page.foreign:
        if whole and other == main and one.language == page.language_tag_of(page.root):
            continue
        yield cant_tell(
            one.element,
            "passage",
            text=shortened(one.text, 50),
            **_words(one.language, other),
            facts={"lang": one.language, "looks": other, "text": one.text[:200]},
            mends=(_mend(other),),
        )


def _words(said: str, looks: str) -> dict[str, str]:
    return {"said": name_of_language(said), "looks": name_of_language(looks)}


def _mend(language: str) -> Mend:
    return Mend(
        "set-attribute",
        "Say its language, if it is in this one.",
        attribute="lang",
        value=language,
    )
