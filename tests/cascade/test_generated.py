"""Pages with style sheets that nobody wrote, against the browser."""

from __future__ import annotations

import asyncio
import random
from collections.abc import Iterator

from plumrake.lenses.reader import PageReader
from tests.cascade.styled import browsers_page, differences, page_of

PAGES = 12
"""``bench/cascade.py generated 1000`` tries more."""
CLASSES = ("a", "b", "c", "d", "e")
TAGS = ("p", "div", "span", "b", "ul", "li", "em", "h2", "code", "section")
VALUES = {
    "color": ("red", "#345", "rgb(1 2 3 / 40%)", "var(--x)", "inherit", "currentcolor", "initial"),
    "background-color": (
        "#fed",
        "transparent",
        "var(--y, #abc)",
        "color-mix(in srgb, red, var(--x))",
    ),
    "background": ("none", "#eee", "url(x) #ddd", "var(--x)", "linear-gradient(red, #00f)"),
    "display": ("block", "inline", "flex", "inline-grid", "contents", "list-item", "table-cell"),
    "font-size": ("12px", "1.2em", "80%", "larger", "small", "calc(1em + 1px)", "2rem", "unset"),
    "font": ("bold 14px serif", "italic 1.1em/2 monospace", "inherit"),
    "font-family": ("monospace", "serif", "monospace, serif"),
    "font-weight": ("bold", "bolder", "lighter", "300", "normal", "revert"),
    "opacity": ("0.5", "50%", "1", "calc(1 / 4)"),
    "visibility": ("hidden", "visible", "inherit"),
    "border": ("1px solid", "2px dashed red", "none", "thick double var(--x)"),
    "border-left-width": ("3px", "thin", "0.2em"),
    "text-decoration": ("underline", "none", "line-through red"),
    "position": ("relative", "absolute", "static", "sticky"),
    "float": ("left", "none", "right"),
    "overflow": ("hidden", "auto", "visible clip", "scroll hidden"),
    "--x": ("#123123", "var(--y)", "blue", "initial"),
    "--y": ("#321321", "var(--x)", "var(--z, green)", "inherit"),
    "all": ("unset", "revert", "initial"),
    "text-transform": ("uppercase", "none"),
}
COMBINATORS = (" ", " > ", " + ", " ~ ", " ", " > * + ", " * ~ ")
TESTS = (
    ":first-child",
    ":last-child",
    ":nth-child(2n+1)",
    ":not(.a)",
    ":is(.b, .c)",
    ":where(.d)",
    ":has(.e)",
    ":only-child",
    ":nth-of-type(2)",
    ":empty",
    "[data-n]",
    '[data-n^="1"]',
    '[data-n*="2"]',
    '[class^="b"]',
    ':not([class*="c "])',
)
AROUND = (
    "{}",
    "@layer one {{ {} }}",
    "@layer two {{ {} }}",
    "@media (min-width: 900px) {{ {} }}",
    "@media (max-width: 900px) {{ {} }}",
    "@supports (display: grid) {{ {} }}",
    "{}",
    "{}",
)


def made_page(seed: int) -> str:
    """Return a page of about 60 elements and 40 rules."""
    draw = random.Random(seed)
    doctype = "" if draw.random() < 0.1 else "<!doctype html>"
    rules = "\n".join(_rule(draw) for _ in range(40))
    body = "".join(_tree(draw, 0) for _ in range(6))
    return (
        f"{doctype}<html lang=en><title>t</title><style>{rules}</style><body>{body}</body></html>"
    )


def _rule(draw: random.Random) -> str:
    selectors = ", ".join(_selector(draw) for _ in range(draw.randint(1, 2)))
    nested = f"; &{draw.choice(('.a', ' > b', ':first-child'))} {{ {_declared(draw)} }}"
    inner = _declared(draw) + (nested if draw.random() < 0.15 else "")
    return draw.choice(AROUND).format(f"{selectors} {{ {inner} }}")


def _declared(draw: random.Random) -> str:
    names = draw.sample([name for name in VALUES if name != "all" or draw.random() < 0.1], 3)
    return "; ".join(
        f"{name}: {draw.choice(VALUES[name])}{' !important' if draw.random() < 0.1 else ''}"
        for name in names
    )


def _selector(draw: random.Random) -> str:
    parts = [_compound(draw) for _ in range(draw.choice((1, 1, 2, 3)))]
    found = parts[0]
    for part in parts[1:]:
        found += draw.choice(COMBINATORS) + part
    return found


def _compound(draw: random.Random) -> str:
    found = draw.choice((*TAGS, "", "*", "", ""))
    if not found or draw.random() < 0.5:
        found += f".{draw.choice(CLASSES)}"
    return found + (draw.choice(TESTS) if draw.random() < 0.3 else "")


def _tree(draw: random.Random, depth: int) -> str:
    tag = draw.choice(("div", "section", "ul") if depth < 2 else ("span", "b", "em", "code"))
    classes = " ".join(draw.sample(CLASSES, draw.randint(0, 2)))
    number = f' data-n="{draw.randint(1, 20)}"' if draw.random() < 0.3 else ""
    inner = "".join(_tree(draw, depth + 1) for _ in range(draw.randint(0, 3 if depth < 3 else 0)))
    return f'<{tag} class="{classes}"{number}>text {inner}</{tag}>'


async def told(reader: PageReader, seed: int) -> list[str]:
    """Return in what a made page differs from the browser's."""
    html = made_page(seed)
    ours, theirs = page_of(html), await browsers_page(reader, html)
    return [
        f"page {seed}, {element!r} in {element.parent!r}: {name} is {two}, not {one}"
        for element, name, one, two in differences(ours, theirs)
    ]


async def several(first: int, count: int) -> list[str]:
    """Return in what several made pages differ."""
    async with PageReader("rendered") as reader:
        found = [await told(reader, seed) for seed in range(first, first + count)]
    return [row for rows in found for row in rows]


async def test_made_pages_are_as_the_browser_has_them() -> None:
    assert await several(0, PAGES) == []


def main(count: int) -> Iterator[str]:
    """Yield the differences of so many pages, for the bench."""
    yield from asyncio.run(several(0, count))
