"""What strangers wrote reaches a terminal, a feed and a table as text only."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from pathlib import Path
from xml.etree import ElementTree

import pytest
from click.testing import CliRunner

from plumrake.cli.main import cli
from plumrake.cli.terminal import printable
from plumrake.reports.as_atom import Entry, to_atom

HOSTILE = "\x1b]0;Owned\x07\x1b[2J\x9b31m\r\u202eeurt"
PAGE = (
    f"<!doctype html><html lang=en><title>Fees {HOSTILE}</title><main><h1>Fees</h1>"
    f'<a href="/{HOSTILE}">{HOSTILE} here</a><a href="/x">here</a>'
    f'<img src="/x.png" alt="{HOSTILE}"></main>'
)
COMMANDS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e]")


@pytest.mark.parametrize(
    "words",
    [
        ["look", "--lens", "markup"],
        ["look", "--lens", "markup", "--as", "json"],
        ["view", "--lens", "markup", "--as", "heard"],
        ["view", "--lens", "markup", "--as", "links"],
        ["view", "--lens", "markup", "--as", "names"],
        ["view", "--lens", "markup", "--as", "pictures"],
        ["view", "--lens", "markup", "--as", "outline"],
    ],
)
def test_a_page_gives_the_terminal_no_commands(tmp_path: Path, words: list[str]) -> None:
    """Escape sequences in titles, texts and addresses are shown as signs."""
    file = tmp_path / "page.html"
    file.write_text(PAGE, encoding="utf-8")
    result = CliRunner().invoke(cli, [words[0], str(file), *words[1:]])
    assert result.output.strip()
    assert COMMANDS.findall(result.output) == []


def test_what_is_shown_instead() -> None:
    """Escape is seen as its sign; tab, line feed and all letters stay."""
    assert printable("a\tb\n\x1b[31mé\x7f\x9b") == "a\tb\n␛[31mé␡\ufffd"


def test_commands_write_by_the_one_way() -> None:
    """No command writes past the filter."""
    folder = Path(__file__).parents[2] / "src/plumrake/cli"
    past = [
        file.name
        for file in folder.glob("*.py")
        if file.name != "terminal.py"
        and re.search(r"click\.(s?echo|secho)\(|(?<!\w)print\(", file.read_text())
    ]
    assert past == []


def test_a_feed_is_xml_whatever_was_found() -> None:
    """Control characters, which XML cannot hold, become signs; the rest is there."""
    now = datetime(2026, 11, 28, tzinfo=UTC)
    entry = Entry(
        id=1,
        says=f"“{HOSTILE}” <b> & \ud800",
        path="/",
        pages=1,
        environment="live",
        weight="barrier",
        state="reopened",
        reopened_after="proven",
        due_on=None,
        late=False,
        made_at=now,
        changed_at=now,
    )
    feed = ElementTree.fromstring(to_atom(1, "Ned\x00", [entry], "https://rake.example"))
    titles = [one.text or "" for one in feed.iter("{http://www.w3.org/2005/Atom}title")]
    assert titles[0] == "Fixes of Ned\ufffd"
    assert titles[1].startswith("Came back: ")
    assert titles[1].endswith("eurt” <b> & \ufffd")
