"""The page forbids to enlarge it.

A ``viewport`` that forbids scaling takes the two-finger zoom away on phones and tablets.

## Who is hindered

People with low vision, and everybody with small type in bright light.

## What an editor does

Tell whoever keeps the templates.

## What a template developer does

Print ``width=device-width, initial-scale=1`` and nothing else.

## Wrong

    <html lang="en"><head><meta name="viewport" content="width=device-width,
      user-scalable=no"></head><body></body></html>

## Right

    <html lang="en"><head><meta name="viewport" content="width=device-width,
      initial-scale=1"></head><body></body></html>

## Left alone

Limits of twice the size and more.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check

_LEAST = 2.0


@check(
    id="page/zoom-locked",
    weight=Weight.BARRIER,
    criteria=("1.4.4",),
    needs=(Needs.TREE, Needs.PAGE),
    act_rule="b4f0c3",
    messages={
        "forbidden": "The page forbids to enlarge it ({value}).",
        "capped": "The page may be enlarged only up to {most} times its size; twice is required.",
    },
)
def zoom_locked(page: Page) -> Iterator[Flag]:
    """Yield every ``meta viewport`` that forbids scaling or caps it under 2."""
    for meta in page.elements:
        if meta.tag != "meta" or meta.get("name").strip().lower() != "viewport":
            continue
        values = _settings(meta.get("content"))
        facts = {"content": meta.get("content")}
        mend = Mend(
            "set-attribute",
            "Allow to enlarge the page.",
            attribute="content",
            value="width=device-width, initial-scale=1",
            sure=True,
        )
        scalable, most = (
            values.get("user-scalable", "yes"),
            _number(values.get("maximum-scale", "10")),
        )
        if scalable == "no" or _number(scalable) == 0:
            yield failed(
                meta, "forbidden", value=f"user-scalable={scalable}", facts=facts, mends=(mend,)
            )
        elif most is not None and 0 <= most < _LEAST:
            yield failed(meta, "capped", most=f"{most:g}", facts=facts, mends=(mend,))


def _settings(content: str) -> dict[str, str]:
    """Return the settings of a viewport by their names, in small letters: what stands between
    commas, semicolons and white space, with white space around ``=`` left out."""
    plain = " ".join(content.lower().replace(",", " ").replace(";", " ").split())
    pairs = (one.partition("=") for one in plain.replace(" =", "=").replace("= ", "=").split(" "))
    return {name: value for name, _, value in pairs if value}


def _number(text: str) -> float | None:
    match = re.match(r"[+-]?(\d+\.?\d*|\.\d+)", text)
    return float(match.group()) if match else {"yes": 1.0}.get(text)
