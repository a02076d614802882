"""A dictionary whose words are made when they are asked for says the same as spylls, which makes
all of them at once."""

from __future__ import annotations

from pathlib import Path

import pytest
from spylls.hunspell import Dictionary as AtOnce

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


@pytest.fixture
def files(tmp_path: Path) -> Path:
    """A small dictionary's files, without their endings."""
    (tmp_path / "xx_XX.aff").write_text(AFFIXES)
    (tmp_path / "xx_XX.dic").write_text(WORDS)
    return tmp_path / "xx_XX"


def test_answers_are_those_of_all_words_at_once(files: Path) -> None:
    """Forms, compounds, capitals, forbidden words, words with data or a slash in them."""
    ours, theirs = Dictionary(files), AtOnce.from_files(str(files))
    answers = {word: ours.lookup(word) for word in ASKED}
    assert answers == {word: theirs.lookup(word) for word in ASKED}
    assert answers["unlocks"]
    assert answers["towpath"]
    assert answers["MCADAM"]
    assert answers["and/or"]
    assert not answers["lockk"]
    assert not answers["stem"]


def test_what_was_meant_is_suggested_alike(files: Path) -> None:
    """Words that spylls reads with more than their flags are among those suggested."""
    ours, theirs = Dictionary(files), AtOnce.from_files(str(files))
    for word in ("lok", "wear", "ferrry", "herron"):
        assert list(ours.suggest(word)) == list(theirs.suggest(word))
    assert "weir" in list(ours.suggest("wear"))


def test_only_words_that_are_asked_for_are_made(files: Path) -> None:
    """The rest stays a line of the file; each listed word is there once."""
    dictionary = Dictionary(files)
    listed = list(dictionary.list.stems())
    assert sorted(listed) == sorted(set(listed))
    assert {"lock", "heron", "and/or", "Brindle"} <= set(listed)
    assert "12" not in listed
    dictionary.lookup("lock")
    assert [len(words) for words in dictionary.list._words.values()] == [2]


@pytest.mark.parametrize(
    "text", ["\ufeff2\nlock\nweir\n", "lock\nweir", "2\r\nlock\r\n\r\nweir\r\n"]
)
def test_lists_are_read_however_they_begin_and_end(files: Path, text: str) -> None:
    """A byte-order mark, a missing count, the line ends of another system."""
    Path(f"{files}.dic").write_bytes(text.encode())
    assert list(Dictionary(files).list.stems()) == ["lock", "weir"]


def test_a_missing_list_is_an_error(files: Path) -> None:
    """It is not taken for an empty one."""
    Path(f"{files}.dic").unlink()
    with pytest.raises(FileNotFoundError):
        Dictionary(files)
