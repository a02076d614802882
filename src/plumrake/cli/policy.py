"""The policy of a command: the file ``plumrake.toml``, with what the command line says over it."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

from plumrake.cli.errors import Exit, fail
from plumrake.core.policy import BadPolicy, Policy, policy_from

FILE_NAME = "plumrake.toml"


def policy_for(targets: Iterable[str], file: Path | None, said: Mapping[str, Any]) -> Policy:
    """Return the policy of the file (given, or found upward from the first target) with what was
    ``said`` over it; else end with status 2.

    Values of ``said`` that are None or empty change nothing.
    """
    place = file or found_upward(targets)
    try:
        policy = (
            policy_from(tomllib.loads(place.read_text(encoding="utf-8")))
            if place is not None
            else Policy()
        )
    except (BadPolicy, tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        fail(f"the policy '{place}': {error}", Exit.USAGE)
    except OSError as error:
        fail(f"the policy '{place}' cannot be opened: {error.strerror}", Exit.USAGE)
    try:
        return policy.changed(**{name: value for name, value in said.items() if value})
    except BadPolicy as error:
        fail(str(error), Exit.USAGE)


def found_upward(targets: Iterable[str]) -> Path | None:
    """Return the nearest ``plumrake.toml`` in the first target's folder or above it; for addresses,
    from the working folder on."""
    first = next(iter(targets), "")
    start = Path.cwd() if "://" in first else Path(first).resolve()
    return next(
        (
            folder / FILE_NAME
            for folder in (start, *start.parents)
            if (folder / FILE_NAME).is_file()
        ),
        None,
    )
