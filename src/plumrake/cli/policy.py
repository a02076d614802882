"""The policy of a command: the file ``plumrake.toml``, with what the command line says over it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

from plumrake.cli.errors import Exit, fail
from plumrake.core.policy import BadPolicy, Policy
from plumrake.policy_files import nearest_policy_file, policy_in


def policy_for(targets: Iterable[str], file: Path | None, said: Mapping[str, Any]) -> Policy:
    """Return the policy of the file (given, or found upward from the first target) with what was
    ``said`` over it; else end with status 2.

    Values of ``said`` that are None or empty change nothing.
    """
    place = file or found_upward(targets)
    try:
        policy = policy_in(place) if place is not None else Policy()
    except BadPolicy as error:
        fail(str(error), Exit.USAGE)
    try:
        return policy.changed(**{name: value for name, value in said.items() if value})
    except BadPolicy as error:
        fail(str(error), Exit.USAGE)


def found_upward(targets: Iterable[str]) -> Path | None:
    """Return the nearest ``plumrake.toml`` in the first target's folder or above it; for addresses,
    from the working folder on."""
    first = next(iter(targets), "")
    start = Path.cwd() if "://" in first else Path(first).resolve()
    return nearest_policy_file(start)
