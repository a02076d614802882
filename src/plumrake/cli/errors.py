"""Exit statuses, and errors as one line on stderr: what, where, what to do."""

from __future__ import annotations

import sys
from enum import IntEnum
from typing import NoReturn

from plumrake.cli.terminal import echo


class Exit(IntEnum):
    """What the exit status says."""

    DONE = 0
    HELD = 1
    USAGE = 2
    UNREAD = 3
    REFUSED = 4


def fail(message: str, status: Exit) -> NoReturn:
    """Say what is wrong in one line on stderr and leave with ``status``."""
    echo(f"plumrake: {' '.join(message.split())}", err=True)
    sys.exit(status)


def notice(message: str) -> None:
    """Say on stderr what the user should know but need not act on."""
    echo(f"plumrake: {message}", err=True)
