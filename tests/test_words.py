"""One word, one meaning: ``docs/words.md`` is the table, and what a thing was called before stands
nowhere any more."""

import re
import subprocess
from pathlib import Path

import pytest

from scripts.make_terms import rows

ROOT = Path(__file__).parent.parent
BEFORE = (
    r"pictures/ornament|It is an ornament",
    r"headings/(?:no-main|several-main|main-comes-late)",
    r"pictures/moving|stock-text|(?:label|headers|reference)-astray|name-swallowed|forced-order",
    r"\beditions?\b",
    r"\bcrews?\b",
    r"\bat_once\b",
    r"What you were told|Pale and small|\"Come in\"|By itself:|as a page is ready",
    r"rounds? of links",
    r"lenses/manners|lenses\.manners|arrived\.js|plumrake\.connect\b|reports/shape",
    r"demo cms --rake",
    r"[\"'](?:void|returned)[\"']",
)
LEFT = re.compile(
    r"^(?:src/plumrake/records/migrations/00(?:0\d|1[012])\.|src/plumrake/demo/content/|"
    r"tests/test_words\.py|tests/records/test_carried_over\.py|docs/decisions/|console/package-lock\.json)"
)
TEXTS = (".py", ".sql", ".ts", ".vue", ".md", ".html", ".js", ".toml", ".css", ".yaml")


def written() -> list[Path]:
    """Return the texts of the project that people wrote."""
    listed = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split("\n")
    return [ROOT / name for name in listed if name.endswith(TEXTS) and not LEFT.match(name)]


@pytest.mark.parametrize("before", BEFORE)
def test_what_a_thing_was_called_before_stands_nowhere(before: str) -> None:
    """Migrations carry the old words over, and decisions tell of their time; nothing else has
    them."""
    pattern = re.compile(before)
    found = [
        f"{file.relative_to(ROOT)}:{number}: {line.strip()[:80]}"
        for file in written()
        for number, line in enumerate(file.read_text(encoding="utf-8").splitlines(), 1)
        if pattern.search(line)
    ]
    assert not found


def test_every_term_of_the_console_stands_in_the_glossary() -> None:
    """What has a question mark in the console is a word of the table, with a meaning of its own."""
    table = rows()
    words = [word for word, _ in table]
    assert len(set(words)) == len(words) > 30
    assert len({says for _, says in table}) == len(table)
    asked = {
        term
        for file in (ROOT / "console/src").rglob("*.vue")
        for term in re.findall(r'<TermHelp term="([^"]+)"', file.read_text(encoding="utf-8"))
    }
    assert asked
    assert asked <= set(words)
