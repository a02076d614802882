"""The language of a passage is told from its letters, and where a dictionary has its words, from
those: both say the same."""

from __future__ import annotations

from pathlib import Path

import pytest

from plumrake.spelling import tongues
from plumrake.spelling.tongues import other_language

PASSAGES = {
    "en": "The keeper opens the upper gates at nine in the morning and closes them again when the "
    "last boat of the day has passed, whatever the weather is like.",
    "de": "Der Schleusenwärter öffnet die oberen Tore um neun Uhr am Morgen und schließt sie "
    "wieder, wenn das letzte Boot des Tages durchgefahren ist.",
    "fr": "Le gardien ouvre les portes du haut à neuf heures du matin et les referme quand le "
    "dernier bateau de la journée est passé, quel que soit le temps.",
}
FULL_OF_NAMES = (
    "La correspondance entre les noms REMOTE_ADDR, SERVER_NAME, DOCUMENT_ROOT, Content-Type et les "
    "valeurs Apache, Windows, Linux, Unix, Internet que donne le serveur est dans la table."
)


@pytest.mark.parametrize("there", [True, False], ids=["with dictionaries", "without any"])
@pytest.mark.parametrize("said", ["en", "en-gb", "de", "fr"])
def test_what_is_in_another_language_than_it_says(
    said: str, there: bool, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whether there is a dictionary of the language or not."""
    if not there:
        monkeypatch.setenv("PLUMRAKE_DICTIONARIES", str(tmp_path))
    tongues._other_language.cache_clear()
    own = said.partition("-")[0]
    for language, text in PASSAGES.items():
        assert other_language(text, said) == (None if language == own else language)
    assert other_language(FULL_OF_NAMES, said) == (None if own == "fr" else "fr")
    tongues._other_language.cache_clear()


def test_letters_are_asked_only_where_words_do_not_tell(monkeypatch: pytest.MonkeyPatch) -> None:
    """English called English is not guessed at."""
    asked: list[str] = []
    guess = tongues._identifier

    def counted() -> object:
        asked.append("")
        return guess()

    monkeypatch.setattr(tongues, "_identifier", counted)
    tongues._other_language.cache_clear()
    assert other_language(PASSAGES["en"], "en") is None
    assert asked == []
    assert other_language(PASSAGES["de"], "en") == "de"
    assert len(asked) == 1
    assert other_language(PASSAGES["en"] + " x", "xx-unknown") is None
