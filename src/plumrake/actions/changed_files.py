"""Which files git says were changed."""

from __future__ import annotations

import subprocess
from pathlib import Path

_SECONDS = 30.0


class GitAway(RuntimeError):
    """Git cannot tell; the message says why."""


def changed_files(revision: str) -> frozenset[Path]:
    """Return the files of the working folder's repository that were changed or added since a
    revision, committed or not. Raises ``GitAway``."""
    if revision.startswith("-"):
        raise GitAway("a revision does not begin with a dash")
    root = Path(_git("rev-parse", "--show-toplevel").strip())
    changed = _git("diff", "--name-only", "--no-renames", "--diff-filter=d", "-z", revision, "--")
    added = _git("ls-files", "--others", "--exclude-standard", "--full-name", "-z", "--", ":/")
    names = [*changed.split("\0"), *added.split("\0")]
    return frozenset((root / name).resolve() for name in names if name)


def _git(*words: str) -> str:
    try:
        done = subprocess.run(
            ["git", *words], capture_output=True, text=True, timeout=_SECONDS, check=False
        )
    except (OSError, subprocess.TimeoutExpired) as error:
        raise GitAway(f"git does not run: {error}") from None
    if done.returncode:
        lines = done.stderr.strip().splitlines() or ["no reason"]
        raise GitAway(lines[-1])
    return done.stdout
