"""The garden's answer key: what is to be found in each item, and in which block."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any

from plumrake.client import PlumRake
from plumrake.core.blocks import FRAME

Found = dict[str, list[list[str]]]
"""By an item's path: check, outcome, and block, as the editor calls it, of each finding in it."""


def answer_key() -> Found:
    """Return what is to be found."""
    text = (files("plumrake.demo") / "wordpress" / "answer_key.json").read_text(encoding="utf-8")
    key: Found = json.loads(text)
    return key


def found_in_items(rake: PlumRake, site: str) -> Found:
    """Return what was found in the items of a site: in those that are public by the newest sweep,
    in the others as they would go out."""
    found: Found = {}
    for one in rake.findings.list(site, words="with", sort="page"):
        if one.block not in ("", FRAME):
            found.setdefault(one.path, []).append([one.check, one.outcome, one.where])
    for item in rake.items.going_out(site):
        found[item.path] = []
        if item.clearance_id is not None:
            judged: list[Any] = rake.gate.show(item.clearance_id).judged
            found[item.path] = [
                [one.check, one.outcome, one.where]
                for one in judged
                if one.block not in ("", FRAME)
            ]
    return {path: sorted(own) for path, own in sorted(found.items())}
