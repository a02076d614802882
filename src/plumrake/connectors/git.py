"""A git repository of files that a site is published or built from: corrections are commits on a
branch of their own, which whoever publishes merges. It lies on this machine, or on another that is
reached over http or https: then a bare copy is fetched before each look, and pushed after each
commit."""

from __future__ import annotations

import asyncio
import base64
import hashlib
import os
import stat
import tempfile
from collections.abc import Awaitable, Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from plumrake.connectors.folder import allowed_folder
from plumrake.connectors.page_files import CLAIMS, MARKDOWN, MOST_FRONT_LINES, file_of, is_markdown
from plumrake.connectors.source_item import (
    BadConnection,
    CannotWrite,
    SourceChanged,
    SourceItem,
)
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


@dataclass(frozen=True, slots=True)
class Remote:
    """A repository on another machine: its address, who signs in there and with what, and the proxy
    (host and port) that everything goes through, which refuses what may not be reached."""

    address: str
    user: str
    secret: str
    proxy: str

    @property
    def copy(self) -> Path:
        """Where its copy lies: in a folder that is ours alone, and may be lost at any time."""
        name = hashlib.sha256(f"{self.address}\n{self.user}".encode()).hexdigest()[:24]
        return Path(tempfile.gettempdir()) / f"plumrake-git-{os.geteuid()}" / name

    def settings(self) -> dict[str, str]:
        """Return the environment by which git reaches it; nothing of it stands on a command line,
        and no other kind of transport is let in."""
        given = {
            "http.proxy": self.proxy,
            "http.followRedirects": "false",
            "protocol.allow": "never",
            "protocol.http.allow": "always",
            "protocol.https.allow": "always",
            "fetch.fsckObjects": "true",
        }
        if self.secret:
            signed = base64.b64encode(f"{self.user}:{self.secret}".encode()).decode()
            given["http.extraHeader"] = f"Authorization: Basic {signed}"
        pairs = {"GIT_CONFIG_COUNT": str(len(given)), "no_proxy": "", "NO_PROXY": ""}
        for number, (key, value) in enumerate(given.items()):
            pairs |= {f"GIT_CONFIG_KEY_{number}": key, f"GIT_CONFIG_VALUE_{number}": value}
        return pairs


class GitConnector:
    """Reads a branch of a repository and commits to ``BRANCH``. The repository has to lie in one of
    the ``allowed`` folders, or is a ``remote`` one; pages are below ``within`` of it."""

    def __init__(
        self,
        repository: str,
        branch: str,
        within: str,
        allowed: Sequence[str],
        remote: Remote | None = None,
    ) -> None:
        self._remote = remote
        if remote is not None:
            self._root = remote.copy
        else:
            self._root = allowed_folder("repository", repository, allowed)
        self._branch = branch
        self._within = within.strip("/")

    async def read(self, path: str) -> SourceItem:
        """Return the file of a path as it stands with the corrections that are committed already.
        Raises ``Unreadable``."""
        try:
            await self._fetch()
            file = await self._file(await self._base(), path)
            body = await self._git("cat-file", "blob", file.blob)
            return SourceItem.of_file(body, file.blob, file.name)
        except (GitFailed, CannotWrite) as error:
            raise Unreadable("source-away", f"git: {error}") from None

    async def write(self, path: str, own: bytes, version: str, why: str, by: str) -> None:
        """Commit the file of a path to the branch of corrections. Raises ``SourceChanged``,
        ``CannotWrite``, ``Unreadable``."""
        try:
            await self._fetch()
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
            await self._fetch()
            if await self._commit_of(self._branch) is None:
                raise BadConnection(f"branch: the repository has no branch '{self._branch}'")
            base = await self._base()
            names = await _Commit(self._git, base, self._within).names()
            pages = sum(name.endswith((".html", ".htm")) for name in names)
            sources = sum(is_markdown(name) for name in names)
            ahead = await self._line("rev-list", "--count", f"{self._branch}..{base}")
        except (GitFailed, CannotWrite) as error:
            raise BadConnection(f"repository: {error}") from None
        return [
            f"the branch '{self._branch}' has {pages} HTML files"
            + (f" and {sources} of Markdown" if sources else ""),
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
        files = _Commit(self._git, commit, self._within)
        name = await file_of(path, files)
        file = await files.listed(name) if name is not None else None
        if file is None:
            raise Unreadable("file-missing", f"the repository has no file for {path}")
        return file

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
            if self._remote is not None:
                await self._git("push", "-q", "origin", f"refs/heads/{BRANCH}:refs/heads/{BRANCH}")
        except GitFailed:
            raise SourceChanged(f"'{BRANCH}' was moved meanwhile") from None

    async def _fetch(self) -> None:
        """Bring the copy of a remote repository up to date. Raises ``GitFailed``."""
        if self._remote is None:
            return
        self._root.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        known = self._root.parent.lstat()
        if not stat.S_ISDIR(known.st_mode) or known.st_uid != os.geteuid() or known.st_mode & 0o077:
            raise GitFailed(f"the folder of copies {self._root.parent} is not ours alone")
        if not (self._root / "HEAD").is_file():
            self._root.mkdir(mode=0o700, exist_ok=True)
            await self._git("init", "-q", "--bare")
            await self._git("remote", "add", "origin", self._remote.address)
        await self._git(
            *("fetch", "-q", "--prune", "--no-tags", "--no-write-fetch-head", "origin"),
            f"+refs/heads/{self._branch}:refs/heads/{self._branch}",
            "+refs/heads/plumrake/*:refs/heads/plumrake/*",
        )

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
        if self._remote is not None:
            environment |= self._remote.settings()
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


class _Commit:
    """The files of a commit by their names below the site's folder; ``git`` runs a command."""

    def __init__(self, git: Callable[..., Awaitable[bytes]], commit: str, within: str) -> None:
        self._git = git
        self._commit = commit
        self._within = f"{within}/" if within else ""

    async def listed(self, name: str) -> _File | None:
        """Return a file by its name, unless it is none or a link to one."""
        whole = f"{self._within}{name}"
        found = await self._git("ls-tree", "-z", "--full-tree", self._commit, "--", whole)
        head, _, listed = found.rstrip(b"\0").decode("utf-8", "replace").partition("\t")
        mode, _, rest = head.partition(" ")
        if listed != whole or mode not in _PLAIN_MODES:
            return None
        return _File(whole, mode, rest.partition(" ")[2])

    async def names(self) -> list[str]:
        """Return the names of all files."""
        found = await self._git("ls-tree", "-rz", "--full-tree", "--name-only", self._commit)
        names = found.decode("utf-8", "replace").split("\0")
        return [
            name.removeprefix(self._within)
            for name in names
            if name and name.startswith(self._within)
        ]

    async def has(self, name: str) -> bool:
        return await self.listed(name) is not None

    async def text(self, name: str, most: int) -> str | None:
        file = await self.listed(name)
        if file is None:
            return None
        body = await self._git("cat-file", "blob", file.blob)
        return body[:most].decode("utf-8", "replace")

    async def markdown(self) -> list[str]:
        return [name for name in await self.names() if is_markdown(name)]

    async def front_lines(self) -> dict[str, list[str]]:
        """As ``SiteFiles`` has it; git itself looks for the lines."""
        found: dict[str, list[str]] = {}
        ends = [f"{self._within}*{end}" for end in MARKDOWN]
        try:
            listed = await self._git(
                *("grep", "-n", "-z", "-I", "-E", "--full-name", f"^({'|'.join(CLAIMS)})"),
                *(self._commit, "--", *ends),
            )
        except GitFailed:  # what it also says where it finds none
            return {}
        for line in listed.decode("utf-8", "replace").splitlines():
            name, _, rest = line.partition("\0")
            number, _, text = rest.partition("\0")
            if number.isdigit() and int(number) <= MOST_FRONT_LINES:
                own = name.partition(":")[2].removeprefix(self._within)
                found.setdefault(own, []).append(text)
        return found
