"""The policy of a folder: the nearest ``plumrake.toml`` in it or above it."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Final

from plumrake.core.policy import BadPolicy, Policy, policy_from

POLICY_FILE: Final = "plumrake.toml"


def nearest_policy_file(folder: Path) -> Path | None:
    """Return the nearest policy in a folder or above it."""
    files = (above / POLICY_FILE for above in (folder, *folder.parents))
    return next((file for file in files if file.is_file()), None)


def policy_in(file: Path) -> Policy:
    """Return the policy of a file. Raises ``BadPolicy``, which names the file."""
    try:
        return policy_from(tomllib.loads(file.read_text(encoding="utf-8")))
    except (BadPolicy, tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise BadPolicy(f"the policy '{file}': {error}") from None
    except OSError as error:
        raise BadPolicy(f"the policy '{file}' cannot be opened: {error.strerror}") from None
