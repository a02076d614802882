"""Looking at pages now, without a service: files, folders and addresses, through one reader."""

from __future__ import annotations

import asyncio
import contextlib
import os
from collections.abc import AsyncIterator, Iterable
from dataclasses import dataclass, field, replace
from pathlib import Path
from urllib.parse import urlsplit

from plumrake.actions.reading import PageResult, read_and_assess, read_options_of
from plumrake.core.addresses import origin
from plumrake.core.journeys import JourneyState
from plumrake.core.policy import Policy
from plumrake.core.registry import PageFacts
from plumrake.core.sitewide import assess_site
from plumrake.lenses.archives import ENDINGS, Archive
from plumrake.lenses.markup import decode
from plumrake.lenses.read_options import DrawnAs, ReadOptions
from plumrake.lenses.reader import Obtained, PageReader, html_files, is_markdown, read_body
from plumrake.lenses.runners import ProcessRunners, Runners, ThreadRunners
from plumrake.net.fetch import Limits
from plumrake.net.guard import Guard, origin_of
from plumrake.net.problems import Problem, Unreadable

_FEW_PAGES = 16
_IN_HAND = "standard input"
_NOWHERE = "http://standard-input.invalid/"
_SITE_ROOT_MARKS = ("robots.txt", "sitemap.xml", "index.html", "plumrake.toml")


@dataclass(frozen=True, slots=True)
class Target:
    """One page to look at: how it is shown, and where it is (an address, perhaps in an archive, or
    a file with the root of its site)."""

    shown_as: str
    address: str | None = None
    file: Path | None = None
    root: Path | None = None
    problem: Problem | None = None
    archive: Archive | None = None
    state: JourneyState | None = None
    content: bytes | None = None
    """The page itself, where it is in hand."""


@dataclass(frozen=True, slots=True)
class LookSettings:
    """How to look: lens, policy, limits, pages at once, and whether pages of local files may reach
    the network."""

    lens: str
    policy: Policy = field(default_factory=Policy)
    limits: Limits = field(default_factory=Limits)
    jobs: int | None = None
    files_have_network: bool = False

    @property
    def parallel(self) -> int:
        """How many pages are read at once: as asked for, else 2 in the browser and one per core
        without it."""
        return self.jobs or (2 if self.lens == "rendered" else os.cpu_count() or 2)


def resolve_targets(given: Iterable[str]) -> list[Target]:
    """Return the pages that the given words stand for, in their order; one that stands for none
    carries its problem."""
    return [target for word in given for target in _targets(word)]


def is_sitemap(word: str) -> bool:
    """Tell whether a word is the address of a sitemap, by its name."""
    path = urlsplit(word).path.lower()
    return word.startswith(("http://", "https://")) and path.endswith((".xml", ".xml.gz"))


async def sitemap_targets(address: str) -> list[Target]:
    """Return the pages that the sitemap at an address lists. Raises ``NoPages``."""
    from plumrake.discovery.sitemap import pages_of_sitemap  # files need no network

    home = origin(address)
    found = await pages_of_sitemap(home, Guard([home]), address)
    return [Target(home + one.path, address=home + one.path) for one in found]


def content_target(content: bytes) -> Target:
    """Return a page in hand: what came on standard input."""
    return Target(_IN_HAND, content=content)


def state_targets(address: str, states: Iterable[JourneyState]) -> list[Target]:
    """Return the states that journeys read on the site that an address belongs to."""
    home = origin(address)
    return [
        Target(home + state.path, address=home + state.begins_at, state=state) for state in states
    ]


def _targets(word: str) -> list[Target]:
    if word.startswith(("http://", "https://")):
        return [Target(word, address=word)]
    if "://" in word:
        return [
            Target(word, problem=Problem("bad-address", f"'{word}' is no http or https address"))
        ]
    path = Path(word)
    if path.is_dir():
        files = html_files(path)
        if not files:
            return [
                Target(
                    word,
                    problem=Problem(
                        "file-missing", f"the folder '{word}' holds no page (.html, .md)"
                    ),
                )
            ]
        return [Target(str(file), file=file, root=path) for file in files]
    if path.name.lower().endswith(ENDINGS):
        return _archived(path)
    if not path.exists():
        return [
            Target(word, problem=Problem("file-missing", f"there is no file or folder '{word}'"))
        ]
    return [Target(word, file=path, root=_site_root(path.resolve()))]


def _archived(path: Path) -> list[Target]:
    try:
        archive = Archive(path)
    except Unreadable as problem:
        return [Target(str(path), problem=problem.problem)]
    pages = [
        Target(archive.shown_as(address), address=address, archive=archive)
        for address in archive.pages
    ]
    return pages or [
        Target(
            str(path), problem=Problem("file-missing", f"the archive '{path}' holds no HTML page")
        )
    ]


def _site_root(file: Path) -> Path:
    """Return the folder that a lone file's site begins at: the topmost marked one above it within
    the working folder."""
    inside = [folder for folder in file.parents if folder.is_relative_to(Path.cwd())]
    marked = [
        folder for folder in inside if any((folder / mark).exists() for mark in _SITE_ROOT_MARKS)
    ]
    return marked[-1] if marked else (inside[-1] if inside else file.parent)


async def look(
    targets: list[Target], settings: LookSettings, notices: list[str] | None = None
) -> AsyncIterator[PageResult]:
    """Yield a result per target in the order of the targets, reading up to ``jobs`` at once;
    notices are added to the list."""
    origins = [
        origin(target.address)
        for target in targets
        if target.address is not None and target.archive is None
    ]
    valid = [one for one in origins if _is_origin(one)]
    async with (
        _runners_for(len(targets), settings) as runners,
        PageReader(
            settings.lens,
            settings.limits,
            private_origins=valid,
            tabs=settings.parallel,
            files_have_network=settings.files_have_network,
            runners=runners,
        ) as reader,
    ):
        if reader.notice and notices is not None:
            notices.append(reader.notice)
        turn = asyncio.Semaphore(settings.parallel)
        tasks = [asyncio.create_task(_one(reader, target, settings, turn)) for target in targets]
        try:
            for task in tasks:
                yield await task
        finally:
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)


@contextlib.asynccontextmanager
async def _runners_for(pages: int, settings: LookSettings) -> AsyncIterator[Runners]:
    """Lend who computes: threads for a few pages, for which starting processes takes longer than
    the pages do; a process for each page that is read at once for more."""
    if pages <= _FEW_PAGES or settings.parallel == 1:
        yield ThreadRunners()
        return
    processes = ProcessRunners(settings.parallel)
    try:
        yield processes
    finally:
        processes.close()


def _is_origin(address: str) -> bool:
    try:
        origin_of(address)
    except Unreadable:
        return False
    return True


async def view(target: Target, settings: LookSettings) -> Obtained:
    """Return one page with its meaning worked out, or the problem that kept it from being read."""
    async with _reader_of_one(target, settings) as reader:
        return await _read(reader, target, read_options_of(settings.policy))


async def drawn(
    target: Target, settings: LookSettings, kinds: Iterable[DrawnAs]
) -> dict[DrawnAs, Obtained]:
    """Return a page's pictures, each drawn in its own way; no more of them after one that could not
    be had."""
    pictures: dict[DrawnAs, Obtained] = {}
    async with _reader_of_one(target, settings) as reader:
        for kind in kinds:
            options = ReadOptions(wait_for=settings.policy.wait_for, drawn_as=kind)
            pictures[kind] = await _read(reader, target, options)
            if pictures[kind].problem is not None:
                break
    return pictures


def _reader_of_one(target: Target, settings: LookSettings) -> PageReader:
    origins = [target.address] if target.address is not None and _is_origin(target.address) else []
    return PageReader(settings.lens, settings.limits, private_origins=origins, tabs=1)


async def _read(reader: PageReader, target: Target, options: ReadOptions) -> Obtained:
    if target.problem is not None:
        return Obtained(address=target.shown_as, lens=reader.lens, problem=target.problem)
    if target.content is not None:
        return replace(
            await reader.read_html(target.content, _NOWHERE, options), address=target.shown_as
        )
    if target.archive is not None and target.address is not None:
        return await reader.read_archived(target.archive, target.address, target.shown_as, options)
    if target.address is not None:
        return replace(await reader.read_address(target.address, options), address=target.shown_as)
    assert target.file is not None
    assert target.root is not None
    return await reader.read_file(target.file, target.root, target.shown_as, options)


def with_site_findings(results: list[PageResult], policy: Policy) -> list[PageResult]:
    """Return the results with what shows only over all pages together (shared titles)."""
    known = [at for at, result in enumerate(results) if result.problem is None]
    found = assess_site([PageFacts(results[at].address, results[at].title) for at in known], policy)
    results = list(results)
    for number, extra in found.items():
        result = results[known[number]]
        findings = (*extra, *result.assessment.findings)
        results[known[number]] = replace(
            result, assessment=replace(result.assessment, findings=findings)
        )
    return results


async def _one(
    reader: PageReader, target: Target, settings: LookSettings, turn: asyncio.Semaphore
) -> PageResult:
    async def read(options: ReadOptions) -> Obtained:
        return await _read(reader, target, options)

    async with turn:
        result = await read_and_assess(read, settings.policy, reader.runners, state=target.state)
    if target.file is None or not is_markdown(target.file) or result.problem is not None:
        return result
    return await asyncio.to_thread(_in_markdown, target.file, result, settings.limits)


def _in_markdown(file: Path, result: PageResult, limits: Limits) -> PageResult:
    """Return a result with its findings at their places in the Markdown."""
    from plumrake.lenses.sources import open_source  # only where there is Markdown

    text = decode(read_body(file, limits.bytes), "utf-8")
    source = open_source(text, "", is_markdown=True)
    findings = tuple(source.placed(finding) for finding in result.assessment.findings)
    return replace(result, assessment=replace(result.assessment, findings=findings))
