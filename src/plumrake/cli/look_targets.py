"""The pages that ``plumrake look`` is to read: what its words, lists, sitemaps and standard input
stand for."""

from __future__ import annotations

import asyncio
import sys
from collections.abc import Sequence
from pathlib import Path

from plumrake.actions.changed_files import GitAway, changed_files
from plumrake.actions.look import (
    LookSettings,
    Target,
    content_target,
    is_sitemap,
    resolve_targets,
    sitemap_targets,
    state_targets,
)
from plumrake.cli.errors import Exit, fail
from plumrake.core.journeys import BadJourneys, parse_journeys, states_of
from plumrake.discovery.found import NoPages

_MOST_INPUT = 25_000_000


def lines_of(file: Path | None) -> list[str]:
    """Return what a list file names; lines that begin with # are remarks."""
    if file is None:
        return []
    try:
        lines = [line.strip() for line in file.read_text(encoding="utf-8").splitlines()]
    except (OSError, UnicodeDecodeError) as error:
        fail(f"the list '{file}' cannot be read: {error}", Exit.USAGE)
    return [line for line in lines if line and not line.startswith("#")]


def targets_of(words: Sequence[str]) -> list[Target]:
    """Return the pages that words stand for."""
    if not words:
        fail("say what to look at: files, folders, addresses, or - for standard input", Exit.USAGE)
    found: list[Target] = []
    for word in words:
        if word == "-":
            found.append(content_target(_standard_input()))
        elif is_sitemap(word):
            try:
                found += asyncio.run(sitemap_targets(word))
            except NoPages as error:
                fail(str(error), Exit.UNREAD)
        else:
            found += resolve_targets([word])
    return found


def _standard_input() -> bytes:
    content = sys.stdin.buffer.read(_MOST_INPUT + 1)
    if len(content) > _MOST_INPUT:
        fail(f"standard input has more than {_MOST_INPUT:,} bytes", Exit.UNREAD)
    return content


def without_unchanged(targets: list[Target], revision: str) -> list[Target]:
    """Return the targets without the files that git says are what they were at a revision."""
    try:
        changed = changed_files(revision)
    except GitAway as error:
        fail(f"--changed-since {revision}: {error}", Exit.USAGE)
    return [one for one in targets if one.file is None or one.file.resolve() in changed]


def states_in(file: Path, words: tuple[str, ...], settings: LookSettings) -> list[Target]:
    """Return the states that a file's journeys read at the first of the addresses; else end with
    status 2."""
    address = next((word for word in words if word.startswith(("http://", "https://"))), None)
    if address is None or settings.lens != "rendered":
        fail(
            (
                "journeys need a browser (--lens rendered) and an address to begin at, such as "
                "http://localhost:8000/"
            ),
            Exit.USAGE,
        )
    try:
        return state_targets(address, states_of(parse_journeys(file.read_text(encoding="utf-8"))))
    except (BadJourneys, UnicodeDecodeError, OSError) as error:
        fail(f"the journeys '{file}': {error}", Exit.USAGE)
