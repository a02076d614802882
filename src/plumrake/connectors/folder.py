"""A folder of files that a site is served from, or built from."""

from __future__ import annotations

import asyncio
from collections.abc import Sequence
from itertools import islice
from pathlib import Path

from plumrake.connectors.page_files import CLAIMS, MARKDOWN, MOST_FRONT_LINES, file_of, is_hidden
from plumrake.connectors.source_item import (
    BadConnection,
    CannotWrite,
    SourceChanged,
    SourceItem,
)
from plumrake.connectors.whole_files import write_whole
from plumrake.core.content_hash import hash_of
from plumrake.net.problems import Unreadable

_MOST_BYTES = 25_000_000
_MOST_MARKDOWN = 20_000
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


class FolderConnector:
    """Reads and writes files below ``folder``, which has to lie in one of ``allowed``: whoever runs
    the service says which folders it may write to, and nobody else."""

    def __init__(self, folder: str, allowed: Sequence[str]) -> None:
        self._root = allowed_folder("folder", folder, allowed)

    async def read(self, path: str) -> SourceItem:
        """Return the file of a path. Raises ``Unreadable``."""
        file = await self._file(path)
        body = await asyncio.to_thread(self._body, file)
        return SourceItem.of_file(body, hash_of(body), file.relative_to(self._root).as_posix())

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Write the file of a path whole or not at all. Raises ``SourceChanged``, ``CannotWrite``,
        ``Unreadable``."""
        await asyncio.to_thread(self._write, await self._file(path), own, version)

    async def check(self) -> list[str]:
        """Return what works. Raises ``BadConnection``."""
        if not self._root.is_dir():
            raise BadConnection(f"folder: there is no folder '{self._root}'")
        home = self._root / _INDEX
        return [
            f"the folder {self._root} can be read",
            "its home page is there" if home.is_file() else f"it has no {_INDEX} of its own",
        ]

    async def _file(self, path: str) -> Path:
        name = await file_of(path, _Folder(self._root))
        if name is None:
            raise Unreadable("file-missing", f"the folder has no file for {path}")
        return (self._root / name).resolve()

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


class _Folder:
    """The files of a folder by their names."""

    def __init__(self, root: Path) -> None:
        self._root = root

    async def has(self, name: str) -> bool:
        file = (self._root / name).resolve()
        return file.is_relative_to(self._root) and file.is_file()

    async def text(self, name: str, most: int) -> str | None:
        if not await self.has(name):
            return None
        with (self._root / name).open(encoding="utf-8", errors="replace") as file:
            return file.read(most)

    async def markdown(self) -> list[str]:
        return await asyncio.to_thread(self._markdown)

    def _markdown(self) -> list[str]:
        found = (
            file.relative_to(self._root).as_posix()
            for file in self._root.rglob("*")
            if file.suffix.lower() in MARKDOWN and file.is_file() and not file.is_symlink()
        )
        return [*islice((name for name in found if not is_hidden(name)), _MOST_MARKDOWN)]

    async def front_lines(self) -> dict[str, list[str]]:
        return await asyncio.to_thread(self._front_lines)

    def _front_lines(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for name in self._markdown():
            with (self._root / name).open(encoding="utf-8", errors="replace") as file:
                lines = [file.readline(1000) for _ in range(MOST_FRONT_LINES)]
                found[name] = [line for line in lines if line.startswith(CLAIMS)]
        return found
