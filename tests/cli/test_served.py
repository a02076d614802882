"""Commands that ask the service, run as their user runs them: what they print, and their exit
status."""

import json
from pathlib import Path

import pytest

from plumrake.cli.main import COMMANDS
from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from tests.cli.conftest import Run
from tests.conftest import Running


@pytest.fixture(scope="module")
def swept(run: Run, running: Running) -> str:
    """Two sweeps of the demo by the markup lens; the number of the second."""
    running.start("worker")
    assert "is done" in run("sweep", "start", SITE, "--lens", "markup", "--follow").output
    done = run("sweep", "start", SITE, "--lens", "markup", "--follow")
    assert "71 were as before" in done.output
    return str(json.loads(run("sweep", "list", SITE, "--json").output)[0]["id"])


def test_token_is_kept_for_its_owner_alone(run: Run, home: Path) -> None:
    """The kept token can be read by its owner only."""
    assert (home / "plumrake" / "tokens.json").stat().st_mode & 0o077 == 0


def test_site_is_registered_changed_and_dropped(run: Run) -> None:
    """Settings can be given at once or later; what is wrong is one line that says what to write."""
    added = run(
        "site",
        "add",
        "mill",
        "--name",
        "Mill",
        "--live",
        "https://mill.example/",
        "--found-by",
        "both",
        "--parallel",
        "2",
    )
    assert "mill is registered" in added.output
    assert "found by both" in run("site", "show", "mill").output
    assert (
        "mill: pause_ms, schedule changed"
        in run("site", "edit", "mill", "--pause", "500", "--schedule", "0 4 * * *").output
    )
    shown = json.loads(run("site", "show", "mill", "--json").output)
    assert (shown["pause_ms"], shown["schedule"], shown["parallel"]) == (500, "0 4 * * *", 2)
    assert "schedule" in run("site", "edit", "mill", "--schedule", "").output
    assert json.loads(run("site", "show", "mill", "--json").output)["schedule"] is None
    wrong = run("site", "edit", "mill", "--schedule", "daily at four")
    assert isinstance(wrong.exception, SystemExit)
    assert wrong.exception.code == 2
    assert isinstance(run("site", "edit", "mill").exception, SystemExit)
    assert "never read" in run("site", "list").output
    run("sweep", "start", "mill")
    for told in (run("site", "show", "mill"), run("site", "list")):
        assert "is under way, its pages are being found" in told.output
        assert "never read" not in told.output.partition("Mill")[2]
    assert "mill is dropped" in run("site", "drop", "mill", "--yes").output
    assert "mill" not in run("site", "list").output


def test_policy_of_a_site_comes_from_a_file(run: Run, tmp_path: Path) -> None:
    """A plumrake.toml becomes the site's policy; a broken one is refused before anything is
    sent."""
    good, broken = tmp_path / "good.toml", tmp_path / "broken.toml"
    good.write_text('without = ["text"]\n')
    broken.write_text("without = [")
    run("site", "add", "weir", "--name", "Weir", "--live", "https://weir.example/")
    assert "policy changed" in run("site", "edit", "weir", "--policy", str(good)).output
    assert json.loads(run("site", "show", "weir", "--json").output)["policy"] == {
        "without": ["text"]
    }
    assert isinstance(run("site", "edit", "weir", "--policy", str(broken)).exception, SystemExit)
    run("site", "drop", "weir", "--yes")


def test_sweeps_are_shown(run: Run, swept: str) -> None:
    """State, counts, and what changed since the one before."""
    assert "71 of 71 pages done" in run("sweep", "show", swept).output
    changes = run("sweep", "changes", swept).output
    assert changes.splitlines()[0] == f"sweep {swept} against sweep {int(swept) - 1}"
    assert "new          nothing" in changes
    first = run("sweep", "changes", str(int(swept) - 1))
    assert isinstance(first.exception, SystemExit)
    stopped = run("sweep", "stop", swept)
    assert isinstance(stopped.exception, SystemExit)


def test_causes_are_listed_and_shown(run: Run, swept: str) -> None:
    """The heaviest first, or the widest, each with its key; one in full names its pages."""
    heavy = ("barrier", "obstacle", "friction")
    weights = [one["weight"] for one in json.loads(run("causes", SITE, "--json").output)]
    assert weights == sorted(weights, key=heavy.index)
    listed = json.loads(run("causes", SITE, "--sort", "reach", "--json").output)
    assert [one["pages"] for one in listed] == sorted(
        (one["pages"] for one in listed), reverse=True
    )
    template = next(one for one in listed if one["by_template"])
    assert template["key"] in run("causes", SITE, "--template").output
    shown = run("cause", SITE, template["key"]).output
    assert "printed by a template" in shown
    assert shown.count("  page     ") == template["pages"]
    places = json.loads(run("findings", SITE, "--cause", template["key"], "--json").output)
    assert len(places) == template["places"]
    assert "reach" in run("finding", str(places[0]["id"])).output


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("sections",), "/news/…"),
        (("sections", "--under", "/news/"), "/news/otter-count/"),
        (("pictures",), "duty-phone.jpg"),
        (("pictures", "--without-text"), "without text"),
        (("links", "--text", "read more"), "“Read more” →"),
        (("titles", "--most", "1"), "2 pages  Home"),
    ],
)
def test_views(run: Run, swept: str, words: tuple[str, ...], says: str) -> None:
    """Each view prints lines for a person and JSON for a program."""
    view, *options = words
    assert says in run("site", view, SITE, *options).output
    assert isinstance(json.loads(run("site", view, SITE, *options, "--json").output), list)


def test_every_listing_takes_json(manager: PlumRake) -> None:
    """Commands that list or show print JSON on demand."""
    from plumrake.cli.sites import site_group
    from plumrake.cli.sweeps import sweep_group

    groups = {"site": site_group, "sweep": sweep_group}
    listing = [
        command
        for group in groups.values()
        for name, command in group.commands.items()
        if name in _LISTINGS
    ]
    assert len(listing) == len(_LISTINGS) + 2  # list and show are in both groups
    assert all(any(option.name == "as_json" for option in command.params) for command in listing)
    assert {"causes", "cause", "findings", "finding"} <= set(COMMANDS)


_LISTINGS = ("list", "show", "sections", "pictures", "colours", "links", "titles", "changes")
