"""A link's text says nothing about where it leads.

Links are read one after the other: from a list of all links, by the Tab key, by a glance over the
page. "Click here", "more" or "»" is then all that is heard, ten times on one page, each leading
elsewhere.

## Who is hindered

People who listen to links out of their sentence, people who scan the page for the link they need,
and people who have little room for what is around it: with magnification one link fills the screen.

## What an editor does

Put into the link the words that name its target: "Opening times of Hallow Lock" instead of "For
opening times click here". The sentence often gets shorter.

## What a template developer does

In teasers, make the headline the link, or add its text to "Read more" (also hidden from sight).
A description (``aria-describedby``) does not make a name.

## Wrong

    <p>For opening times <a href="/locks/hallow">click here</a>.</p>

## Right

    <p>See the <a href="/locks/hallow">opening times of Hallow Lock</a>.</p>

## Left alone

A link whose paragraph, list item or description (``aria-describedby``) tells its target is
friction only: in context it does (2.4.4), read alone it does not (2.4.9). That they tell it is
taken from words that its address has as well, or from a description that says anything at all.

Names that add the object ("Read more about moorings"), however it is added: text, hidden text,
``aria-label`` or ``aria-labelledby``. Page numbers in a pager. Pieces of code (``read()`` within
``code``), which are the name of what they lead to, and symbols that are no arrows ("¶", "#").
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any

from plumrake.core.checks.links.shared import is_code, target_of
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import (
    begin_alike,
    has_letters_or_digits,
    meaningful,
    normalised,
    phrases,
    table,
)

_ARROW = "«»‹›<>←-⇿➔-➾⟵-⟿⤀-⥿⬅-⬇◀▶►◄▸▹▻⏵⏩"
_ARROWS = re.compile(rf"[\s.…]*[{_ARROW}][\s.…{_ARROW}]*")
_CODE = re.compile(r"\w_\w|\w\(\)")
_FILE_TYPE = re.compile(r"\.\w{2,5}$")
_LEAST_LETTERS = 4
_ASIDE = re.compile(r"[(\[][^()\[\]]{0,60}[)\]]\s*$")


@check(
    id="links/vague",
    weight=Weight.OBSTACLE,
    criteria=("2.4.4",),
    needs=Needs.TREE,
    messages={
        "phrase": "The link text “{name}” does not say that it leads to {target}.",
        "arrow": "The link to {target} is called only “{name}”.",
        "by-context": (
            "The link text “{name}” says that it leads to {target} only together with its {around}."
        ),
    },
)
def vague(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every link whose name is, surrounding words aside, one of the phrases that say
    nothing."""
    for link in page.exposed(role="link"):
        name = page.name_of(link)
        if not name or is_code(link):
            continue
        language = page.language_of(link)
        phrase = matched_phrase(name, language, options.get("words", {}))
        if phrase is None:
            continue
        around = _told_by(page, link, language)
        yield failed(
            link,
            "by-context" if around else "phrase" if phrase else "arrow",
            name=name,
            target=target_of(link),
            around=around,
            facts={
                "name": name,
                "phrase": phrase,
                "language": language,
                "target": link.get("href"),
                "sentence": _sentence(link),
                **({"told_by": around} if around else {}),
            },
            mends=_mends(link),
            **({"weight": Weight.FRICTION, "criteria": ("2.4.9",)} if around else {}),
        )


def _told_by(page: Page, link: Element, language: str) -> str:
    """Return what tells the link's target beside its name; ``""`` where nothing does for sure."""
    if meaningful(page.description_of(link), language):
        return "description"
    block = link.closest("p", "li", "dd")
    if block is None:
        return ""
    own = meaningful(page.text_of(link), language)
    said = meaningful(page.text_of(block), language) - own
    target = _words_of_address(link.get("href"), language) - phrases("vague_links", language)
    if not any(begin_alike(one, other) for one in target for other in said):
        return ""
    return "paragraph" if block.tag == "p" else "list item"


def _words_of_address(address: str, language: str) -> set[str]:
    """Return the words of an address's last two parts."""
    path, _, part = (
        address.partition("://")[2].partition("/")[2].partition("#")
        if ("://" in address)
        else address.partition("#")
    )
    parts = [one for one in path.partition("?")[0].split("/") if one][-2:]
    words = meaningful(" ".join([*(_FILE_TYPE.sub("", one) for one in parts), part]), language)
    return {word for word in words if len(word) >= _LEAST_LETTERS and word.isalpha()}


def matched_phrase(name: str, language: str, words: Mapping[str, Any]) -> str | None:
    """Return the phrase that the whole name comes down to, ``""`` for a mere arrow, None where it
    says something."""
    if not has_letters_or_digits(name):
        return "" if _ARROWS.fullmatch(name) else None
    if _CODE.search(name):
        return None
    known = phrases("vague_links", language) | {
        normalised(phrase) for phrase in words.get("vague-links", ())
    }
    for candidate in (normalised(name), normalised(_ASIDE.sub("", name))):
        if candidate in known:
            return candidate
        bare = _without_surroundings(candidate, language)
        if bare in known:
            return bare
    return None


@lru_cache(maxsize=64)
def _surroundings(language: str) -> re.Pattern[str]:
    """Return what matches the words that may stand before and after a phrase without telling
    more."""
    around = table("vague_links")["around"]
    words = "|".join(re.escape(normalised(word)) for word in around.get(language, around["en"]))
    return re.compile(rf"(?:(?:{words}) )*(.+?)(?: (?:{words}))*")


def _without_surroundings(name: str, language: str) -> str:
    """Return the name without words such as "please" or "now" before or after it."""
    match = _surroundings(language).fullmatch(name)
    return match.group(1) if match else name


def _sentence(link: Element) -> str:
    """Return the text of the block that the link stands in, for whoever rewords it."""
    block = link.closest("p", "li", "td", "dd", "div", "section", "article", "main", "body")
    return block.text(300) if block is not None else ""


def _mends(link: Element) -> tuple[Mend, ...]:
    name_it = Mend(
        "set-attribute",
        "Or keep the text and give the link a name that adds the target.",
        attribute="aria-label",
    )
    if link.has("aria-label"):
        return (replace(name_it, says="Give the link a name that says what it leads to."),)
    return Mend("replace-text", "Write into the link what it leads to."), name_it
