"""The commands about corrections and connections, as a person types them; each answer is read."""

from __future__ import annotations

import json
import subprocess
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from plumrake.cli.main import cli
from tests.conftest import token_of
from tests.corrections.conftest import SECRET, SLUG, Yard

Run = Callable[..., Result]
SEAL = "the yard's seal, a heron"


@pytest.fixture(scope="module")
def run(yard: Yard, tmp_path_factory: pytest.TempPathFactory) -> Run:
    """Run a command as the manager, or as the editor (``as_``), with a token of theirs."""
    home = tmp_path_factory.mktemp("home")
    tokens = {
        name: token_of(rake, "read", "write")
        for name, rake in (("manager", yard.manager), ("editor", yard.editor))
    }

    def command(*words: str, as_: str = "manager", given: str | None = None) -> Result:
        environment = {
            "PLUMRAKE_SERVER": yard.running.address,
            "PLUMRAKE_TOKEN": tokens[as_],
            "XDG_CONFIG_HOME": str(home),
        }
        runner = CliRunner()
        return runner.invoke(cli, list(words), given, env=environment, standalone_mode=False)

    return command


def test_a_correction_from_its_draft_to_its_undoing(yard: Yard, run: Run, tmp_path: Path) -> None:
    """Drafted, listed, shown, taken along as a page, a diff and a ZIP, written, proven, taken
    back."""
    finding = str(yard.finding("pictures/no-text", "/"))
    said = run("correction", "draft", finding, "--value", "Boats in a row", "--why", "seen").output
    number = said.split()[0]
    assert said == f"{number}  drafted: Text of the picture a.jpg set to “Boats in a row”.\n"
    listed = run("corrections", SLUG, "--state", "drafted").output.splitlines()
    assert listed[0].split()[:4] == [number, "drafted", "staging", "/"]
    assert listed[-1] == "1 correction; 'plumrake correction show ID' shows one"
    assert json.loads(run("corrections", SLUG, "--json").output)[0]["says"].startswith("Text of")
    shown = run("correction", "show", number).output
    assert "  for: The picture a.jpg has no text alternative.\n" in shown
    assert "being read: seen\n" in shown
    assert '+<p><img src="/a.jpg" WIDTH=320 height="180" alt="Boats in a row"></p>' in shown
    copy = tmp_path / "index.html"
    copy.write_bytes(yard.file("/").read_bytes())
    diff = run("corrections", SLUG, "--diff", "--path", "/").output
    subprocess.run(["git", "apply", "-"], input=diff.encode(), cwd=tmp_path, check=True)
    page = tmp_path / "page.html"
    run("correction", "page", SLUG, "/", "--environment", "staging", "--out", str(page))
    assert page.read_bytes() == copy.read_bytes()
    assert "Boats in a row" in page.read_text()
    archive = tmp_path / "changes.zip"
    said = run("corrections", SLUG, "--zip", str(archive)).output
    assert said == f"the changed pages are in {archive}\n"
    with zipfile.ZipFile(archive) as opened:
        assert opened.namelist() == ["index.html"]
    said = run("correction", "write", SLUG, number, "--follow").output
    assert said == "1 correction being written\n  1 proven\n"
    assert "Boats in a row" in yard.file("/").read_text()
    said = run("correction", "take-back", number).output
    assert said.startswith(f"{number}  is being written back")
    yard.settled(int(number), "taken_back")
    assert "taken back" in run("correction", "show", number).output
    assert "Boats in a row" not in yard.file("/").read_text()


def test_the_same_everywhere_and_a_fix_that_says_so(yard: Yard, run: Run) -> None:
    """One command drafts it at each place of the cause; the fix counts its corrections."""
    found = yard.manager.findings.list(SLUG, environment="staging", check="pictures/no-text")
    seal = next(one for one in found if "seal.png" in one.excerpt)
    (fix,) = yard.manager.fixes.hand_out(SLUG, sweep=seal.sweep_id, causes=[seal.cause])
    said = run("correction", "draft", str(seal.id), "--value", SEAL, "--everywhere").output
    assert f"and {len(yard.content) - 1} other places with the same cause\n" in said
    assert said.endswith(f"  {len(yard.content)} drafted\n")
    shown = run("fix", "show", str(fix.id)).output
    drafted = f"{len(yard.content)} drafted"
    assert f"  corrected  {drafted}; 'plumrake corrections {SLUG} --cause" in shown


def test_what_is_refused_says_why_and_what_to_do(yard: Yard, run: Run) -> None:
    """The exit status is 1; insisting drafts it."""
    finding = str(yard.finding("pictures/no-text", "/"))
    done = run("correction", "draft", finding, "--value", "IMG_2041.jpg")
    assert done.exit_code == 1
    assert "refused: " in done.output
    assert "it would bring another fault: " in done.stderr
    assert "with --insist it is drafted all the same" in done.stderr
    assert run("correction", "draft", finding, "--value", "IMG_2041.jpg", "--insist").exit_code == 0


@pytest.mark.parametrize(
    ("words", "status", "says"),
    [
        (("correction", "draft", "FINDING", "--mend", "9"), 2, "mends that can be carried out"),
        (("correction", "draft", "99999"), 2, "there is no finding '99999'"),
        (("correction", "write", SLUG), 2, "say which drafts: numbers, --mine, --path or --cause"),
        (("correction", "write", SLUG, "--mine"), 2, "there is no such draft"),
        (("correction", "show", "99999"), 2, "there is no correction '99999'"),
        (("corrections", SLUG, "--diff"), 2, "there is no draft to be written or downloaded"),
    ],
)
def test_what_cannot_be_is_one_line(
    yard: Yard, run: Run, words: tuple[str, ...], status: int, says: str
) -> None:
    """On stderr, with the status of wrong usage."""
    finding = str(yard.finding("pictures/no-text", "/"))
    done = run(*(finding if word == "FINDING" else word for word in words))
    assert done.exit_code == status
    assert says in done.stderr
    assert len(done.stderr.splitlines()) == 1


def test_connections_are_listed_checked_and_made(yard: Yard, run: Run) -> None:
    """What works is said; the secret is asked for and never printed; editors see none of it."""
    listed = run("connection", "list", SLUG).output
    assert f"staging: folder {yard.folder}/staging" in listed
    assert SECRET not in listed
    checked = run("connection", "check", SLUG, "live").output
    assert "  works: the CMS answers and has " in checked
    address = next(
        str(one.settings["address"])
        for one in yard.manager.corrections.connections(SLUG)
        if one.environment == "live"
    )
    wrong = run("site", "connect", SLUG, "stand-in", "--address", address, given="a guess\n")
    assert wrong.exit_code == 2
    assert "the secret of corrections is not right" in wrong.stderr
    right = run("site", "connect", SLUG, "stand-in", "--address", address, given=f"{SECRET}\n")
    assert right.exit_code == 0
    assert SECRET not in right.output
    assert run("connection", "list", SLUG, as_="editor").exit_code == 4
    assert run("connection", "drop", SLUG, "live").output == f"{SLUG} live: forgotten\n"
    assert "live" not in run("connection", "list", SLUG).output
