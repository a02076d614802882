"""The policies that documents are read by: those of the nearest file above."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from plumrake.core.policy import BadPolicy, Policy
from plumrake.policy_files import nearest_policy_file, policy_in

_HOST = "http://text.invalid"
"""Nothing is ever asked of it: the texts are read as they are written."""
_MOST_BYTES = 2_000_000
_INDEX = re.compile(r"(?:^|(?<=/))index\.(?:html?|md|markdown)\Z")


def address_of(uri: str, root: str | None) -> str:
    """Return the address of the page that a document makes: its path below the folder of the
    nearest ``plumrake.toml``, or below the editor's ``root`` (a path); ``index.html`` is its
    folder. So places have the keys that a sweep of the site gives them."""
    found = _file_and_folder(uri, root)
    if found is None:
        return f"{_HOST}/"
    file, below = found
    place = file.relative_to(below) if file.is_relative_to(below) else Path(file.name)
    return f"{_HOST}/{_INDEX.sub('', quote(place.as_posix()))}"


def _file_and_folder(uri: str, root: str | None) -> tuple[Path, Path] | None:
    """Return a document's file and the folder that its site lies in."""
    parts = urlsplit(uri)
    if parts.scheme != "file":
        return None
    file = Path(unquote(parts.path))
    policy = nearest_policy_file(file.parent)
    return file, policy.parent if policy is not None else Path(root) if root else file.parent


class Elsewhere(LookupError):
    """What lies at an address is not among the site's files."""


class StyleFiles:
    """The style sheets of sites' folders, each read again when it has changed."""

    def __init__(self) -> None:
        self._known: dict[Path, tuple[float, str]] = {}

    def of(self, uri: str, root: str | None) -> Callable[[str], str | None]:
        """Return what gives the style sheet at an address of a document's site, None where there is
        none. It raises ``Elsewhere`` for the address of another site."""
        found = _file_and_folder(uri, root)

        def text(address: str) -> str | None:
            parts = urlsplit(address)
            if found is None or f"{parts.scheme}://{parts.netloc}" != _HOST:
                raise Elsewhere(address)
            below = found[1].resolve()
            file = (below / unquote(parts.path).lstrip("/")).resolve()
            return self._text(file) if file.is_relative_to(below) else None

        return text

    def _text(self, file: Path) -> str | None:
        try:
            about = file.stat()
            if about.st_size > _MOST_BYTES:
                raise Elsewhere(str(file))
            if self._known.get(file, (None,))[0] != about.st_mtime:
                self._known[file] = about.st_mtime, file.read_text("utf-8", "replace")
            return self._known[file][1]
        except OSError:
            return None


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
