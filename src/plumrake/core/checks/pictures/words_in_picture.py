"""The words in a picture are not in its text.

A picture of words cannot be read aloud, enlarged without blur, recoloured or translated. What is
written in it has to be in its text, or better: be real text.

## Who is hindered

People who listen to the page, who never meet the words; people who enlarge text or choose their own
colours, since a picture does not follow.

## What an editor does

Type the words into the page and leave the picture without them. Where the words have to stay in
the picture (a logo, a poster), write them into its text.

## What a template developer does

Set words over pictures with HTML and CSS. Never export headings or buttons as pictures.

## Wrong

    <img src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='420'
      height='80'%3E%3Crect width='420' height='80' fill='white'/%3E%3Ctext x='20' y='52'
      font-size='34' font-family='sans-serif'%3EClosed until Easter%3C/text%3E%3C/svg%3E"
      alt="Notice">

## Right

    <img src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='420'
      height='80'%3E%3Crect width='420' height='80' fill='white'/%3E%3Ctext x='20' y='52'
      font-size='34' font-family='sans-serif'%3EClosed until Easter%3C/text%3E%3C/svg%3E"
      alt="Notice: closed until Easter">

## Left alone

Words that the picture's text, its description, its caption or the link around it also says, one
word alone that is short or read with doubt, and pictures under 40×14 px. Where no optical character
reading is installed the check is not tested.
"""

from __future__ import annotations

from collections.abc import Iterator
from difflib import get_close_matches

from plumrake.core.checks.pictures.shared import write_text
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, shortened

_SURE, _VERY_SURE = 0.8, 0.9
_SHORTEST, _ALONE = 3, 5
_ALIKE = 0.75
_VOWELS = frozenset("aeiouyäöüéèêáàâíóúåæøœŵŷ")


@check(
    id="pictures/words-in-picture",
    weight=Weight.OBSTACLE,
    criteria=("1.4.5",),
    needs=(Needs.LAYOUT, Needs.RECOGNITION),
    messages={"lacking": "In this picture one reads “{words}”, which its text does not say."},
    questions={"lacking": "Do these words stand in the picture, and do readers need them?"},
)
def words_in_picture(page: Page) -> Iterator[Flag]:
    """Yield every picture with words in it that neither its name nor what stands around it says."""
    if page.evidence.words is None:
        raise NotTested(Needs.RECOGNITION)
    for index, read in page.evidence.words.items():
        element = page.elements[index]
        sure = [word.text for word in read if word.sure >= _SURE]
        said = _said(page, element)
        lacking = [
            word.text
            for word in read
            if word.sure >= _SURE and _is_word(word.text) and not _is_said(word.text, said)
        ]
        alone = {
            word.text
            for word in read
            if word.sure >= _VERY_SURE and len(normalised(word.text)) >= _ALONE
        }
        if len(lacking) > 1 or (lacking and lacking[0] in alone):
            words = " ".join(sure)
            yield cant_tell(
                element,
                "lacking",
                words=shortened(words),
                facts={"read": words, "lacking": lacking, "name": page.name_of(element)},
                mends=(
                    Mend("advice", "Type the words into the page and use a picture without them."),
                    write_text(
                        element,
                        "Where they have to stay in the picture: say them in its text.",
                        words,
                    ),
                ),
            )


def _said(page: Page, element: Element) -> set[str]:
    """Return the words of the picture's name and description, of the link or button around it and
    of its caption."""
    texts = [page.name_of(element), page.description_of(element)]
    for ancestor in element.ancestors():
        if page.role_of(ancestor) in ("link", "button"):
            texts.append(page.name_of(ancestor))
        if ancestor.tag == "figure":
            texts.append(page.text_of(ancestor))
    return set(normalised(" ".join(texts)).split())


def _is_word(text: str) -> bool:
    word = normalised(text)
    return len(word) >= _SHORTEST and word.isalpha() and not _VOWELS.isdisjoint(word)


def _is_said(text: str, said: set[str]) -> bool:
    """Tell whether a word is among those that are said; a letter read wrongly does not count."""
    word = normalised(text)
    return word in said or bool(get_close_matches(word, said, n=1, cutoff=_ALIKE))
