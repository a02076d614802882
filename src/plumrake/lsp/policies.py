"""The policies that documents are read by: those of the nearest file above."""

from __future__ import annotations

import contextlib
import re
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from plumrake.core.policy import BadPolicy, Policy
from plumrake.policy_files import nearest_policy_file, policy_in

_HOST = "http://text.invalid"
"""Nothing is ever asked of it: the texts are read as they are written."""
_INDEX = re.compile(r"(?:^|(?<=/))index\.(?:html?|md|markdown)\Z")


def address_of(uri: str, root: str | None) -> str:
    """Return the address of the page that a document makes: its path below the folder of the
    nearest ``plumrake.toml``, or below the editor's ``root`` (a path); ``index.html`` is its
    folder. So places have the keys that a sweep of the site gives them."""
    parts = urlsplit(uri)
    if parts.scheme != "file":
        return f"{_HOST}/"
    file = Path(unquote(parts.path))
    policy = nearest_policy_file(file.parent)
    below = policy.parent if policy is not None else Path(root) if root else file.parent
    place = file.relative_to(below) if file.is_relative_to(below) else Path(file.name)
    return f"{_HOST}/{_INDEX.sub('', quote(place.as_posix()))}"


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
        file = nearest_policy_file(Path(unquote(parts.path)).parent)
        if file is None:
            return Policy()
        with contextlib.suppress(OSError):
            changed = file.stat().st_mtime
            if self.known.get(file, (None,))[0] != changed:
                self.known[file] = changed, self._read(file)
            return self.known[file][1]
        return Policy()

    def _read(self, file: Path) -> Policy:
        try:
            return policy_in(file)
        except BadPolicy as error:
            self.problems.append(str(error))
            return Policy()
