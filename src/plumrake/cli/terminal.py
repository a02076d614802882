"""Writing to a terminal: what strangers wrote reaches it as text, never as a command to it."""

from __future__ import annotations

import re
import sys

import click

_COMMANDS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069]")
"""Control characters but tab and line feed (ECMA-48), and marks that turn the direction of text."""


def printable(text: str) -> str:
    """Return a text in which every control character is a sign that shows it (␛ for Escape)."""
    return _COMMANDS.sub(lambda found: _sign(ord(found[0])), text)


def _sign(code: int) -> str:
    return chr(0x2400 + code) if code < 0x20 else "\u2421" if code == 0x7F else "\ufffd"


def echo(text: object = "", *, nl: bool = True, err: bool = False) -> None:
    """Write a line on stdout (or stderr), control characters shown as signs."""
    click.echo(printable(str(text)), nl=nl, err=err)


def echo_data(text: str) -> None:
    """Write a text for another program on stdout, byte for byte; to a terminal as ``echo`` does."""
    if sys.stdout.isatty():
        echo(text, nl=False)
    else:
        click.echo(text.encode("utf-8", "surrogateescape"), nl=False)
