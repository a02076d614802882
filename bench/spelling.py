"""Spelling: words of the demo's pages that are doubted without being planted, and how many made
slips of the pen are found.

``python -m bench.spelling [FOLDER]``: with a folder of HTML, its words in no dictionary are listed
too, to be read by eye.
"""

from __future__ import annotations

import random
import re
import sys
import time
from pathlib import Path

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.demo.site import build_environment
from plumrake.lenses.assessor import with_dictionaries
from plumrake.lenses.markup import parse_document
from plumrake.spelling.dictionaries import lexicon

_ONLY = Policy(only=("text/spelling",))
_EVERY, _MOST_FILES = 20, 20
_PROSE = re.compile(r"(?<=[ >])[A-Za-z][a-z]{3,}(?=[ .,<])")


def doubted(html: str, name: str) -> tuple[set[str], int]:
    """Return the words of a page that are in no dictionary, and how many words were asked about."""
    page = Page(parse_document(html, name))
    page = with_dictionaries(page)
    return {str(one.facts["word"]) for one in assess(page, _ONLY).findings}, len(page.written)


def slipped(word: str, chance: random.Random) -> str:
    """Return a word with one slip: a letter left out, doubled, changed over with the next, or
    another."""
    at = chance.randrange(1, len(word) - 1)
    other = chance.choice("abcdefghijklmnopqrstuvwxyz")
    return chance.choice(
        [
            word[:at] + word[at + 1 :],
            word[:at] + word[at] + word[at:],
            word[:at] + word[at + 1] + word[at] + word[at + 2 :],
            word[:at] + other + word[at + 1 :],
        ]
    )


def main(folder: str | None = None) -> None:
    """Print false words, found and missed slips, and the pace."""
    pages = [
        (
            page.address,
            page.html,
            {a["selector"] for a in page.answers if a["check"] == "text/spelling"},
        )
        for page in build_environment("live")
    ]
    start, asked, false = time.perf_counter(), 0, []
    for address, html, planted in pages:
        words, count = doubted(html, address)
        asked += count
        false += sorted(words)[len(planted) :]
    spent = time.perf_counter() - start
    print(
        f"  {len(pages)} pages, {asked:,} words in {spent:.1f} s, dictionaries read "
        f"included: {len(false)} doubted beside those planted {false}"
    )
    english = lexicon("en")
    assert english is not None
    chance, made, found, real = random.Random(7), 0, 0, 0
    for address, html, _ in pages:
        head, mark, body = html.partition("<main")
        for number, match in enumerate(_PROSE.finditer(body)):
            if number % _EVERY or '<html lang="en"' not in html:
                continue
            wrong = slipped(match[0], chance)
            if wrong == match[0]:
                continue
            made += 1
            if english.knows(wrong):
                real += 1
                continue
            found += (
                wrong
                in doubted(
                    head + mark + body[: match.start()] + wrong + body[match.end() :], address
                )[0]
            )
    print(
        f"  {made} slips made: {real} gave another word that is right, {found} of the other "
        f"{made - real} were found ({found / (made - real):.1%})"
    )
    if folder is not None:
        files = sorted(Path(folder).rglob("*.html"))
        for file in files[:: max(1, len(files) // _MOST_FILES)][:_MOST_FILES]:
            words, count = doubted(file.read_text(errors="replace"), file.name)
            print(f"  {file.name}: {count} words, {', '.join(sorted(words)) or 'none doubted'}")


if __name__ == "__main__":
    main(*sys.argv[1:])
