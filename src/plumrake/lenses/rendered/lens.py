"""The rendered lens: fetched HTML to a page with styles and boxes that a runner has open, and its
picture."""

from __future__ import annotations

import asyncio
import contextlib
import time
from collections.abc import Awaitable
from dataclasses import dataclass, replace
from typing import TypeVar

from playwright.async_api import Error

from plumrake.core.patterns import ALL_PARTS, Part
from plumrake.lenses.assessor import Assessor, Opened
from plumrake.lenses.read_options import ReadOptions, Tried
from plumrake.lenses.rendered.browser import BrowserPool, Tab, TabKind
from plumrake.lenses.rendered.drawing import TALLEST, draw
from plumrake.lenses.rendered.files import identify_pictures
from plumrake.lenses.rendered.journeys import follow
from plumrake.lenses.rendered.probing import take_pixels, try_layouts, walk
from plumrake.lenses.rendered.recognition import can_recognise, read_pictures
from plumrake.lenses.runners import Runner
from plumrake.net.fetch import Fetched, Limits
from plumrake.net.problems import Problem, Unreadable
from plumrake.net.proxy import GuardProxy
from plumrake.net.shared_files import SharedFiles, hash_of_data

Learnt = TypeVar("Learnt")

_LATE_SECONDS = 3
_TRIES = 3


@dataclass(frozen=True, slots=True)
class Rendered:
    """What a runner has a page open of, and the page's picture as JPEG where it was wanted; what
    was tried with it, where that may be taken from other pages."""

    opened: Opened
    picture: bytes | None
    tried: Tried | None = None


class RenderedLens:
    """A browser that pages are read in; use as an async context manager."""

    def __init__(self, proxy: GuardProxy, tabs: int) -> None:
        self._pool = BrowserPool(proxy, tabs)
        self.notice = self._pool.notice

    async def __aenter__(self) -> RenderedLens:
        await self._pool.__aenter__()
        return self

    async def __aexit__(self, *_: object) -> None:
        await self._pool.__aexit__()

    async def read(
        self, fetched: Fetched, address: str, limits: Limits, options: ReadOptions, runner: Runner
    ) -> Rendered:
        """Open the page in a runner as the browser shows it. Raises ``Unreadable``.

        A browser that dies is no fault of the page, so the page is tried again.
        """
        for attempt in range(_TRIES):
            try:
                return await _render(self._pool, fetched, address, limits, options, runner)
            except Unreadable as problem:
                if problem.code != "browser-lost" or attempt == _TRIES - 1:
                    raise
        raise AssertionError("the last try returns or raises")


async def _render(
    pool: BrowserPool,
    fetched: Fetched,
    address: str,
    limits: Limits,
    options: ReadOptions,
    runner: Runner,
) -> Rendered:
    html = await runner.do(
        Assessor.take_source, fetched.body, fetched.charset, is_fragment=fetched.is_fragment
    )
    async with pool.tab(TabKind(options.viewport, fetched.has_network, options.shared)) as tab:
        return await tab.unless_lost(_read_in(tab, fetched, html, address, limits, options, runner))


async def _read_in(
    tab: Tab,
    fetched: Fetched,
    html: bytes,
    address: str,
    limits: Limits,
    options: ReadOptions,
    runner: Runner,
) -> Rendered:
    shared = options.shared or SharedFiles()
    deadline = (
        time.monotonic() + limits.seconds
    )  # a page's time begins with its tab, not while it waits for one

    def left() -> float:
        return max(1.0, deadline - time.monotonic())

    await tab.load(fetched, html, limits.seconds / 2)
    if options.state is not None:
        shown = await follow(tab, options.state, fetched, left())
        if shown is not fetched:
            await runner.do(Assessor.take_source, shown.body, shown.charset)
    if options.wait_for is not None:
        await tab.wait_for(options.wait_for, left())
    with contextlib.suppress(Error, TimeoutError):
        await asyncio.wait_for(
            tab.run("wait_for_images.js", [None, _LATE_SECONDS * 1000]),
            min(left(), _LATE_SECONDS + 1),
        )
    answer = await tab.collect(left(), limits.elements)
    opened = await runner.do(Assessor.open_rendered, answer, address, limits.elements)
    if isinstance(opened, Problem):
        raise Unreadable(opened.code, opened.says)
    if options.drawn_as is not None:
        return Rendered(opened, await draw(tab, options.drawn_as, left()))
    with contextlib.suppress(Error, TimeoutError):
        async with asyncio.timeout(left()):
            images = await runner.do(Assessor.images)
            files = await identify_pictures(tab, images, shared)
            for index, key in (await runner.do(Assessor.picture_keys)).items():
                if index in files and hash_of_data(key) is None:
                    shared.remember(shared.hashes, key, files[index])
        await runner.do(Assessor.know_files, files)
    if (
        options.words and can_recognise()
        # before anything moves on the page; each picture has its own time, so a busy machine
        # changes no finding
    ):
        with contextlib.suppress(TimeoutError, Error):
            wanted = await runner.do(Assessor.pictures_to_read)
            await runner.do(Assessor.know_words, await read_pictures(tab, wanted, runner, shared))
    tried = await _probe(tab, opened.elements, options, max(left(), limits.seconds / 2), runner)
    down = await options.picture_down() if options.picture_down is not None else None
    picture = await tab.picture(left(), min(down, TALLEST)) if down is not None else None
    return Rendered(opened, picture, tried)


async def _probe(
    tab: Tab, elements: int, options: ReadOptions, seconds: float, runner: Runner
) -> Tried | None:
    """Learn what is wanted beside the document; what does not come in time stays untested. Return
    what was tried, where that may be taken from other pages."""
    tried: Tried | None = None
    end = time.monotonic() + seconds

    async def in_time(asking: Awaitable[Learnt]) -> Learnt:
        return await asyncio.wait_for(asking, max(0.0, end - time.monotonic()))

    with contextlib.suppress(TimeoutError, Error):
        doubt = await runner.do(Assessor.texts_in_doubt) if options.pixels else None
        shot, places = (
            await in_time(take_pixels(tab, doubt, tab.width)) if doubt is not None else (None, [])
        )
        await runner.do(Assessor.know_pixels, shot, doubt.top if doubt is not None else 0, places)
        at: str | None = None
        parts = wanted = (Part.NARROW | Part.TEXT if options.zoom else Part(0)) | (
            Part.KEYBOARD if options.keyboard else Part(0)
        )
        if options.stand_for is not None:
            patterns = await runner.do(Assessor.patterns, tab.drawn_in)
            stand = await options.stand_for(patterns)
            parts = wanted & (stand.but if stand is not None else ALL_PARTS)
            at = stand.at if stand is not None and parts != wanted else None
            tried = Tried(patterns, Part(0), {})  # what is not tried in time, nobody stands for
        if options.zoom:
            trials = await in_time(try_layouts(tab, elements, parts))
            await runner.do(Assessor.know_trials, trials)
        if Part.KEYBOARD in parts:
            await runner.do(Assessor.know_walk, await in_time(walk(tab, runner)))
        elif not options.keyboard:
            await runner.do(Assessor.know_walk, None)
        if tried is not None:
            done = await runner.do(Assessor.tried_parts)
            found = await runner.do(Assessor.found_at)
            tree = await runner.do(Assessor.tree)
            tried = replace(tried, parts=done, found=found, at=at, tree=tree)
    return tried
