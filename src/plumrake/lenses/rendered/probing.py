"""Gathering what the document alone does not tell: pixels behind texts, a walk by Tab, other
layouts."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from plumrake.core.evidence import Misfit, Trials, Walk
from plumrake.core.patterns import Part
from plumrake.core.probes import TextsInDoubt
from plumrake.lenses.assessor import Assessor, Place, differ
from plumrake.lenses.rendered.browser import Tab
from plumrake.lenses.rendered.drawing import NARROW
from plumrake.lenses.rendered.scripts import NO_TEXT
from plumrake.lenses.rendered.shots import shot
from plumrake.lenses.runners import Runner

_WIDEST = 2560
_MOST_PRESSES = 250
_MOST_COMPARED = 16
_TRIES_OF_A_KIND = 2
_LOOKS_THAT_AGREE = 2
_MOST_LOOKS = 4
_MOST_TRIED = 20_000


async def take_pixels(
    tab: Tab, doubt: TextsInDoubt, width: int
) -> tuple[bytes, list[Place | None]]:
    """Return the strip of the page that holds the texts in doubt as PNG, shot with all text
    transparent, and where the texts' owners are at that moment. ``width`` is the viewport's."""
    await tab.run("no_text.js", ["on", NO_TEXT])
    try:
        picture = await shot(tab, doubt.strip(width))
        places: list[list[float] | None] = await tab.run(
            "places.js", [index for index, _, _ in doubt.owners]
        )
    finally:
        await tab.run("no_text.js", ["off", ""])
    return picture, [(place[0], place[1]) if place is not None else None for place in places]


async def try_layouts(tab: Tab, elements: int, parts: Part) -> Trials | None:
    """Return what becomes of the layout at 320 px, at 200 % text and with wide text spacing, as far
    as it is wanted; None for pages of too many ``elements`` to try."""
    if elements > _MOST_TRIED or not parts & (Part.NARROW | Part.TEXT):
        return None
    trials = Trials(too_wide=None, doubled=None, spaced=None)
    if Part.TEXT in parts:
        texts: dict[str, Any] = await tab.run("trials.js", "text")
        trials = replace(
            trials, doubled=_misfits(texts["doubled"]), spaced=_misfits(texts["spaced"])
        )
    if Part.NARROW in parts:
        await tab.set_size(*NARROW)
        try:
            narrow: dict[str, Any] = await tab.run("trials.js", "narrow")
        finally:
            await tab.set_size(None, None)
        trials = replace(
            trials,
            page_width=int(narrow["width"]),
            too_wide=tuple((int(index), int(width)) for index, width in narrow["found"]),
        )
    return trials


def _misfits(rows: list[list[Any]]) -> tuple[Misfit, ...]:
    return tuple(
        Misfit(index, kind, other if other >= 0 else None, pixels)
        for index, kind, other, pixels in rows
    )


async def walk(tab: Tab, runner: Runner) -> Walk:
    """Return what pressing Tab does, or an empty walk where nothing on the page makes one worth
    while."""
    begun: dict[str, Any] = await tab.run(
        "walk.js", ["begin", await runner.do(Assessor.wants_walk)]
    )
    if not begun["needed"]:
        return Walk(ended=False)
    presses = min(_MOST_PRESSES, begun["stops"] + 3)
    seen = await _pressed_through(tab, presses, is_plain=begun["plain"])
    missed = set(seen["all"]) - set(seen["order"])
    ended = begun["stops"] + 3 <= _MOST_PRESSES
    trapped = (
        await _trapped(tab, seen["order"], seen["active"], presses)
        if missed and ended and seen["active"] >= 0
        else ()
    )
    report = await tab.run("walk.js", ["report", None])
    truly = await _truly_unmarked(tab, report["unmarked"], runner)
    order = tuple(dict.fromkeys(seen["order"]))
    return Walk(
        order,
        trapped,
        tuple(sorted(truly)),
        tuple(sorted(report["unseen"])),
        ended and not trapped,
        tuple((index, by) for index, by in report["covered"] if by >= 0),
    )


async def _pressed_through(tab: Tab, presses: int, *, is_plain: bool) -> dict[str, Any]:
    """Return what took the focus while Tab was pressed. On a plain page Tab is pressed once and the
    focus then led on as Tab would, unless a script has it otherwise: keys cost many times as
    much."""
    if is_plain:
        await tab.press("Tab", 1)
        seen: dict[str, Any] | None = await tab.run("walk.js", ["through", presses])
        if seen is not None:
            return seen
    await tab.press("Tab", presses)
    pressed: dict[str, Any] = await tab.run("walk.js", ["where", None])
    return pressed


async def _truly_unmarked(tab: Tab, unmarked: list[tuple[int, str]], runner: Runner) -> list[int]:
    """Return those elements without a change of style whose pixels do not change either, with two
    tries of each kind.

    What is marked by something beside it (a label, a shadow of its parent) shows in the pixels
    alone.
    """
    tried: dict[str, list[bool]] = {}
    found: list[int] = []
    for index, kind in unmarked:
        verdicts = tried.setdefault(kind, [])
        if len(verdicts) < _TRIES_OF_A_KIND and sum(map(len, tried.values())) < _MOST_COMPARED:
            verdicts.append(await _shows_focus(tab, index, runner))
        if verdicts and not any(verdicts):
            found.append(index)
    return found


async def _trapped(tab: Tab, order: list[int], active: int, presses: int) -> tuple[int, ...]:
    """Return the elements that focus cannot leave by Tab, Shift+Tab or Escape; dialogs keep focus
    by right."""
    ring = set(order[-(presses // 2) :]) if len(order) >= presses else {active}
    ring.add(active)
    stops = await tab.run("walk.js", ["stops", sorted(ring)])
    for keys in (["Shift+Tab"] * (stops + 1), ["Escape", *["Tab"] * (stops + 1)]):
        for key in keys:
            await tab.press(key, 1)
            now = await tab.run("walk.js", ["where", None])
            if now["active"] not in ring:
                return ()
    inside = await tab.run("walk.js", ["dialogs", sorted(ring)])
    return () if all(inside) else tuple(sorted(ring))


async def _shows_focus(tab: Tab, index: int, runner: Runner) -> bool:
    """Tell whether the pixels around an element differ with and without focus.

    That they do not is said only if two looks agree, with the element at its place from beginning
    to end: a page that draws itself anew in between tells nothing.
    """
    alike = 0
    for _ in range(_MOST_LOOKS):
        x, y, width, height = before = await tab.run("walk.js", ["focus", index])
        if width < 1 or height < 1:
            await tab.run("walk.js", ["blur", None])
            return True
        clip = (
            max(0.0, x - 12),
            max(0.0, y - 12),
            min(width + 24, _WIDEST),
            min(height + 24, 2000.0),
        )
        focused = await shot(tab, clip)
        await tab.run("walk.js", ["blur", None])
        if await runner.run(differ, focused, await shot(tab, clip)):
            return True
        alike += await tab.run("walk.js", ["place", index]) == before
        if alike == _LOOKS_THAT_AGREE:
            return False
    return True
