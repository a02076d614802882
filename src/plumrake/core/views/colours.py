"""The colour pairs of a page's text: each pair once, with its ratio and how often it is used."""

from __future__ import annotations

from typing import Any

from plumrake.core.colours import contrast, truncated
from plumrake.core.page import Page
from plumrake.core.views.once import once_a_page


@once_a_page
def colours(page: Page) -> list[dict[str, Any]]:
    """Return every pair of text and background colour, the palest first.

    ``ratio`` is cut to two decimals, ``required`` the strictest that AA asks for among its uses,
    ``passes`` whether all uses pass, ``uses`` their number, ``selector`` the first of them. Text
    over pictures is left out: only pixels can tell there.
    """
    pairs: dict[tuple[str, str], dict[str, Any]] = {}
    if "style" not in page.evidence.kinds:
        return []
    for run, surface in page.text_runs:
        if surface is None:
            continue
        ratio, required = contrast(surface.text, surface.background), run.required(aaa=False)
        key = (surface.text.hex(), surface.background.hex())
        fresh = {
            "text": key[0],
            "background": key[1],
            "ratio": truncated(ratio),
            "required": required,
            "passes": True,
            "uses": 0,
        }
        pair = pairs.setdefault(key, {**fresh, "selector": page.selector_of(run.owner)})
        pair["uses"] += 1
        pair["required"] = max(pair["required"], required)
        pair["passes"] = pair["passes"] and ratio >= required
    return sorted(
        pairs.values(), key=lambda pair: (pair["ratio"], pair["text"], pair["background"])
    )
