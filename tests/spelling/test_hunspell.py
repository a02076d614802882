"""A small dictionary with a bit of everything: which words are of the language, what was meant,
what is listed."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from plumrake.spelling.hunspell import Dictionary

AFFIXES = """SET UTF-8
TRY esianrtolcdugmphbyfvkwz
FORBIDDENWORD !
KEEPCASE K
NEEDAFFIX N
COMPOUNDFLAG C
REP 1
REP f ph

PFX U Y 1
PFX U 0 un .

SFX S Y 2
SFX S y ies [^aeiou]y
SFX S 0 s [^y]
"""
WORDS = """12
lock/SU
ferry/S
heron\tpo:noun
weir ph:wear
tow/C
path/CS
McAdam
and\\/or
kHz/K
lockk/!
stem/NS
lock/S
Brindle
"""
ASKED = [
    *("lock", "locks", "unlock", "unlocks", "Lock", "LOCKS", "loock", "ferries", "ferrys", "Ferry"),
    *("heron", "herons", "weir", "towpath", "towpaths", "pathtow", "McAdam", "MCADAM", "mcadam"),
    *(
        "and/or",
        "kHz",
        "KHZ",
        "khz",
        "lockk",
        "stem",
        "stems",
        "Brindle",
        "brindle",
        "BRINDLE",
        "12",
    ),
]


KNOWN = {
    *("lock", "locks", "unlock", "unlocks", "Lock", "LOCKS", "ferries", "Ferry", "heron", "weir"),
    *("towpath", "towpaths", "pathtow", "McAdam", "MCADAM", "and/or", "kHz", "stems"),
    *("Brindle", "BRINDLE", "12"),
}


@pytest.fixture
def files(tmp_path: Path) -> Path:
    """A small dictionary's files, without their endings."""
    (tmp_path / "xx_XX.aff").write_text(AFFIXES)
    (tmp_path / "xx_XX.dic").write_text(WORDS)
    return tmp_path / "xx_XX"


def test_answers(files: Path) -> None:
    """Forms, compounds, capitals, forbidden words, words with data or a slash in them."""
    dictionary = Dictionary(files)
    known = {word for word in ASKED if dictionary.lookup(word)}
    assert known == KNOWN


def test_what_was_meant_is_suggested(files: Path) -> None:
    """One letter too few, too many, or one that is written otherwise."""
    dictionary = Dictionary(files)
    assert dictionary.suggest("ferrry")[0] == "ferry"
    assert "heron" in dictionary.suggest("herron")
    assert "lock" in dictionary.suggest("lok")


@pytest.mark.parametrize("begin", ["", "\ufeff"])
@pytest.mark.parametrize("end", ["\n", "\r\n"])
def test_stems_are_the_words_as_listed(files: Path, begin: str, end: str) -> None:
    """Whatever a list begins with and however its lines end: no flags, no data, no number."""
    Path(f"{files}.dic").write_bytes((begin + WORDS.replace("\n", end)).encode())
    stems = Dictionary(files).stems
    assert {"lock", "heron", "and/or", "Brindle", "weir"} <= stems
    assert not {"12", "lock/SU", "locks"} & stems


def test_no_list_of_ones_own_counts(files: Path, tmp_path: Path) -> None:
    """A word list of Enchant's in the home of whoever runs this changes no answer."""
    own = tmp_path / "home/.config/enchant"
    own.mkdir(parents=True)
    (own / "xx_XX.dic").write_text("gongoozler\n")
    asked = (
        "from pathlib import Path; from plumrake.spelling.hunspell import Dictionary; "
        f"print(Dictionary(Path({str(files)!r})).lookup('gongoozler'))"
    )
    said = subprocess.run(
        [sys.executable, "-c", asked],
        env={**os.environ, "HOME": str(tmp_path / "home")},
        capture_output=True,
        text=True,
        check=True,
    )
    assert said.stdout.strip() == "False"


@pytest.mark.parametrize(
    ("affixes", "words", "says"),
    [
        ("SET NO-SUCH-SET\n", "1\nlock\n", "NO-SUCH-SET"),
        ("SET UTF-8\n", "lock\nweir\n", "number of words"),
        ("SET UTF-8\n", "", "number of words"),
    ],
)
def test_what_is_no_dictionary_says_so(files: Path, affixes: str, words: str, says: str) -> None:
    """Rather than knowing no word at all."""
    Path(f"{files}.aff").write_text(affixes)
    Path(f"{files}.dic").write_text(words)
    with pytest.raises(ValueError, match=says):
        Dictionary(files)
