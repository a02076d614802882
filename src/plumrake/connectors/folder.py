"""A folder of HTML files that a site is served from."""

from __future__ import annotations

import asyncio
from collections.abc import Sequence
from pathlib import Path
from urllib.parse import unquote

from plumrake.connectors.source_item import BadConnection, CannotWrite, SourceChanged, SourceItem
from plumrake.connectors.whole_files import write_whole
from plumrake.core.content_hash import hash_of
from plumrake.net.problems import Unreadable

_MOST_BYTES = 25_000_000
_INDEX = "index.html"


def allowed_folder(what: str, folder: str, allowed: Sequence[str]) -> Path:
    """Return a folder that whoever runs the service lets it use. Raises ``BadConnection``."""
    root = Path(folder).resolve()
    roots = [Path(one).resolve() for one in allowed]
    if not Path(folder).is_absolute() or not any(root.is_relative_to(one) for one in roots):
        raise BadConnection(
            f"{what}: '{folder}' lies in none of the folders that the service may use; whoever "
            "runs it names them in PLUMRAKE_SITE_FOLDERS"
        )
    return root


def file_names(path: str) -> list[str]:
    """Return what the file of a path may be called below a site's folder, the likeliest first; none
    for what is hidden, or leads out."""
    wanted = unquote(path.partition("?")[0]).lstrip("/")
    if any(part.startswith(".") for part in wanted.split("/")):
        return []
    base = wanted.rstrip("/")
    inside = f"{base}/{_INDEX}" if base else _INDEX
    return [inside] if not base or path.endswith("/") else [base, f"{base}.html", inside]


class FolderConnector:
    """Reads and writes files below ``folder``, which has to lie in one of ``allowed``: whoever runs
    the service says which folders it may write to, and nobody else."""

    def __init__(self, folder: str, allowed: Sequence[str]) -> None:
        self._root = allowed_folder("folder", folder, allowed)

    async def read(self, path: str) -> SourceItem:
        """Return the file of a path. Raises ``Unreadable``."""
        body = await asyncio.to_thread(self._body, self._file(path))
        return SourceItem.whole(body, hash_of(body))

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Write the file of a path whole or not at all. Raises ``SourceChanged``, ``CannotWrite``,
        ``Unreadable``."""
        await asyncio.to_thread(self._write, self._file(path), own, version)

    async def check(self) -> list[str]:
        """Return what works. Raises ``BadConnection``."""
        if not self._root.is_dir():
            raise BadConnection(f"folder: there is no folder '{self._root}'")
        home = self._root / _INDEX
        return [
            f"the folder {self._root} can be read",
            "its home page is there" if home.is_file() else f"it has no {_INDEX} of its own",
        ]

    def _file(self, path: str) -> Path:
        for name in file_names(path):
            file = (self._root / name).resolve()
            if file.is_relative_to(self._root) and file.is_file():
                return file
        raise Unreadable("file-missing", f"the folder has no file for {path}")

    @staticmethod
    def _body(file: Path) -> bytes:
        try:
            if file.stat().st_size > _MOST_BYTES:
                raise Unreadable("too-large", f"'{file}' has more than {_MOST_BYTES:,} bytes")
            return file.read_bytes()
        except OSError as error:
            raise Unreadable(
                "file-unreadable", f"'{file}' cannot be opened: {error.strerror}"
            ) from None

    def _write(self, file: Path, own: bytes, version: str) -> None:
        if hash_of(self._body(file)) != version:
            raise SourceChanged(f"'{file}' was changed meanwhile")
        try:
            write_whole(file, own)
        except OSError as error:
            raise CannotWrite(f"'{file}' cannot be written: {error.strerror}") from None
