"""Computed values that hang on one another (CSS 2.2, 8.5.3 and 9.7; Overflow 3, 3), and what a
browser does to form controls."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace

from plumrake.core.style.cascade.computed import Computed, Control, Won

SIDES = ("top", "right", "bottom", "left")
EDGES = tuple(f"border-{side}-color" for side in SIDES)


def settle(
    values: dict[str, str], won: Mapping[str, Won], *, is_block: bool, is_root: bool
) -> None:
    """Settle what hangs on other properties (CSS 2.2, 8.5.3 and 9.7; Overflow 3, 3)."""
    for side in SIDES:
        if values[f"border-{side}-style"] in ("none", "hidden"):
            values[f"border-{side}-width"] = "0px"
        elif f"border-{side}-width" not in won:
            values[f"border-{side}-width"] = "3px"
    if values["position"] in ("absolute", "fixed"):
        values["float"] = "none"
    if is_block or values["float"] != "none" or values["position"] in ("absolute", "fixed"):
        values["display"] = _BLOCKS.get(values["display"], values["display"])
    if is_root and values["display"] == "contents":
        values["display"] = "block"
    one, other = values["overflow-x"], values["overflow-y"]
    values["overflow-x"] = _overflow(one, other)
    values["overflow-y"] = _overflow(other, one)
    values["animation-duration"] = _in_seconds(values["animation-duration"])


def _in_seconds(durations: str) -> str:
    """Return times as they compute (CSS Values 4, 6.2): in seconds."""
    return ", ".join(
        f"{float(milliseconds[1]) / 1000:g}s"
        if (milliseconds := _MILLISECONDS.fullmatch(one.strip()))
        else one.strip()
        for one in durations.split(",")
    )


_MILLISECONDS = re.compile(r"([+-]?(?:[0-9]+(?:\.[0-9]+)?|\.[0-9]+)(?:e[+-]?[0-9]+)?)ms")


def for_control(found: Computed, control: Control) -> Computed:
    """Return the values of a form control: never wholly inline; what is ticked has no border in the
    browser's own look."""
    values = found.values
    changed = dict(values)
    if values["display"] == "inline":
        changed["display"] = "inline-block"
    if control == "ticked" and values["appearance"] != "none":
        changed |= dict.fromkeys(EDGES, values["color"])
        changed |= {f"border-{side}-width": "0px" for side in SIDES}
    return replace(found, values=changed)


_BLOCKS = {
    "inline": "block",
    "inline-block": "block",
    "inline-flex": "flex",
    "inline-grid": "grid",
    "inline-table": "table",
    "inline list-item": "list-item",
    "-webkit-inline-box": "-webkit-box",
    "ruby": "block ruby",
    "ruby-text": "block",
    "math": "block math",
    **{
        f"table-{part}": "block"
        for part in (
            "row cell row-group header-group footer-group column column-group caption".split()
        )
    },
}


def _overflow(one: str, other: str) -> str:
    one = "auto" if one == "overlay" else one
    if other in ("visible", "clip"):
        return one
    return {"visible": "auto", "clip": "hidden"}.get(one, one)
