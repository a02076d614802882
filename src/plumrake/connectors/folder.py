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


class FolderConnector:
    """Reads and writes files below ``folder``, which has to lie in one of ``allowed``: whoever runs
    the service says which folders it may write to, and nobody else."""

    def __init__(self, folder: str, allowed: Sequence[str]) -> None:
        self._root = Path(folder).resolve()
        roots = [Path(one).resolve() for one in allowed]
        if not Path(folder).is_absolute() or not any(
            self._root == one or self._root.is_relative_to(one) for one in roots
        ):
            raise BadConnection(
                f"folder: '{folder}' lies in none of the folders that the service may use; whoever "
                "runs it names them in PLUMRAKE_SITE_FOLDERS"
            )

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
        wanted = unquote(path.partition("?")[0]).lstrip("/")
        base = self._root / wanted
        choices = (
            [base / _INDEX]
            if path.endswith("/")
            else [base, base.with_name(f"{base.name}.html"), base / _INDEX]
        )
        for choice in choices:
            file = choice.resolve()
            hidden = any(part.startswith(".") for part in Path(wanted).parts)
            if file.is_relative_to(self._root) and file.is_file() and not hidden:
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
