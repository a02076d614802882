"""A git repository of HTML files that a site is published from: corrections are commits on a branch
of their own, which whoever publishes merges."""

from __future__ import annotations

import asyncio
import os
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from plumrake.connectors.folder import allowed_folder, file_names
from plumrake.connectors.source_item import BadConnection, CannotWrite, SourceChanged, SourceItem
from plumrake.net.problems import Unreadable

BRANCH: Final = "plumrake/corrections"
"""The branch that corrections are committed to."""
_SECONDS = 30.0
_NOBODY = "0" * 40
_PLAIN_MODES = ("100644", "100755")
_SAFE = (
    *("-c", "core.hooksPath=/dev/null"),
    *("-c", "safe.directory=*"),
    *("-c", "core.fsmonitor=false"),
    *("-c", "gc.auto=0"),
)
_QUIET: Mapping[str, str] = {
    "GIT_CONFIG_NOSYSTEM": "1",
    "GIT_CONFIG_GLOBAL": "/dev/null",
    "GIT_TERMINAL_PROMPT": "0",
    "GIT_COMMITTER_NAME": "Plum Rake",
    "GIT_COMMITTER_EMAIL": "plumrake@localhost",
    "LC_ALL": "C",
}


class GitFailed(RuntimeError):
    """Git did not do what it was asked; the message is its own last line."""


@dataclass(frozen=True, slots=True)
class _File:
    """A file of a commit: its name in the repository, its mode, and the name of its content."""

    name: str
    mode: str
    blob: str


class GitConnector:
    """Reads a branch of a repository and commits to ``BRANCH``. The repository has to lie in one of
    the ``allowed`` folders; pages are below ``within`` of it."""

    def __init__(self, repository: str, branch: str, within: str, allowed: Sequence[str]) -> None:
        self._root = allowed_folder("repository", repository, allowed)
        self._branch = branch
        self._within = within.strip("/")

    async def read(self, path: str) -> SourceItem:
        """Return the file of a path as it stands with the corrections that are committed already.
        Raises ``Unreadable``."""
        try:
            file = await self._file(await self._base(), path)
            return SourceItem.whole(await self._git("cat-file", "blob", file.blob), file.blob)
        except (GitFailed, CannotWrite) as error:
            raise Unreadable("source-away", f"git: {error}") from None

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Commit the file of a path to the branch of corrections. Raises ``SourceChanged``,
        ``CannotWrite``, ``Unreadable``."""
        try:
            base = await self._base()
            file = await self._file(base, path)
            if file.blob != version:
                raise SourceChanged(f"'{file.name}' was changed meanwhile")
            tree = await self._tree(base, file, own)
            known = await self._commit_of(BRANCH) or _NOBODY
            message = f"Correct {file.name}\n\n{why}\n\nProposed by {by} in Plum Rake.\n"
            commit = await self._line(
                "commit-tree", tree, "-p", base, "-F", "-", given=message.encode(), author=by
            )
            await self._move(commit, known)
        except GitFailed as error:
            raise CannotWrite(f"git: {error}") from None

    async def check(self) -> list[str]:
        """Return what works. Raises ``BadConnection``."""
        try:
            if await self._commit_of(self._branch) is None:
                raise BadConnection(f"branch: the repository has no branch '{self._branch}'")
            base = await self._base()
            names = await self._git("ls-tree", "-r", "--name-only", base)
            pages = sum(name.endswith((b".html", b".htm")) for name in names.splitlines())
            ahead = await self._line("rev-list", "--count", f"{self._branch}..{base}")
        except (GitFailed, CannotWrite) as error:
            raise BadConnection(f"repository: {error}") from None
        return [
            f"the branch '{self._branch}' has {pages} HTML files",
            f"'{BRANCH}' has {ahead} commits that are not in it yet",
        ]

    async def _base(self) -> str:
        """Return the commit that corrections stand on: theirs, where it has all of the site's
        branch; the site's, where that has all of theirs; else both merged. Raises
        ``CannotWrite``."""
        published = await self._commit_of(self._branch)
        if published is None:
            raise GitFailed(f"the repository has no branch '{self._branch}'")
        ours = await self._commit_of(BRANCH)
        if ours is None or await self._has(published, ours):
            return published
        if await self._has(ours, published):
            return ours
        try:
            tree = await self._line("merge-tree", "--write-tree", ours, published)
        except GitFailed:
            raise CannotWrite(
                f"'{BRANCH}' and '{self._branch}' change the same lines, and git cannot merge "
                "them; merge them there"
            ) from None
        merged = await self._line(
            "commit-tree", tree, "-p", ours, "-p", published, "-m", f"Merge {self._branch}"
        )
        await self._move(merged, ours)
        return merged

    async def _commit_of(self, branch: str) -> str | None:
        try:
            return await self._line(
                "rev-parse", "--verify", "-q", f"refs/heads/{branch}^{{commit}}"
            )
        except GitFailed:
            return None

    async def _has(self, commit: str, ancestor: str) -> bool:
        return await self._line("merge-base", commit, ancestor) == ancestor

    async def _file(self, commit: str, path: str) -> _File:
        for name in file_names(path):
            whole = f"{self._within}/{name}" if self._within else name
            found = await self._git("ls-tree", "-z", "--full-tree", commit, "--", whole)
            head, _, listed = found.rstrip(b"\0").decode("utf-8", "replace").partition("\t")
            mode, _, rest = head.partition(" ")
            if listed == whole and mode in _PLAIN_MODES:
                return _File(whole, mode, rest.partition(" ")[2])
        raise Unreadable("file-missing", f"the repository has no file for {path}")

    async def _tree(self, base: str, file: _File, own: bytes) -> str:
        blob = await self._line("hash-object", "-w", "--stdin", given=own)
        with tempfile.TemporaryDirectory(prefix="plumrake-index-") as folder:
            index = str(Path(folder) / "index")
            await self._git("read-tree", base, index=index)
            entry = f"{file.mode},{blob},{file.name}"
            await self._git("update-index", "--cacheinfo", entry, index=index)
            return await self._line("write-tree", index=index)

    async def _move(self, commit: str, known: str) -> None:
        try:
            await self._git("update-ref", f"refs/heads/{BRANCH}", commit, known)
        except GitFailed:
            raise SourceChanged(f"'{BRANCH}' was moved meanwhile") from None

    async def _line(
        self, *words: str, given: bytes | None = None, author: str = "", index: str = ""
    ) -> str:
        out = await self._git(*words, given=given, author=author, index=index)
        return out.decode("utf-8", "replace").strip()

    async def _git(
        self, *words: str, given: bytes | None = None, author: str = "", index: str = ""
    ) -> bytes:
        """Return what git prints. Raises ``GitFailed``."""
        environment = {**_QUIET, "PATH": os.environ.get("PATH", os.defpath)}
        name = "".join(one for one in author if one.isprintable() and one not in "<>")
        environment |= {
            "GIT_AUTHOR_NAME": name or "Plum Rake",
            "GIT_AUTHOR_EMAIL": "plumrake@localhost",
        }
        if index:
            environment["GIT_INDEX_FILE"] = index
        process = await asyncio.create_subprocess_exec(
            "git",
            *_SAFE,
            "-C",
            str(self._root),
            *words,
            stdin=asyncio.subprocess.PIPE if given is not None else asyncio.subprocess.DEVNULL,
            stdout=asyncio.subprocess.PIPE,
            stderr=asyncio.subprocess.PIPE,
            env=environment,
        )
        try:
            out, err = await asyncio.wait_for(process.communicate(given), _SECONDS)
        except TimeoutError:
            process.kill()
            raise GitFailed(f"no answer within {_SECONDS:g} s") from None
        if process.returncode:
            lines = err.decode("utf-8", "replace").strip().splitlines() or ["no reason"]
            raise GitFailed(lines[-1])
        return out
