"""What dictionaries are asked and what they answer: languages and their regions, limits, broken
files."""

from pathlib import Path

import pytest

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy, policy_from
from plumrake.lenses.assessor import with_dictionaries
from plumrake.lenses.markup import parse_document
from plumrake.spelling import dictionaries
from plumrake.spelling.dictionaries import lexicon

ONLY = {"only": ["text/spelling"]}


def doubted(body: str, lang: str = "en", policy: Policy | None = None) -> list[str]:
    """Return the words of a page that are doubted; ["untested"] where that is what is said."""
    page = Page(
        parse_document(
            f"<!doctype html><html lang='{lang}'><body>{body}</body></html>",
            "http://words.invalid/",
        )
    )
    page = with_dictionaries(page)
    assessment = assess(page, policy or policy_from(ONLY))
    return (
        ["untested"]
        if assessment.untested
        else [
            word
            for one in assessment.findings
            for word in ([one.facts["word"]] if "word" in one.facts else one.facts["words"])
        ]
    )


def test_region_decides_and_without_one_all_usual_are_right() -> None:
    """British pages are held to British spelling, American to American, in one remark on all such
    words; a page that only says English to either."""
    text = "<p>The colour and the color, the centre and the center.</p>"
    assert doubted(text) == []
    assert doubted(text, "en-GB") == ["center", "color"]
    assert set(doubted(text, "en-US")) == {"colour", "centre"}
    assert doubted(text, "en-AU") == []  # no dictionary of its own, so the usual ones


def test_language_without_dictionary_is_untested() -> None:
    """What nobody can look up is not called right."""
    assert doubted("<p>nuqneH qaStaH</p>", "tlh") == ["untested"]
    assert doubted("<p lang=tlh>nuqneH qaStaH</p><p>A lokc.</p>") == ["lokc"]


def test_own_words_of_a_policy_count_with_their_possessives() -> None:
    """Capitals and 's make no difference."""
    own = policy_from({**ONLY, "words": {"own-words": ["Gongoozler"]}})
    assert doubted("<p>A gongoozler's hat, the gongoozler and a windlas.</p>", policy=own) == [
        "windlas"
    ]


@pytest.mark.parametrize(
    ("text", "wrong"),
    [
        ("Towpath’s end, the boats’ names, o’clock", []),
        ("“Recieve it” is wrong; “Hofmannsthal rows” is a name", ["Recieve"]),
        ("MORE LOKCS AHEAD TODAY", ["lokcs"]),
        ("Moor at the har\u00adbour, not the harb\u00aduor", ["harbuor"]),
        ("Write to towpath@canel.example or see canel.example/slooces", []),
        ("A three-foot-deep, re-opened and re-opend lock", ["re-opend"]),
        ("Der Kanal ist heute für alle Boote geschlossen", []),
    ],
)
def test_what_is_a_word(text: str, wrong: list[str]) -> None:
    """Possessives, names, capitals, soft hyphens, addresses, hyphens, other languages."""
    assert doubted(f"<p>{text}.</p>") == wrong


def test_too_many_words_are_not_waited_for(monkeypatch: pytest.MonkeyPatch) -> None:
    """A page with more different words than are asked about, or whose words take too long, is
    untested."""
    monkeypatch.setattr(dictionaries, "_MOST_WORDS", 3)
    assert doubted("<p>One two three four five.</p>") == ["untested"]
    monkeypatch.undo()
    monkeypatch.setattr(dictionaries, "_SECONDS", -1.0)
    assert doubted("<p>Abcdefg zyxwvu.</p><p>qwrtz.</p>") == ["untested"]


def test_broken_and_missing_dictionaries(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A folder without any, or with one that cannot be read, leaves the check untested."""
    monkeypatch.setenv("PLUMRAKE_DICTIONARIES", str(tmp_path / "none"))
    assert doubted("<p>A lokc.</p>") == ["untested"]
    broken = tmp_path / "broken"
    broken.mkdir()
    (broken / "en_GB.aff").write_bytes(b"SET NO-SUCH-SET\n")
    (broken / "en_GB.dic").write_bytes(b"\xff\xfe")
    monkeypatch.setenv("PLUMRAKE_DICTIONARIES", str(broken))
    assert doubted("<p>A lokc.</p>") == ["untested"]


def test_suggestions_name_what_was_meant() -> None:
    """The likeliest come first."""
    english = lexicon("en-GB")
    assert english is not None
    assert english.suggest("recieve")[0] == "receive"
