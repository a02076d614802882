"""``plumrake check``: what this machine has for reading pages, and what it lacks."""

from __future__ import annotations

import sys

import click

from plumrake.cli.errors import Exit
from plumrake.cli.terminal import echo
from plumrake.lenses.rendered.jail import NONE, find_browser, kind_of
from plumrake.spelling.dictionaries import DictionaryUnreadable, installed, lexicon


@click.command("check")
def check_command() -> None:
    """Say what this machine has for reading pages, and what it lacks: the browser and how it is
    kept apart, dictionaries, the reading of words in pictures.

    Exit status: 0 nothing is missing, 3 something is.
    """
    lacks: list[str] = []
    for name, has, lack in (_browser(), _dictionaries(), _recognition()):
        echo(f"{name:<20}{has}")
        lacks += [f"{name}: {lack}"] if lack else []
    for lack in lacks:
        echo(f"plumrake: {lack}", err=True)
    sys.exit(Exit.UNREAD if lacks else Exit.DONE)


def _browser() -> tuple[str, str, str]:
    browser = find_browser()
    if browser is None:
        lack = "none was found; install 'chromium-headless-shell' or set PLUMRAKE_BROWSER"
        return "browser", "none: pages are read from their markup alone", lack
    kind = kind_of(browser)
    kept = [
        f"user {kind.user}" if kind.user != NONE else "the user of this command",
        "a network of its own" if kind.has_own_network else "the machine's network",
        "walls by bubblewrap" if kind.walls != NONE else "the machine's files",
        "Chromium's sandbox" if kind.has_sandbox else "no sandbox",
    ]
    return "browser", f"{browser} ({', '.join(kept)})", kind.notice.removeprefix("the browser is ")


def _dictionaries() -> tuple[str, str, str]:
    names = sorted(installed())
    if not names:
        return "dictionaries", "none", "none is installed; 'hunspell-en-gb' is Debian's for English"
    try:
        known = lexicon(names[0].replace("_", "-"))
        if known is not None:
            known.knows("word")
    except DictionaryUnreadable as problem:
        return "dictionaries", ", ".join(names), str(problem)
    return "dictionaries", ", ".join(names), ""


def _recognition() -> tuple[str, str, str]:
    from plumrake.lenses.rendered.recognition import can_recognise

    if can_recognise():
        return "words in pictures", "Tesseract", ""
    lack = "install 'tesseract-ocr', and pytesseract beside plumrake"
    return "words in pictures", "not read", lack
