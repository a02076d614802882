"""The demo site's answer key: the checks find what was planted, nothing less and nothing more, by
every way of asking."""

import asyncio
import json
import os
import subprocess
import sys
from collections import Counter
from pathlib import Path

import pytest

from plumrake.client import PlumRake
from plumrake.core.findings import Needs
from plumrake.core.policy import Policy, policy_from
from plumrake.core.registry import catalogue
from plumrake.demo.seed import SITE
from plumrake.demo.site import (
    ENVIRONMENTS,
    DemoPage,
    answer_key,
    build_environment,
    journey_answers,
    kept_answer_key,
)
from plumrake.lenses.markup import parse_document
from plumrake.lenses.rendered.jail import find_browser
from plumrake.lsp.written import WrittenText
from plumrake.testing import Reader, Reading
from tests.conftest import Running, token_of, wait_for

TAKES_LONG = True

BEGINS_SWEPT = True
Answers = Counter[tuple[str, str, str, str]]
EVERY = os.environ.get("PLUMRAKE_ANSWER_KEY") == "all"
LOOKED_AT = ENVIRONMENTS if EVERY else ("staging",)
SWEPT = ENVIRONMENTS if EVERY else ("live",)
"""Each environment by one way; both ways of each take two minutes more, with
``PLUMRAKE_ANSWER_KEY=all``."""
RICHEST = "/archive/"
"""The section of the demo with the most faults."""


def key(environment: str) -> Answers:
    """Return the answer key as a multiset."""
    return Counter(
        (a["address"], a["check"], a["outcome"], a["selector"]) for a in answer_key(environment)
    )


@pytest.mark.parametrize("environment", ENVIRONMENTS)
def test_kept_key_is_the_contents_key(environment: str) -> None:
    """The key kept as data says what the marks in the contents say."""
    assert kept_answer_key(environment) == answer_key(environment)


@pytest.mark.parametrize("environment", ENVIRONMENTS)
def test_demo_is_rich_enough(environment: str) -> None:
    """At least 40 pages, every check planted, at least a dozen pages without any fault, no mark
    left in the HTML."""
    pages = build_environment(environment)
    assert len(pages) >= 40
    assert sum(not page.answers for page in pages) >= 12
    assert not [page.address for page in pages if "data-plant" in page.html]
    at_the_gate = {
        one.id for one in catalogue().values() if Needs.NETWORK in one.needs
    }  # links are followed there only
    assert len(at_the_gate) == 3
    by_people = {one.id for one in catalogue().values() if one.area == "review"}
    assert {answer["check"] for answer in answer_key("live")} == (
        set(catalogue()) - at_the_gate - by_people
    )


@pytest.mark.parametrize("environment", ENVIRONMENTS)
def test_every_selector_selects_one_element(environment: str) -> None:
    """Each selector of the key matches exactly one element of its page, asked of the HTML parser's
    own CSS engine."""
    from selectolax.lexbor import LexborHTMLParser

    for page in build_environment(environment):
        parser = LexborHTMLParser(page.html)
        for answer in page.answers:
            assert len(parser.css(answer["selector"])) == 1, answer


def test_environments_share_most_pages() -> None:
    """Staging mends some faults of live and brings others."""
    live, staging = key("live"), key("staging")
    assert live - staging
    assert staging - live
    assert {page.address for page in build_environment("live")} == {
        page.address for page in build_environment("staging")
    }


@pytest.mark.parametrize("environment", LOOKED_AT)
def test_look_finds_the_key(environment: str, demo_site: dict[str, str], demo_files: Path) -> None:
    """``plumrake look`` on the site's files gives the key exactly, and exit status 1: each
    third of them, less what shows only over all together; all of them where that is asked for."""
    pages = build_environment(environment)[:: 1 if EVERY else 6]
    files = [
        f"{page.address}{'index.html' * page.address.endswith('/')}".lstrip("/") for page in pages
    ]
    command = [sys.executable, "-m", "plumrake", "look", *(["."] if EVERY else files)]
    command += ["--as", "json", *([] if EVERY else ["--without", "page/title-shared"])]
    read = {page.address for page in pages}
    wanted = Counter(
        {
            answer: count
            for answer, count in key(environment).items()
            if answer[0] in read and (EVERY or answer[1] != "page/title-shared")
        }
    )
    done = subprocess.run(
        command, cwd=demo_files / environment, capture_output=True, text=True, check=False
    )
    result = json.loads(done.stdout)
    found: Answers = Counter(
        (
            "/" + page["address"].removesuffix("index.html"),
            one["check"],
            one["outcome"],
            one["selector"],
        )
        for page in result["pages"]
        for one in page["findings"]
    )
    assert found == wanted
    assert done.returncode == 1
    assert result["summary"]["unreadable"] == 0
    if EVERY:
        assert result["summary"]["ready"] == sum(not page.answers for page in pages)


@pytest.mark.parametrize("environment", SWEPT)
def test_sweep_finds_the_key(
    environment: str, running: Running, swept: int, manager: PlumRake
) -> None:
    """A sweep through the service and a worker gives the key exactly: journeys included: over the
    API and by the command line."""
    sweep = (
        manager.sweeps.show(swept)
        if environment == "live"
        else manager.sweeps.start(SITE, environment=environment)
    )  # type: ignore[arg-type]
    kinds = [progress.kind for progress in manager.sweeps.follow(sweep.id)]
    assert kinds[0] == "queued"
    assert kinds[-1] == "done"
    found: Answers = Counter(
        (one.path, one.check, one.outcome, one.selector)
        for one in manager.findings.list(SITE, sweep=sweep.id, words="with")
    )
    assert found == key(environment) + Counter(
        (a["address"], a["check"], a["outcome"], a["selector"]) for a in journey_answers()
    )
    token = token_of(manager, "read")
    settings = {**os.environ, "PLUMRAKE_SERVER": running.address, "PLUMRAKE_TOKEN": token}
    command = [
        sys.executable,
        "-m",
        "plumrake",
        "findings",
        SITE,
        "--sweep",
        str(sweep.id),
        "--words",
        "with",
        "--json",
    ]
    listed = json.loads(
        subprocess.run(command, env=settings, capture_output=True, text=True, check=True).stdout
    )
    assert (
        Counter((one["path"], one["check"], one["outcome"], one["selector"]) for one in listed)
        == found
    )
    figures = next(
        figures
        for figures in manager.sites.show(SITE).figures
        if figures.environment == environment
    )
    assert figures.ready == sum(not page.answers for page in build_environment(environment))


def test_two_sweeps_of_the_same_pages_agree(
    running: Running, swept: int, manager: PlumRake
) -> None:
    """The pages with the most faults, read anew, give the same findings, to the last byte, whatever
    the order of reading; what hangs on all pages of the sweep is left out."""
    again = manager.sweeps.start(SITE, environment="live", fresh=True, section=RICHEST)
    wait_for(
        lambda: manager.sweeps.show(again.id).state == "done",
        240,
        lambda: f"{manager.sweeps.show(again.id)}; {running.logs()}",
    )

    def all_of(sweep_id: int) -> list[str]:
        left_out = {"id", "sweep_id", "ordinal", "cause"}
        moving = {"box"}  # what turns lies elsewhere each time
        return [
            one.model_dump_json(
                exclude=left_out | moving if one.check == "motion/moves" else left_out
            )
            for one in manager.findings.list(
                SITE, sweep=sweep_id, words="with", path=RICHEST, sort="page"
            )
        ]

    found = all_of(again.id)
    assert len(found) > 100
    assert found == all_of(swept)


def test_both_lenses_agree_on_the_tree() -> None:
    """What needs only the tree is the same through both lenses, lines and columns included."""
    from plumrake.core.assess import assess
    from plumrake.core.findings import Needs
    from plumrake.core.page import Page
    from plumrake.lenses.read_options import ReadOptions
    from plumrake.lenses.reader import PageReader

    pages = build_environment("live")
    policy = Policy(
        only=tuple(
            check.id for check in catalogue().values() if check.needs <= {Needs.TREE, Needs.PAGE}
        )
    )

    async def read() -> list[object]:
        tree_alone = ReadOptions(pixels=False, keyboard=False, zoom=False, words=False)
        async with PageReader("rendered") as reader:
            obtained = await asyncio.gather(
                *(
                    reader.read_html(
                        page.html.encode(), f"http://demo.invalid{page.address}", tree_alone
                    )
                    for page in pages
                )
            )
        return [one.document for one in obtained]

    def told(document: object) -> list[tuple[object, ...]]:
        found = assess(Page(document), policy).findings  # type: ignore[arg-type]
        return [
            (one.check, one.says, one.selector, one.line, one.column, one.cause_key, one.place_key)
            for one in found
        ]

    for page, document in zip(pages, asyncio.run(read()), strict=True):
        assert told(document) == told(
            parse_document(page.html, f"http://demo.invalid{page.address}")
        ), page.address


def test_editor_and_tests_of_ones_own_have_the_place_keys_of_the_sweep(
    swept: int, manager: PlumRake
) -> None:
    """The pages with the most faults, as their author types them and as a test of one's own hands
    them over: what each can see has the keys that the sweep gave."""
    site = manager.sites.show(SITE)
    policy = policy_from(site.policy)
    listed = manager.findings.list(SITE, sweep=swept, words="with", path=RICHEST, sort="page")
    keys: dict[str, set[tuple[str, str]]] = {}
    for one in listed:
        keys.setdefault(one.path, set()).add((one.check, one.place_key))
    pages = [one for one in build_environment("live") if one.address in keys][:8]
    handed_over = asyncio.run(_handed_over(site.live_address.rstrip("/"), pages, policy))
    tree_alone = {one.id for one in catalogue().values() if one.needs <= {Needs.TREE, Needs.PAGE}}
    for page, reading in zip(pages, handed_over, strict=True):
        wanted = keys[page.address]
        untested = {check for check, _ in reading.untested}
        found = {(one.check, one.place_key) for one in reading.findings}
        assert found == {one for one in wanted if one[0] not in untested}, page.address
        if "<script" in page.html:
            continue
        written = WrittenText(page.html, policy, "html", f"http://text.invalid{page.address}")
        typed = {(one.finding.check, one.finding.place_key) for one in written.found}
        in_tree = {one for one in typed if one[0] in tree_alone}
        assert in_tree == {one for one in wanted if one[0] in tree_alone}, page.address


async def _handed_over(base: str, pages: list[DemoPage], policy: Policy) -> list[Reading]:
    """Read pages as a test does that drives a browser of its own."""
    from playwright.async_api import async_playwright

    reader, readings = Reader(policy), []
    async with async_playwright() as playwright:
        browser = await playwright.chromium.launch(
            executable_path=find_browser(), args=["--no-sandbox"]
        )
        context = await browser.new_context(viewport={"width": 1280, "height": 800})
        await reader.prepare(context)
        for page in pages:
            tab = await context.new_page()
            await tab.goto(f"{base}{page.address}")
            readings.append(await reader.read_async(tab))
            await tab.close()
        await browser.close()
    return readings
