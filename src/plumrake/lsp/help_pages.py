"""The checks' help as documents on this machine, so that an editor opens it without network."""

from __future__ import annotations

import os
import tempfile
from functools import cache
from pathlib import Path

from plumrake import __version__
from plumrake.core.registry import catalogue
from plumrake.reports.help_text import help_text


@cache
def help_page(check: str) -> str | None:
    """Return the address of a check's help page (a ``file:`` URI), or None where none can be
    written."""
    try:
        folder = _folder()
        file = folder / f"{check.replace('/', '-')}.md"
        known = catalogue()[check]
        text = f"# {known.title}\n\n{help_text(known)}\n"
        file.write_text(text, encoding="utf-8")
    except OSError:
        return None
    return file.as_uri()


@cache
def _folder() -> Path:
    """Return a folder of our own, for as long as the program runs and after."""
    name = f"plumrake-help-{__version__}-{os.geteuid()}"
    folder = Path(tempfile.gettempdir()) / name
    folder.mkdir(mode=0o700, exist_ok=True)
    known = folder.lstat()
    if known.st_uid != os.geteuid() or folder.is_symlink() or known.st_mode & 0o077:
        return Path(tempfile.mkdtemp(prefix="plumrake-help-"))
    return folder
