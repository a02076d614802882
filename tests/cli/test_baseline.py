"""A baseline for pipelines: only what is new fails, what is gone is told, and the file merges; and
only what git says was changed is read."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from plumrake.reports.baseline import BadBaseline, parse_baseline
from tests.connectors.test_contract import git

PAGE = (
    '<!doctype html><html lang="en"><head><title>{title}</title></head><body><main><h1>{title}</h1>'
    "{content}</main></body></html>"
)
VAGUE = '<p>Read about it <a href="/x">here</a>.</p>'
NO_TEXT = '<p><img src="/lock.jpg" width="300" height="200"></p>'


def look(folder: Path, *words: str) -> subprocess.CompletedProcess[str]:
    """Look at the pages of a folder by their markup."""
    command = [sys.executable, "-m", "plumrake", "look", *words, "--lens", "markup"]
    environment = {**os.environ, "COLUMNS": "100"}
    return subprocess.run(
        command, cwd=folder, capture_output=True, text=True, check=False, env=environment
    )


@pytest.fixture
def pages(tmp_path: Path) -> Path:
    """Two pages, one fault on each."""
    for name, title, content in (("a", "Locks", VAGUE), ("b", "Boats", NO_TEXT)):
        (tmp_path / f"{name}.html").write_text(PAGE.format(title=title, content=content))
    return tmp_path


def test_only_what_is_new_fails(pages: Path) -> None:
    """What is known passes; one more fault fails, and it alone is told; one that is mended is told
    as gone, and goes from the file when it is written again."""
    assert look(pages, "a.html", "b.html").returncode == 1
    kept = look(pages, "a.html", "b.html", "--baseline", "known.txt", "--keep-baseline")
    assert kept.returncode == 1, "what was found when it was written is new to it"
    assert "2 findings are known now" in kept.stderr
    known = (pages / "known.txt").read_text()
    lines = known.splitlines()[1:]
    assert lines == sorted(lines)
    assert {tuple(line.split()[1:]) for line in lines} == {
        ("links/vague", "a.html"),
        ("pictures/no-text", "b.html"),
    }
    assert look(pages, "a.html", "b.html", "--baseline", "known.txt").returncode == 0
    (pages / "a.html").write_text(PAGE.format(title="Locks", content=NO_TEXT))
    told = look(pages, "a.html", "b.html", "--baseline", "known.txt")
    assert told.returncode == 1
    assert "a.html" in told.stdout
    assert "b.html" not in told.stdout
    assert "1 of the baseline's 2 are gone" in told.stderr
    assert "a.html: links/vague" in told.stderr
    as_sarif = look(pages, "a.html", "b.html", "--baseline", "known.txt", "--as", "sarif")
    results = json.loads(as_sarif.stdout)["runs"][0]["results"]
    assert sorted(one["baselineState"] for one in results) == ["absent", "new", "unchanged"]
    look(pages, "a.html", "--baseline", "known.txt", "--keep-baseline")
    again = (pages / "known.txt").read_text()
    assert "a.html" in again
    assert "links/vague" not in again
    assert "b.html" in again, "pages that were not read keep theirs"


def test_two_branches_merge(pages: Path) -> None:
    """Two people's changes of one baseline merge by themselves, those of neighbouring lines by
    git's union."""
    (pages / ".gitattributes").write_text("known.txt merge=union\n")
    for name in "cdefghij":
        (pages / f"{name}.html").write_text(PAGE.format(title=f"Page {name}", content=VAGUE))
    look(pages, ".", "--baseline", "known.txt", "--keep-baseline")
    git(pages, "init", "-q", "-b", "main")
    git(pages, "add", "-A")
    git(pages, "commit", "-qm", "pages")
    git(pages, "checkout", "-qb", "other")
    (pages / "k.html").write_text(PAGE.format(title="Fees", content=NO_TEXT))
    look(pages, ".", "--baseline", "known.txt", "--keep-baseline")
    git(pages, "add", "-A")
    git(pages, "commit", "-qm", "one more")
    git(pages, "checkout", "-q", "main")
    (pages / "c.html").write_text(PAGE.format(title="Page c", content="<p>Mended.</p>"))
    look(pages, ".", "--baseline", "known.txt", "--keep-baseline")
    git(pages, "commit", "-qam", "one less")
    git(pages, "merge", "-q", "other")
    assert look(pages, ".", "--baseline", "known.txt").returncode == 0


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--keep-baseline"], "--keep-baseline needs --baseline FILE"),
        (["--baseline", "none.txt"], "cannot be read: No such file"),
        (["--baseline", "a.html"], "line 1 is none of a baseline's"),
        (["--changed-since", "HEAD"], "not a git repository"),
    ],
)
def test_bad_input_is_one_line(pages: Path, words: list[str], says: str) -> None:
    told = look(pages, "a.html", *words)
    assert told.returncode == 2
    assert says in told.stderr
    assert told.stderr.count("\n") == 1


def test_a_merge_conflict_is_told() -> None:
    with pytest.raises(BadBaseline, match=r"line 2 .* keeping both sides"):
        parse_baseline("aa links/vague a.html\n<<<<<<< HEAD\n")


def test_only_what_was_changed_is_read(pages: Path) -> None:
    """Committed or not, new or changed; a revision that is none is told."""
    (pages / "c.html").write_text(PAGE.format(title="Fees", content=VAGUE))
    git(pages, "init", "-q", "-b", "main")
    git(pages, "add", "-A")
    git(pages, "commit", "-qm", "pages")
    git(pages, "tag", "before")
    (pages / "a.html").write_text(PAGE.format(title="Locks", content="<p>Mended.</p>"))
    git(pages, "commit", "-qam", "mended")
    (pages / "b.html").write_text(PAGE.format(title="Boats", content=VAGUE))
    (pages / "new.html").write_text(PAGE.format(title="New", content="<p>New.</p>"))
    told = look(pages, ".", "--changed-since", "before", "--as", "json")
    read = {page["address"] for page in json.loads(told.stdout)["pages"]}
    assert read == {"a.html", "b.html", "new.html"}
    nothing = look(pages, "c.html", "--changed-since", "before")
    assert (nothing.returncode, nothing.stdout.splitlines()[0]) == (
        0,
        "0 pages read, 0 ready to publish.",
    )
    bad = look(pages, ".", "--changed-since", "no-such")
    assert bad.returncode == 2
    assert "--changed-since no-such: " in bad.stderr
    assert look(pages, ".", "--changed-since", "--output=x").returncode == 2
