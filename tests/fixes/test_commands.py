"""The commands about fixes, people and decisions, as a person types them; each answer is read."""

import json
import re
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from plumrake import models
from plumrake.cli.main import cli
from plumrake.demo.seed import SITE
from tests.conftest import token_of
from tests.trust import Trust

Run = Callable[..., Result]


def in_nine_days() -> str:
    return (datetime.now(UTC).date() + timedelta(days=9)).isoformat()


@pytest.fixture(scope="module")
def run(trust: Trust, tmp_path_factory: pytest.TempPathFactory) -> Run:
    """Run a command as somebody (``as_``; else the manager) with a token of theirs."""
    home: Path = tmp_path_factory.mktemp("home")
    tokens = {name: token_of(rake, "read", "write") for name, rake in trust.people.items()}

    def command(*words: str, as_: str = "philippa") -> Result:
        environment = {
            "PLUMRAKE_SERVER": trust.running.address,
            "PLUMRAKE_TOKEN": tokens[as_],
            "XDG_CONFIG_HOME": str(home),
        }
        return CliRunner().invoke(cli, list(words), env=environment, standalone_mode=False)

    return command


@pytest.fixture(scope="module")
def swept(trust: Trust) -> models.Sweep:
    """A finished sweep of staging."""
    sweep = trust.manager.sweeps.start(SITE, environment="staging", lens="markup")
    assert list(trust.manager.sweeps.follow(sweep.id))[-1].kind == "done"
    return sweep


@pytest.fixture(scope="module")
def handed(run: Run, swept: models.Sweep) -> list[dict[str, object]]:
    """The fixes of all barriers, handed out by one command."""
    said = run(
        "fix",
        "make",
        SITE,
        "--all",
        "--weight",
        "barrier",
        "--due",
        in_nine_days(),
        "--why",
        "before the fair",
    ).output
    fixes: list[dict[str, object]] = json.loads(run("fixes", "--site", SITE, "--json").output)
    assert said.splitlines()[-1] == f"{len(fixes)} fixes handed out"
    assert {fix["weight"] for fix in fixes} == {"barrier"}
    return fixes


def status(result: Result) -> int:
    """Return the exit status of a command that ended by itself."""
    assert isinstance(result.exception, SystemExit), result.output
    return int(str(result.exception.code))


def of(fixes: list[dict[str, object]], owner: str) -> str:
    return str(next(fix["id"] for fix in fixes if fix["owner"] == owner))


def test_all_are_handed_out_once(run: Run, handed: list[dict[str, object]]) -> None:
    """What is handed out already is not handed out again; filters without --all, and no cause at
    all, are told."""
    assert (
        run("fix", "make", SITE, "--all", "--weight", "barrier").output
        == "every such cause is handed out already\n"
    )
    assert status(run("fix", "make", SITE, "--weight", "barrier")) == 2
    assert status(run("fix", "make", SITE)) == 2
    assert status(run("fixes")) == 2


def test_a_fix_is_moved_and_shown(run: Run, handed: list[dict[str, object]]) -> None:
    """Taken, written to, put back, made due; every step stands in its history; what may not be is
    refused with status 4."""
    number = of(handed, "Ned Osier")
    assert run("fix", "take", number, as_="ned").output == f"fix {number} is in hand, Ned Osier's\n"
    assert (
        f"fix {number} is in hand"
        in run(
            "fix",
            "note",
            number,
            "@philippa which green?",
            "--link",
            "https://x.example/?a=1#b",
            as_="ned",
        ).output
    )
    assert status(run("fix", "put-back", number, as_="imke")) == 4
    assert status(run("fix", "withdraw", number, as_="ned")) == 2
    assert "is to mend" in run("fix", "put-back", number, "--why", "no time", as_="ned").output
    assert "is to mend" in run("fix", "due", number, "2020-01-31").output
    assert "nobody's" in run("fix", "assign", number).output
    assert (
        "Imke Sander's"
        in run("fix", "assign", number, "--to", "imke", "--due", in_nine_days()).output
    )
    shown = run("fix", "show", number, "--places").output
    for words in (
        "Imke Sander, by",
        "before the fair",
        "in hand → to mend: no time",
        "link     https://x.example/?a=1#b",
        "you can  ",
        "there  /",
    ):
        assert words in shown
    assert "which green?" in run("notifications").output
    assert run("notifications").output == "nothing new\n"
    desk = run("fixes", "--mine", as_="imke").output
    assert re.search(rf"^ +{number}  to mend", desk, re.MULTILINE)
    assert "fixes to mend on" in desk
    assert "put back → to mend" in run("history", SITE, "--person", "ned").output
    assert status(run("history", SITE, "--person", "nobody-such")) == 2


def test_waivers_and_judgements_are_listed(
    run: Run, handed: list[dict[str, object]], trust: Trust, swept: models.Sweep
) -> None:
    """A fix is waived with reason and day, the waiver ended; a doubtful finding is judged."""
    number = of(handed, "Osric Pike")
    assert (
        f"fix {number} is waived until {in_nine_days()}"
        in run(
            "fix", "waive", number, "--reason", "new album in May", "--until", in_nine_days()
        ).output
    )
    listed = run("waivers", SITE, "--in-force").output
    assert "new album in May" in listed
    waiver = listed.split()[0]
    assert "new album in May" in run("waivers", SITE, "--csv").output
    assert "is over" in run("waivers", SITE, "--end", waiver).output
    assert run("waivers", SITE, "--in-force").output == "no waiver\n"
    doubtful = next(trust.manager.findings.list(SITE, sweep=swept.id, outcome="cantTell"))
    assert "is judged fine" in run("judge", str(doubtful.id), "fine", "--note", "meant so").output
    assert "meant so" in run("judgements", SITE).output
    assert run("judgements", SITE, "--lapsed").output == "no judgement\n"


def test_people_groups_and_parts(run: Run, trust: Trust) -> None:
    """Invited, listed, changed; a group made and dropped; an area assigned and dropped."""
    assert (
        "/invitation#"
        in run("person", "add", "otto@harrowmere.example", "--name", "Otto Reh").output
    )
    assert "otto@harrowmere.example  (invited, until" in run("person", "list").output
    said = run("person", "uninvite", "Otto@harrowmere.example").output
    assert said == "Otto Reh is not invited any more\n"
    assert "otto@harrowmere.example" not in run("person", "list").output
    again = run("person", "uninvite", "otto@harrowmere.example")
    assert status(again) == 2
    assert "nobody is invited by 'otto@harrowmere.example'" in again.output
    assert (
        run("person", "edit", "tamsin", "--name", "Tamsin Reed-Wren").output
        == "Tamsin Reed-Wren is developer\n"
    )
    assert status(run("person", "edit", "tamsin")) == 2
    assert status(run("person", "add", "ned@harrowmere.example", "--name", "Ned")) == 2
    assert run("group", "set", "Words", "ned", "imke").output == "Words has 2 people\n"
    assert (
        run("group", "list").output == "Words: Imke Sander, Ned Osier\n"
        or "Words: Ned Osier, Imke Sander" in run("group", "list").output
    )
    assert "/de/*" in run("responsible", "assign", SITE, "/de/*", "--group", "words").output
    assert re.search(r"^/de/\* +Words$", run("responsible", "list", SITE).output, re.MULTILINE)
    assert status(run("responsible", "assign", SITE, "de/*", "ned")) == 2
    assert run("group", "drop", "words").output == "words is dropped\n"
    assert "/de/*" not in run("responsible", "list", SITE).output
    assert status(run("responsible", "assign", SITE, "/de/*", "ned", as_="ned")) == 4


def test_webhooks_are_added_and_dropped(run: Run) -> None:
    """The secret is shown once; an event that does not exist is told."""
    said = run("webhook", "add", SITE, "https://hear.example/in", "--kind", "fix.proven").output
    assert re.fullmatch(r"webhook \d+; its secret, shown this once: whsec_\S+\n", said)
    number = said.split()[1].rstrip(";")
    assert "fix.proven" in run("webhook", "list", SITE).output
    assert "whsec_" not in run("webhook", "list", SITE, "--json").output
    assert (
        status(run("webhook", "add", SITE, "https://hear.example/in", "--kind", "fix.mended")) == 2
    )
    assert run("webhook", "log", SITE).output == "nothing was sent yet\n"
    assert "is dropped" in run("webhook", "drop", SITE, number).output
    assert run("webhook", "list", SITE).output == "no webhook\n"


def test_members_are_listed_added_and_dropped(run: Run, trust: Trust) -> None:
    """One's role in every site is not taken away in one; a manager of a site adds whom the service
    knows."""
    assert "in every site" in run("member", "list", SITE).output
    added = run("member", "add", SITE, "ned@harrowmere.example", "--role", "reader")
    assert added.output == f"Ned Osier is reader in {SITE}\n"
    assert re.search(
        r"^Ned Osier +reader +ned@harrowmere\.example$",
        run("member", "list", SITE).output,
        re.MULTILINE,
    )
    dropped = run("member", "drop", SITE, "ned@harrowmere.example")
    assert dropped.output == f"Ned Osier is not in {SITE} any more\n"
    assert status(run("member", "drop", SITE, "ned@harrowmere.example")) == 2
    assert status(run("member", "drop", SITE, "nobody@harrowmere.example")) == 2
    assert status(run("member", "add", SITE, "nobody@harrowmere.example")) == 2
    changed = run("person", "edit", "ned", "--role", "none").output
    assert changed == "Ned Osier has a role only where they are a member\n"
    assert re.search(r"^Ned Osier +by site", run("person", "list").output, re.MULTILINE)
