"""What the command line says where something is wrong: one line on stderr, with what, where and
what to do, and the exit status that stands for it."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from plumrake.cli.errors import Exit
from plumrake.cli.main import main
from plumrake.demo.ports import free_port
from plumrake.demo.seed import SITE
from tests.conftest import EDITOR, MANAGER, Running

BEGINS_SWEPT = True
Typed = Callable[..., tuple[int, str]]


@pytest.fixture(scope="module")
def tokens(running: Running) -> dict[str, str]:
    """A token of the manager and one of an editor."""
    made = {}
    for name, email in (("manager", MANAGER), ("editor", EDITOR)):
        with running.client(email) as rake:
            token = rake.people.make_token("tests", ["read", "write"])
            assert token.secret is not None
            made[name] = token.secret
    return made


@pytest.fixture
def typed(
    running: Running,
    tokens: dict[str, str],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> Iterator[Typed]:
    """Type a command as somebody; return the exit status and what stands on stderr."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    monkeypatch.setenv("PLUMRAKE_SERVER", running.address)

    def command(*words: str, by: str = "manager") -> tuple[int, str]:
        monkeypatch.setenv("PLUMRAKE_TOKEN", tokens.get(by, by))
        monkeypatch.setattr(sys, "argv", ["plumrake", *words])
        with pytest.raises(SystemExit) as ended:
            main()
        says = capsys.readouterr()
        assert says.out == ""
        return int(ended.value.code or 0), says.err

    yield command


WRONG = {
    "a command": ("colour red blue", "No such command 'colour'. See 'plumrake --help'."),
    "a site": ("site show mill", "there is no site 'mill'"),
    "a sweep": ("sweep show 999", "there is no sweep '999'"),
    "a sweep of no site": ("sweep start mill", "there is no site 'mill'"),
    "a page": (
        f"sweep start {SITE} --page https://x.example/",
        "paths, number 1: 'https://x.example/' is no path; begin it with '/'",
    ),
    "a sweep that is over": (
        "sweep stop 1",
        "sweep 1 is not under way, so it cannot be stopped",
    ),
    "a sweep to resume": ("sweep resume 1", "sweep 1 was not stopped, so it cannot go on"),
    "a finding": ("finding 99999999", "there is no finding '99999999'"),
    "a number": (
        "finding boat",
        "Invalid value for 'NUMBER': 'boat' is not a valid integer. See 'plumrake finding --help'.",
    ),
    "a cause": (f"cause {SITE} boat", "there is no cause 'boat'"),
    "a check to filter by": (
        f"findings {SITE} --check boats/afloat",
        "check: no check or area is called 'boats/afloat'",
    ),
    "a zone": (
        f"causes {SITE} --zone cellar",
        "Invalid value for '--zone': 'cellar' is not one of 'header', 'menu', 'content', 'card', "
        "'search', 'aside', 'footer', 'page'. See 'plumrake causes --help'.",
    ),
    "a fix": ("fix show 999", "there is no fix '999'"),
    "a fix to take": ("fix take 999", "fix 999: there is no fix '999'"),
    "a day": (
        "fix due 1 someday",
        "Invalid value for 'DATE': 'someday' does not match the format '%Y-%m-%d'. "
        "See 'plumrake fix due --help'.",
    ),
    "somebody": (
        f"fix make {SITE} --all --to nobody",
        "nobody is called 'nobody'; 'plumrake person list' lists everybody",
    ),
    "nothing to hand out": (
        f"fix make {SITE}",
        f"name at least one cause ('plumrake causes {SITE}' lists them) or --finding",
    ),
    "a cause to hand out": (f"fix make {SITE} boat", "causes: sweep 1 has no cause 'boat'"),
    "a finding to judge": (
        "judge 99999999 fine --note seen",
        "there is no finding '99999999'",
    ),
    "no note": ("judge 1 fine", "Missing option '--note'. See 'plumrake judge --help'."),
    "fixes of no site": ("fixes", "say of which site with --site, or --mine for your own"),
    "a waiver": (f"waivers {SITE} --end 999", "there is no waiver '999'"),
    "an answer": ("gate show 999", "there is no clearance '999'"),
    "a reason": ("gate overrule 999 --why x", "why: has to have 3 characters or more"),
    "a file": (
        f"gate ask {SITE} --address / --content nowhere.html",
        "Invalid value for '--content': File 'nowhere.html' does not exist. "
        "See 'plumrake gate ask --help'.",
    ),
    "a path": (
        f"gate ask {SITE} --address boat",
        "path: 'boat' is no path; begin it with '/'",
    ),
    "a slug": (
        "site add Mill! --name M --live https://m.example/",
        "slug: 'Mill!' is no short name; use small letters, digits and hyphens",
    ),
    "an address": (
        "site add mill --name M --live mill",
        "live_address: 'mill' is no web address; write it as https://host/ without '?' and '#'",
    ),
    "a site twice": (
        f"site add {SITE} --name M --live https://m.example/",
        f"a site is called '{SITE}' already; choose another slug",
    ),
    "too much": (f"site edit {SITE} --parallel 999", "parallel: has to be 32 or less, not 999"),
    "an archive": (
        f"site archive {SITE} nowhere.zip",
        "Invalid value for 'FILE': File 'nowhere.zip' does not exist. "
        "See 'plumrake site archive --help'.",
    ),
    "an e-mail address": (
        "person add boat --name B --role editor",
        "email: 'boat' is no e-mail address",
    ),
    "a role": (
        "person edit ned --role captain",
        "Invalid value for '--role': 'captain' is not one of 'manager', 'editor', 'developer', "
        "'reader', 'none'. See 'plumrake person edit --help'.",
    ),
    "a group": (
        "group drop Keepers",
        "no group is called 'Keepers'; 'plumrake group list' lists them",
    ),
    "an area": (
        f"responsible assign {SITE} news ned",
        "pattern: 'news' is no area of a site; write a path in which '*' stands for anything "
        "(10 times at most), or "
        "'template'",
    ),
    "an event": (
        f"webhook add {SITE} https://x.example/ --kind boat.sunk",
        "kinds: there is no event 'boat.sunk'; there are: clearance.answered, fix.handed_in, "
        "fix.handed_out, fix.mentioned, fix.proven, fix.reopened, fix.waiver_ended, "
        "release.answered, sweep.done",
    ),
    "a webhook": (f"webhook drop {SITE} 999", "there is no webhook '999'"),
    "a word": (f"words drop {SITE} boat", "there is no word 'boat'"),
    "a colour": (
        "colours boat #fff",
        "'boat' is not a colour; write it as '#rrggbb', 'rgb(…)', 'oklch(…)' or a CSS colour name",
    ),
    "a check": (
        "checks boats/afloat",
        "no check is called 'boats/afloat'; 'plumrake checks' lists them",
    ),
}
"""What is wrong, in which command, and what is said of it."""


@pytest.mark.parametrize("what", WRONG)
def test_what_is_wrong_is_said_in_one_line(typed: Typed, what: str) -> None:
    """With the value that is wrong, and what to do where that can be said; with status 2."""
    words, says = WRONG[what]
    assert typed(*words.split()) == (Exit.USAGE, f"plumrake: {says}\n")


MANAGERS_ONLY = "this needs the role manager; you have 'editor'"


@pytest.mark.parametrize(
    ("by", "words", "says"),
    [
        ("editor", f"site drop {SITE} --yes", MANAGERS_ONLY),
        ("editor", f"sweep start {SITE}", MANAGERS_ONLY),
        ("editor", f"site edit {SITE} --name Mill", MANAGERS_ONLY),
        ("editor", "person add a@x.example --name A --role manager", MANAGERS_ONLY),
        ("editor", f"responsible assign {SITE} /news/* ned", MANAGERS_ONLY),
        ("", f"site show {SITE}", "sign in first, with 'plumrake login'"),
        (
            "never-given",
            f"site show {SITE}",
            "the token is not valid, or over; make one with 'plumrake login'",
        ),
    ],
)
def test_who_may_not_is_told_so(typed: Typed, by: str, words: str, says: str) -> None:
    """With status 4; who is not signed in is told how to."""
    assert typed(*words.split(), by=by) == (Exit.REFUSED, f"plumrake: {says}\n")


def test_a_preview_elsewhere_is_refused(typed: Typed) -> None:
    """The gate reads the site's own hosts alone, and names them."""
    status, says = typed("gate", "ask", SITE, "--address", "/", "--preview", "https://x.example/")
    assert status == Exit.USAGE
    assert "'https://x.example/' is at none of the site's own addresses, http://127.0" in says


def test_a_service_that_is_away_is_said(typed: Typed, monkeypatch: pytest.MonkeyPatch) -> None:
    """With its address, and status 3."""
    address = f"http://127.0.0.1:{free_port()}"
    monkeypatch.setenv("PLUMRAKE_SERVER", address)
    status, says = typed("site", "list")
    assert status == Exit.UNREAD
    assert says.startswith(f"plumrake: no answer from {address}: ")
    assert says.endswith("; is the service running?\n")


def test_kept_tokens_that_cannot_be_read_are_no_tokens(typed: Typed, tmp_path: Path) -> None:
    """A broken file is as none: one line says how to sign in."""
    file = tmp_path / "plumrake" / "tokens.json"
    file.parent.mkdir()
    file.write_text("{broken")
    assert typed("site", "list", by="") == (
        Exit.REFUSED,
        "plumrake: sign in first, with 'plumrake login'\n",
    )
