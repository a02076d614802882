"""What every kind of connection keeps: what is read is written back if it is still that, and
nothing else is touched."""

from __future__ import annotations

import asyncio
import contextlib
import os
import subprocess
import tempfile
from collections.abc import AsyncIterator, Awaitable, Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

import pytest

from plumrake.connectors.folder import FolderConnector
from plumrake.connectors.git import BRANCH, GitConnector, Remote
from plumrake.connectors.source_item import BadConnection, CannotWrite, Connector, SourceChanged
from plumrake.connectors.stand_in import StandInConnector
from plumrake.demo.cms import Trust as Pages
from plumrake.demo.cms import create_cms
from plumrake.net.client import guarded_client
from plumrake.net.guard import Guard
from plumrake.net.problems import Unreadable
from plumrake.net.proxy import GuardProxy
from tests.connectors.git_server import PASSWORD, USER, serve_git
from tests.services import serve_app

Answer = TypeVar("Answer")
SECRET = "between us"
BEFORE = '<!doctype html><html lang="en"><title>A</title><body><article class="text">\n'
OWN = '<p>Ünder the bridge.</p>\r\n<p><img src="/a.jpg"></p>\n'
AFTER = "</article></body></html>\n"
KINDS = ["folder", "git", "git over http", "stand-in"]


@dataclass
class Kept:
    """A site of one page whose sources a connector of some kind reads and writes."""

    kind: str
    folder: Path
    address: str

    @property
    def file(self) -> Path:
        return self.folder / "pages" / "a" / "index.html"

    @property
    def is_git(self) -> bool:
        return self.kind.startswith("git")

    def now(self) -> bytes:
        """Return the page as it stands in the source, corrections included."""
        if not self.is_git:
            return self.file.read_bytes()
        return git(self.folder, "show", f"{BRANCH}:pages/a/index.html")

    def change(self, content: bytes) -> None:
        """Change the page as somebody else does."""
        self.file.write_bytes(content)
        if self.is_git:
            git(self.folder, "commit", "-qam", "changed by hand")

    def ask(self, asking: Callable[[Connector], Awaitable[Answer]]) -> Answer:
        """Return what a connector that is opened for this answers."""

        async def work() -> Answer:
            async with self._opened() as connector:
                return await asking(connector)

        return asyncio.run(work())

    @contextlib.asynccontextmanager
    async def _opened(self) -> AsyncIterator[Connector]:
        if self.kind == "folder":
            yield FolderConnector(str(self.folder / "pages"), [str(self.folder)])
            return
        if self.kind == "git":
            yield GitConnector(str(self.folder), "main", "pages", [str(self.folder)])
            return
        if self.kind == "git over http":
            async with GuardProxy(Guard([self.address]), 1_000_000) as proxy:
                way = f"http://127.0.0.1:{await proxy.listen()}"
                remote = Remote(f"{self.address}/{self.folder.name}/.git", USER, PASSWORD, way)
                yield GitConnector("", "main", "pages", [], remote)
            return
        async with guarded_client(Guard([self.address])) as client:
            yield StandInConnector(client, self.address, SECRET)


def git(folder: Path, *words: str) -> bytes:
    """Return what git prints in a folder."""
    who = ("-c", "user.name=Somebody", "-c", "user.email=somebody@localhost")
    return subprocess.run(["git", *who, *words], cwd=folder, check=True, capture_output=True).stdout


@pytest.fixture(params=KINDS)
def kept(request: pytest.FixtureRequest, tmp_path: Path) -> Kept:
    """The page, as a file and behind the CMS."""
    file = tmp_path / "pages" / "a" / "index.html"
    file.parent.mkdir(parents=True)
    file.write_bytes((BEFORE + OWN + AFTER).encode())
    address = ""
    if request.param.startswith("git"):
        git(tmp_path, "init", "-q", "-b", "main")
        git(tmp_path, "add", "pages")
        git(tmp_path, "commit", "-qm", "the pages")
    if request.param == "git over http":
        address = serve_git(tmp_path.parent)
    if request.param == "stand-in":
        pages = Pages(tmp_path / "pages", tmp_path / "drafts", "", "a", corrections_secret=SECRET)
        address = serve_app(create_cms(pages))
    return Kept(request.param, tmp_path, address)


def test_what_is_read_is_the_page_with_its_own_part(kept: Kept) -> None:
    """Byte for byte, and the own part lies within it."""
    item = kept.ask(lambda connector: connector.read("/a/"))
    assert item.body == kept.file.read_bytes()
    own = item.body[item.own_start : item.own_end].decode()
    assert own == (f"\n{OWN}" if kept.kind == "stand-in" else BEFORE + OWN + AFTER)
    assert kept.ask(lambda connector: connector.read("/a/")) == item


def test_what_is_written_is_there_and_nothing_else_changed(kept: Kept) -> None:
    """And it has another version by then."""
    item = kept.ask(lambda connector: connector.read("/a/"))
    own = item.body[item.own_start : item.own_end].replace(b"<img", b'<img alt="B\xc3\xb6gen"')
    kept.ask(lambda connector: connector.write("/a/", own, item.version, "a text", "Ned"))
    after = (BEFORE + OWN + AFTER).replace("<img", '<img alt="Bögen"').encode()
    assert kept.now() == after
    assert kept.ask(lambda connector: connector.read("/a/")).version != item.version


def test_a_stale_version_is_refused_and_nothing_written(kept: Kept) -> None:
    """Whoever was first stands."""
    item = kept.ask(lambda connector: connector.read("/a/"))
    changed = kept.file.read_bytes().replace(b"bridge", b"arch")
    kept.change(changed)
    own = item.body[item.own_start : item.own_end]
    with pytest.raises(SourceChanged, match="changed meanwhile"):
        kept.ask(lambda connector: connector.write("/a/", own, item.version, "", "Ned"))
    assert kept.file.read_bytes() == changed


@pytest.mark.parametrize(
    "path", ["/b/", "/../secret.html", "/%2e%2e/secret.html", "/.hidden/", "/out/", "/a/nothing"]
)
def test_what_is_not_there_or_not_of_the_site_is_no_page(kept: Kept, path: str) -> None:
    """Other folders, hidden ones, and where a link leads out of the folder."""
    (kept.folder / "secret.html").write_text("a secret")
    hidden = kept.folder / "pages" / ".hidden"
    hidden.mkdir()
    (hidden / "index.html").write_text("hidden")
    (kept.folder / "elsewhere").mkdir()
    (kept.folder / "elsewhere" / "index.html").write_text("elsewhere")
    (kept.folder / "pages" / "out").symlink_to(kept.folder / "elsewhere")
    if kept.is_git:
        git(kept.folder, "add", "-A")
        git(kept.folder, "commit", "-qm", "what is none of the site's pages")
    with pytest.raises(Unreadable):
        kept.ask(lambda connector: connector.read(path))


def test_a_check_says_what_works(kept: Kept) -> None:
    """In plain sentences."""
    assert kept.ask(lambda connector: connector.check())


def test_a_folder_has_to_be_allowed_and_there(tmp_path: Path) -> None:
    """Whoever runs the service says which; a neighbour whose name begins alike is none of them."""
    for folder, allowed in (
        ("/etc", [str(tmp_path)]),
        (f"{tmp_path}-other", [str(tmp_path)]),
        (f"{tmp_path}/../x", [str(tmp_path)]),
        ("pages", [str(tmp_path)]),
        (str(tmp_path), []),
    ):
        with pytest.raises(BadConnection, match="lies in none of the folders"):
            FolderConnector(folder, allowed)
    gone = FolderConnector(f"{tmp_path}/gone", [str(tmp_path)])
    with pytest.raises(BadConnection, match="there is no folder"):
        asyncio.run(gone.check())


def test_a_file_that_cannot_be_written_says_so(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """And is as it was."""
    file = tmp_path / "index.html"
    file.write_text("a")
    monkeypatch.setattr(os, "access", lambda *_: False)  # the tests may be root, who may all
    connector = FolderConnector(str(tmp_path), [str(tmp_path)])
    item = asyncio.run(connector.read("/"))
    with pytest.raises(CannotWrite, match="cannot be written: Permission denied"):
        asyncio.run(connector.write("/", b"b", item.version, "", ""))
    assert file.read_text() == "a"


def test_a_cms_that_is_away_or_refuses_the_secret(tmp_path: Path) -> None:
    """One clear line each; no page of its is taken for something else."""

    async def read(address: str, secret: str) -> None:
        async with guarded_client(Guard([address])) as client:
            await StandInConnector(client, address, secret).read("/a/")

    with pytest.raises(Unreadable, match="does not answer"):
        asyncio.run(read("http://127.0.0.1:9", SECRET))
    address = serve_app(create_cms(Pages(tmp_path, tmp_path / "d", "", "a", "", SECRET)))
    with pytest.raises(Unreadable, match="the secret of corrections is not right"):
        asyncio.run(read(address, "a guess"))


def test_git_has_corrections_as_commits_of_their_authors(tmp_path: Path) -> None:
    """On a branch of their own, one upon the other, each touching one file; the site's branch and
    its files are left alone, and what comes there meanwhile is merged by git itself."""
    for name in ("a", "b"):
        (tmp_path / f"{name}.html").write_text(f"<p>one {name}</p>\n<p>two</p>\n<p>three</p>\n")
    git(tmp_path, "init", "-q", "-b", "main")
    git(tmp_path, "add", "-A")
    git(tmp_path, "commit", "-qm", "the pages")
    connector = GitConnector(str(tmp_path), "main", "", [str(tmp_path)])

    async def write(path: str, old: bytes, new: bytes, by: str) -> None:
        item = await connector.read(path)
        await connector.write(path, item.body.replace(old, new), item.version, "better", by)

    asyncio.run(write("/a", b"one a", b"first", "Ned <script>"))
    asyncio.run(write("/b.html", b"one b", b"second", "Imke"))
    log = git(tmp_path, "log", "--format=%an: %s", f"main..{BRANCH}").decode().splitlines()
    assert log == ["Imke: Correct b.html", "Ned script: Correct a.html"]
    assert "one a" in (tmp_path / "a.html").read_text()
    assert git(tmp_path, "status", "--porcelain") == b""
    (tmp_path / "a.html").write_text("<p>one a</p>\n<p>two</p>\n<p>drei</p>\n")
    git(tmp_path, "commit", "-qam", "German")
    merged = asyncio.run(connector.read("/a")).body
    assert merged == b"<p>first</p>\n<p>two</p>\n<p>drei</p>\n"
    (tmp_path / "a.html").write_text("<p>eins</p>\n<p>two</p>\n<p>drei</p>\n")
    git(tmp_path, "commit", "-qam", "the same line")
    with pytest.raises(Unreadable, match="git cannot merge them"):
        asyncio.run(connector.read("/a"))
    git(tmp_path, "merge", "-q", "-X", "ours", "-m", "taken over", BRANCH)
    assert asyncio.run(connector.read("/b")).body.startswith(b"<p>second")
    assert asyncio.run(connector.check()) == [
        "the branch 'main' has 2 HTML files",
        "'plumrake/corrections' has 0 commits that are not in it yet",
    ]


def test_git_that_is_no_repository_or_has_no_such_branch(tmp_path: Path) -> None:
    """One clear line."""
    connector = GitConnector(str(tmp_path), "main", "", [str(tmp_path)])
    with pytest.raises(BadConnection, match="branch: the repository has no branch 'main'"):
        asyncio.run(connector.check())
    with pytest.raises(Unreadable, match="no branch 'main'"):
        asyncio.run(connector.read("/"))
    git(tmp_path, "init", "-q", "-b", "main")
    git(tmp_path, "commit", "-q", "--allow-empty", "-m", "nothing yet")
    assert asyncio.run(connector.check())[0] == "the branch 'main' has 0 HTML files"


def test_a_remote_repository_keeps_what_others_push(tmp_path: Path) -> None:
    """Corrections are pushed at once; what others push meanwhile is fetched and merged; a wrong
    password and an address that may not be reached are one clear line."""
    (tmp_path / "a.html").write_text("<p>one</p>\n<p>two</p>\n<p>three</p>\n")
    git(tmp_path, "init", "-q", "-b", "main")
    git(tmp_path, "add", "-A")
    git(tmp_path, "commit", "-qm", "the page")
    address = serve_git(tmp_path.parent)
    where = f"{address}/{tmp_path.name}/.git"

    async def work(allowed: list[str], password: str) -> bytes:
        async with GuardProxy(Guard(allowed), 1_000_000) as proxy:
            remote = Remote(where, USER, password, f"http://127.0.0.1:{await proxy.listen()}")
            connector = GitConnector("", "main", "", [], remote)
            item = await connector.read("/a")
            mended = item.body.replace(b"one", b"first")
            await connector.write("/a", mended, item.version, "better", "Ned")
            (tmp_path / "a.html").write_text("<p>one</p>\n<p>two</p>\n<p>drei</p>\n")
            git(tmp_path, "commit", "-qam", "German")
            return (await connector.read("/a")).body

    assert asyncio.run(work([address], PASSWORD)) == b"<p>first</p>\n<p>two</p>\n<p>drei</p>\n"
    log = git(tmp_path, "log", "-1", "--no-merges", "--format=%an", f"main..{BRANCH}")
    assert log == b"Ned\n"
    with pytest.raises(Unreadable, match="git: "):
        asyncio.run(work([address], "a guess"))
    with pytest.raises(Unreadable, match="git: "):
        asyncio.run(work([], PASSWORD))


def test_copies_lie_where_nobody_else_gets_to(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A folder that others may write into, or that is none, holds no copy."""
    monkeypatch.setattr(tempfile, "tempdir", str(tmp_path))
    remote = Remote("http://127.0.0.1:9/site.git", "", "", "http://127.0.0.1:9")
    folder = remote.copy.parent
    folder.mkdir(mode=0o755)
    connector = GitConnector("", "main", "", [], remote)
    with pytest.raises(BadConnection, match="is not ours alone"):
        asyncio.run(connector.check())
    folder.rmdir()
    (tmp_path / "elsewhere").mkdir(mode=0o700)
    folder.symlink_to(tmp_path / "elsewhere")
    with pytest.raises(Unreadable, match="is not ours alone"):
        asyncio.run(connector.read("/a"))
