"""Markdown as a source: where its things stand, and what mends of them change."""

from pathlib import Path
from typing import Any

import pytest
import yaml

from plumrake.core.findings import Mend
from plumrake.core.mending.edits import applied
from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.markdown import parse_markdown

CASES = yaml.safe_load(Path(__file__).with_name("markdown_cases.yaml").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_case(case: dict[str, Any]) -> None:
    """The element stands where the case says; its mend changes what the case says and nothing
    else; made once more it changes nothing."""
    page = parse_markdown(case["md"], "http://made.invalid/")
    found = [one for one in page.page.elements if one.tag == case["tag"]][case["n"]]
    assert page.position_of(found) == tuple(case["at"])
    mend = Mend(says="", **case["mend"])
    if "cannot" in case:
        with pytest.raises(CannotMend, match=case["cannot"]):
            page.edits_of(found, mend)
        return
    changed = applied(case["md"], page.edits_of(found, mend))
    assert changed == case["becomes"]


def test_there_are_sixty_cases() -> None:
    """Each with a name of its own."""
    assert len({case["name"] for case in CASES}) >= 60


def test_a_page_cannot_write_our_marks() -> None:
    """Private characters and numbers that look like marks are text."""
    text = "\ue000abc.0\ue001 ![](a.png)\n"
    page = parse_markdown(text, "http://made.invalid/")
    picture = page.page.document.first("img")
    assert picture is not None
    assert page.position_of(picture) == (1, 9)
