"""The policies that documents are read by: those of the nearest file above."""

from __future__ import annotations

import contextlib
import tomllib
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final
from urllib.parse import unquote, urlsplit

from plumrake.core.policy import BadPolicy, Policy, policy_from

POLICY_FILE: Final = "plumrake.toml"


@dataclass(slots=True)
class Policies:
    """The policies of files, by the nearest ``plumrake.toml`` above; one that cannot be read is
    told once, and the default holds."""

    known: dict[Path, tuple[float, Policy]] = field(default_factory=dict)
    problems: list[str] = field(default_factory=list)

    def policy_of(self, uri: str) -> Policy:
        """Return the policy that a document is read by."""
        parts = urlsplit(uri)
        if parts.scheme != "file":
            return Policy()
        for folder in Path(unquote(parts.path)).parents:
            file = folder / POLICY_FILE
            with contextlib.suppress(OSError):
                changed = file.stat().st_mtime
                if self.known.get(file, (None,))[0] != changed:
                    self.known[file] = changed, self._read(file)
                return self.known[file][1]
        return Policy()

    def _read(self, file: Path) -> Policy:
        try:
            return policy_from(tomllib.loads(file.read_text(encoding="utf-8")))
        except (BadPolicy, tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
            self.problems.append(f"the policy '{file}': {error}")
            return Policy()
