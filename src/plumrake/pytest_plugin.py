"""The pytest plugin: the fixture ``plumrake``, what is written beside a test's results, and one
report over the whole run.

Nothing of the product is imported before a test asks for it.
"""

from __future__ import annotations

import json
import re
from collections.abc import Generator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import pytest

if TYPE_CHECKING:
    from plumrake.testing.collecting import Collected
    from plumrake.testing.reading import Reader, Reading
    from plumrake.testing.settings import Settings

_RUN = pytest.StashKey["_Run"]()
_READ = pytest.StashKey[list[Any]]()
_FROM_WORKERS = "plumrake"


class _Run:
    """What the readings of a run share."""

    def __init__(self, config: pytest.Config) -> None:
        from plumrake.testing.collecting import Collected, baseline_of
        from plumrake.testing.settings import policy_of

        self.policy = policy_of(_path(config, "plumrake_policy"), config.rootpath)
        self.baseline = baseline_of(_path(config, "plumrake_baseline"), is_kept=_keeps(config))
        self.collected: Collected = Collected()
        self.sent = ""


def pytest_addoption(parser: pytest.Parser) -> None:
    """Add the plugin's options."""
    group = parser.getgroup("plumrake", "Plum Rake: reading pages")
    group.addoption(
        "--plumrake-policy",
        metavar="FILE",
        help="The policy. Default: the nearest plumrake.toml above pytest's root folder.",
    )
    group.addoption(
        "--plumrake-report",
        metavar="FILE",
        help="Write one report over all readings; its ending says which: html, json, csv, sarif, "
        "earl.jsonld, junit.xml.",
    )
    group.addoption(
        "--plumrake-out",
        metavar="FOLDER",
        help="Write each reading as HTML and JSON into this folder.",
    )
    group.addoption(
        "--plumrake-baseline",
        metavar="FILE",
        help="What is known: only what is not in it keeps a page from being ready.",
    )
    group.addoption(
        "--plumrake-send",
        metavar="SITE",
        help="Send the pages to this site of the service, as states that it reads by its policy.",
    )
    group.addoption(
        "--plumrake-environment",
        metavar="NAME",
        default="staging",
        choices=["live", "staging"],
        help="The environment that they belong to: live or staging. Default: staging.",
    )
    group.addoption(
        "--plumrake-keep-baseline",
        action="store_true",
        help="Write what is found into the baseline, and fail for nothing.",
    )


def _path(config: pytest.Config, name: str) -> Path | None:
    given = config.getoption(name)
    return config.invocation_params.dir / given if given else None


def _keeps(config: pytest.Config) -> bool:
    return bool(config.getoption("plumrake_keep_baseline"))


def pytest_configure(config: pytest.Config) -> None:
    """Refuse options that cannot be carried out, before anything runs."""
    report = _path(config, "plumrake_report")
    if report is not None:
        from plumrake.testing.collecting import form_of

        if form_of(report) is None:
            raise pytest.UsageError(
                f"--plumrake-report {report.name}: its ending is none of html, json, csv, sarif, "
                "earl.jsonld, junit.xml"
            )
    if _keeps(config) and _path(config, "plumrake_baseline") is None:
        raise pytest.UsageError("--plumrake-keep-baseline: say which with --plumrake-baseline FILE")


def _run_of(config: pytest.Config) -> _Run:
    if _RUN not in config.stash:
        from plumrake.core.policy import BadPolicy
        from plumrake.reports.baseline import BadBaseline

        try:
            config.stash[_RUN] = _Run(config)
        except (BadPolicy, BadBaseline) as error:
            raise pytest.UsageError(str(error)) from None
    return config.stash[_RUN]


@pytest.fixture(scope="session")
def plumrake_settings() -> Settings:
    """Return what all tests say over the policy; write a fixture of this name to say it."""
    from plumrake.testing.settings import Settings

    return Settings()


@pytest.fixture
def plumrake(request: pytest.FixtureRequest, plumrake_settings: Settings) -> Reader:
    """Return what reads pages that a test hands over."""
    from plumrake.testing.reading import Reader

    run, node = _run_of(request.config), request.node
    folder = _path(request.config, "plumrake_out")

    def notice(reading: Reading) -> None:
        readings = node.stash.setdefault(_READ, [])
        readings.append(reading)
        run.collected.add(reading)
        names = ("address", "findings", "holding")
        given = (reading.page.address, len(reading.findings), len(reading.holding))
        for name, value in zip(names, given, strict=True):
            node.user_properties.append((f"plumrake.{len(readings)}.{name}", value))
        if folder is not None:
            written = reading_files(folder, f"{_slug(node.nodeid)}-{len(readings)}", reading)
            node.user_properties.append((f"plumrake.{len(readings)}.report", str(written)))

    return Reader(
        run.policy,
        plumrake_settings,
        baseline=run.baseline,
        notice=notice,
        keeps=bool(request.config.getoption("plumrake_send")),
    )


def reading_files(folder: Path, name: str, reading: Reading) -> Path:
    """Write a reading as HTML and as JSON; return the HTML's path."""
    from plumrake.testing.collecting import Collected

    one = Collected()
    one.add(reading)
    folder.mkdir(parents=True, exist_ok=True)
    one.write(folder / f"{name}.json", reading.page.address)
    return one.write(folder / f"{name}.html", reading.page.address)


def _slug(nodeid: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", nodeid).strip("-")[-120:]


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_makereport(item: pytest.Item) -> Generator[None, Any, None]:
    """Say below a failure what holds the pages that the test read."""
    outcome = yield
    report = outcome.get_result()
    if report.when != "call" or not report.failed:
        return
    held = [one for one in item.stash.get(_READ, []) if not one.is_ready]
    if held:
        report.sections.append(("Plum Rake", "\n\n".join(one.says for one in held)))


@pytest.hookimpl(optionalhook=True)
def pytest_testnodedown(node: Any) -> None:
    """Take over what a worker of pytest-xdist has read."""
    read = getattr(node, "workeroutput", {}).get(_FROM_WORKERS)
    if read:
        _run_of(node.config).collected.add_rows(json.loads(read))


def pytest_sessionfinish(session: pytest.Session) -> None:
    """Hand what was read to whoever collects it, or write the report and the baseline."""
    config = session.config
    if _RUN not in config.stash:
        return
    run = config.stash[_RUN]
    worker = getattr(config, "workeroutput", None)
    if worker is not None:
        worker[_FROM_WORKERS] = json.dumps(run.collected.rows())
        return
    report, baseline = _path(config, "plumrake_report"), _path(config, "plumrake_baseline")
    if report is not None:
        run.collected.write(report, "tests")
    if baseline is not None and _keeps(config):
        run.collected.write_baseline(baseline)
    site = config.getoption("plumrake_send")
    if site and run.collected.readings:
        run.sent = _sent(run.collected, site, config.getoption("plumrake_environment"))


def _sent(collected: Collected, site: str, environment: str) -> str:
    """Send what was read; return what came of it as a sentence."""
    from plumrake.client import PlumRakeError

    try:
        number = collected.send(site, environment)
    except PlumRakeError as error:
        return f"nothing could be sent to '{site}': {error}"
    return f"sent to '{site}', sweep {number} reads it"


def pytest_terminal_summary(terminalreporter: Any, config: pytest.Config) -> None:
    """Say how many pages were read, and where the report is."""
    if _RUN not in config.stash or not config.stash[_RUN].collected.readings:
        return
    readings = config.stash[_RUN].collected.readings
    ready = sum(one.is_ready for one in readings)
    report = _path(config, "plumrake_report")
    where = f"; {report}" if report is not None else ""
    terminalreporter.write_line(
        f"Plum Rake: {len(readings)} {'reading' if len(readings) == 1 else 'readings'}, "
        f"{ready} ready{where}"
    )
    if config.stash[_RUN].sent:
        terminalreporter.write_line(f"Plum Rake: {config.stash[_RUN].sent}")
