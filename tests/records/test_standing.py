"""What counts is worked out once: whatever people decide, and whatever the policy says, lists,
figures, sections, pages, the trial and the core agree."""

from __future__ import annotations

import random
from collections import Counter
from datetime import UTC, datetime, timedelta

import psycopg
import pytest

from plumrake import models
from plumrake.client import PlumRake
from plumrake.core.decisions import Standing, every_standing, holds, standing
from plumrake.core.findings import WEIGHTS, Outcome
from plumrake.core.fixes import LIVE, TO_DO, FixState
from plumrake.core.policy import policy_from
from plumrake.core.registry import catalogue
from plumrake.demo.seed import SITE
from plumrake.path_patterns import as_like, matches
from tests.conftest import Running

BEGINS_SWEPT = True


def test_the_tables_say_what_the_core_says(database: str) -> None:
    """The rows that queries go by are the core's rules, each once."""
    with psycopg.connect(database) as connection:
        rules = connection.execute(
            "SELECT outcome, answer, waived, left_out, mended, standing FROM standing_rule"
        ).fetchall()
        states = connection.execute("SELECT name, is_live, is_to_do FROM fix_state").fetchall()
        ranks = [
            connection.execute("SELECT weight_rank(%s, %s)", (weight, outcome)).fetchone()
            for weight in WEIGHTS
            for outcome in (Outcome.FAILED, Outcome.CANT_TELL)
        ]
    assert ranks == sorted(set(ranks))  # type: ignore[type-var]
    assert sorted(rules) == sorted(every_standing())
    assert sorted(states) == sorted((str(one), one in LIVE, one in TO_DO) for one in FixState)


@pytest.mark.parametrize(
    ("pattern", "path"),
    [
        ("/caf%C3%A9/*", "/caf%C3%A9/menu/"),
        ("/caf%C3%A9/*", "/cafXC3XA9/menu/"),
        ("/a_b/*", "/aXb/c"),
        ("/a_b/*", "/a_b/c"),
        (r"/a\b*", r"/a\b/c"),
        ("/*/fees/*", "/boating/fees/day/"),
        ("*", "/"),
        ("/x", "/x/"),
    ],
)
def test_patterns_match_alike_in_the_database(database: str, pattern: str, path: str) -> None:
    """A percent sign, an underscore and a backslash of a path stand for themselves."""
    with psycopg.connect(database) as connection:
        row = connection.execute("SELECT %s LIKE %s", (path, as_like(pattern))).fetchone()
    assert row == (matches(pattern, path),)


def decide_at_random(rake: PlumRake, chance: random.Random, found: list[models.Finding]) -> None:
    """Waive, judge, take back and change the policy, some dozens of times."""
    until = datetime.now(UTC).date() + timedelta(days=9)
    for one in chance.sample(found, 24):
        if one.outcome == "cantTell" and chance.random() < 0.7:
            rake.decisions.judge(one.id, chance.choice(["fault", "fine"]), "so it is")
            continue
        scope = chance.choice(["place", "page", "cause", "check"])
        pattern = chance.choice(["*", "/visit/*", "/news/*"]) if scope == "check" else None
        rake.decisions.waive(one.id, scope=scope, reason="for now", ends_on=until, pattern=pattern)
    for waiver in chance.sample(list(rake.decisions.waivers(SITE, in_force=True)), 2):
        rake.decisions.end_waiver(SITE, waiver.id)
    policy = {
        "hold": chance.choice(["barrier", "obstacle", "friction"]),
        "without": chance.sample(sorted({one.check for one in found}), 3),
        "leave-out-pages": chance.sample(["/archive/*", "/de/*", "*/fees/", "/no-such/*"], 2),
    }
    site = rake.sites.show(SITE)
    rake.sites.change(SITE, models.SiteChange(policy=policy), site.tag)


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_everything_agrees_on_what_counts(
    running: Running, manager: PlumRake, database: str, seed: int
) -> None:
    """After random decisions: the standing kept is the core's, and each way to count it gives the
    same number."""
    everything = list(manager.findings.list(SITE, words="with", sort="page"))
    decide_at_random(manager, random.Random(seed), everything)
    policy = policy_from(manager.sites.show(SITE).policy)
    off = {check.id for check in catalogue().values() if not policy.applies(check)}
    found = list(manager.findings.list(SITE, words="with"))
    for one in found:
        expected = standing(
            one.outcome,
            one.answer,
            waived=one.waiver_id is not None,
            left_out=one.check in off or policy.leaves_out(one.path),
        )
        assert one.standing == expected.value, one
    counted = Counter(one.weight for one in found if one.standing == "counts")

    figures = next(one for one in manager.sites.show(SITE).figures if one.environment == "live")
    assert (figures.barriers, figures.obstacles, figures.frictions) == tuple(
        counted[weight] for weight in ("barrier", "obstacle", "friction")
    )
    assert figures.waived == sum(one.standing == "waived" for one in found)
    doubtful = [one for one in found if one.standing == "doubtful"]
    assert figures.words == sum(one.check == "text/spelling" for one in doubtful) > 0
    assert figures.doubtful == len(doubtful) - figures.words
    words = list(manager.findings.list(SITE, words="only"))
    assert {one.check for one in words} == {"text/spelling"}
    rest = list(manager.findings.list(SITE))
    assert sorted(one.id for one in (*words, *rest)) == sorted(one.id for one in found)
    for weight, number in counted.items():
        listed = list(manager.findings.list(SITE, standing="counts", weight=weight, words="with"))
        assert len(listed) == number

    sections = list(manager.views.sections(SITE))
    assert sum(one.barriers for one in sections) == counted["barrier"]
    assert sum(one.obstacles for one in sections) == counted["obstacle"]

    sweep = next(iter(manager.sweeps.list(SITE))).id
    pages = {one.path: one for one in manager.sweeps.readings(sweep)}
    by_page = Counter(one.path for one in found if one.standing == "counts")
    assert {path: one.failed for path, one in pages.items()} == {
        path: by_page[path] for path in pages
    }
    left_out = {path for path, one in pages.items() if one.left_out_page}
    assert left_out == {path for path in pages if policy.leaves_out(path)}
    assert (figures.pages, figures.left_out) == (len(pages) - len(left_out), len(left_out))
    assert figures.ready == sum(one.ready for path, one in pages.items() if path not in left_out)
    listed_ready = {one.path for one in manager.sweeps.readings(sweep, ready=True)}
    assert listed_ready == {path for path, one in pages.items() if one.ready} - left_out
    assert sum(one.pages for one in sections) == figures.pages
    held = {one.path for one in found if holds(Standing(one.standing), one.weight, policy.hold)}
    assert {path for path, one in pages.items() if one.ready} == {
        path for path, one in pages.items() if one.status == "read" and path not in held
    }

    trial = manager.sites.try_policy(SITE, manager.sites.show(SITE).policy)
    assert (trial.ready_before, trial.ready_after) == (figures.ready, figures.ready)
    assert (trial.held, trial.freed) == ([], [])
