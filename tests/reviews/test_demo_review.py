"""The demo's review: two people answer at once, and it ends as its key says."""

from __future__ import annotations

import tomllib
from concurrent.futures import ThreadPoolExecutor
from importlib.resources import files
from typing import Any

import pytest

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.seed import SITE
from tests.conftest import Running

BEGINS_SWEPT = True
pytestmark = pytest.mark.usefixtures("swept")
KEY = tomllib.loads(
    files("plumrake.demo").joinpath("content", "review_key.toml").read_text(encoding="utf-8")
)


def answer(rake: PlumRake, given: dict[str, Any]) -> None:
    asked = rake.reviews.question(SITE, given["question"], path=given.get("page"))
    names = [row.get("name") for row in asked.rows]
    rake.reviews.answer(
        SITE,
        models.NewReviewAnswer(
            path=given.get("page"),
            question=given["question"],
            answer=given["answer"],
            faults=[
                models.FaultSeen(
                    says=one["says"],
                    weight=one["weight"],
                    row=names.index(one["sees"]) if "sees" in one else None,
                )
                for one in given.get("faults", ())
            ],
            shown_key=asked.shown_key,
        ),
    )


def test_the_review_ends_as_its_key_says(running: Running, manager: PlumRake) -> None:
    people = sorted({one["who"] for one in KEY["answers"]})
    assert len(people) == 2

    def play(who: str) -> None:
        with running.client(f"{who}@harrowmere.example") as rake:
            for given in KEY["answers"]:
                if given["who"] == who:
                    answer(rake, given)

    with ThreadPoolExecutor(2) as both:
        list(both.map(play, people))
    review = manager.reviews.show(SITE)
    assert {name: getattr(review, name) for name in KEY["end"]} == KEY["end"]
    seen = manager.findings.list(SITE, check="review/seen-by-people")
    assert sorted((one.path, one.says, one.weight) for one in seen) == sorted(
        (given["page"], f"Seen by a person: {one['says']}", one["weight"])
        for given in KEY["answers"]
        for one in given.get("faults", ())
    )
    given_by = {(one.question, one.path): one.answered_by for one in manager.reviews.answers(SITE)}
    assert len(given_by) == len(KEY["answers"])
    assert given_by["timing", None].startswith("Philippa")
