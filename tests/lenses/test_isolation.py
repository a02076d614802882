"""A page cannot reach another reading, the machine, or the network: tried from inside pages, and as
the browser's own processes."""

from __future__ import annotations

import asyncio
import gzip
import io
import os
import signal
import subprocess
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import psutil
import pytest
from PIL import Image

from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.lenses.rendered import recognition
from plumrake.lenses.rendered.jail import Jail, find_browser
from plumrake.lenses.rendered.shots import shot
from plumrake.net.fetch import Limits
from plumrake.net.shared_files import SharedFiles
from tests.services import below, serve_in_thread

START = (
    "<!doctype html><html lang=en><title>Locks</title><main><h1>Locks</h1><p id=said></p></main>"
)
LEAVES = {
    "a window that stays": (
        "open('about:blank', 'w'); setInterval(() => { try { open('', 'w') } catch {} }, 5)"
    ),
    "a broadcast": (
        "const c = new BroadcastChannel('c'); setInterval(() => c.postMessage('left'), 5)"
    ),
    "storage": "localStorage.left = sessionStorage.left = 'left'",
    "a cookie": "document.cookie = 'left=left; max-age=9999'",
    "a database": (
        "indexedDB.open('left').onupgradeneeded = (e) => e.target.result.createObjectStore('s')"
    ),
    "a cache": "caches.open('left').then((c) => c.put('/left', new Response('left')))",
    "a service worker": "navigator.serviceWorker.register('/worker.js')",
    "a shared worker": "new SharedWorker('/shared.js')",
    "the window's name": "name = 'left'",
}
LOOKS = """<script>
const said = document.getElementById("said");
const say = (what) => { said.textContent += what + " "; };
try { if (opener) { say("opener"); } } catch {}
if (name) say("name");
if (document.cookie) say("cookie");
try { if (localStorage.left || sessionStorage.left) say("storage"); } catch {}
try { new BroadcastChannel("c").onmessage = () => say("broadcast"); } catch {}
(async () => {
  try { for (const one of await indexedDB.databases()) say("database " + one.name); } catch {}
  try { for (const one of await caches.keys()) say("cache " + one); } catch {}
  const workers = navigator.serviceWorker;
  try { for (const one of await workers.getRegistrations()) say("worker"); } catch {}
})();
</script><img src="/wait.png" alt="">"""


class Site(BaseHTTPRequestHandler):
    """A site on loopback: workers, a picture that takes a moment, a file that is different each
    time, and a note of what was asked."""

    asked: list[str]

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def do_GET(self) -> None:
        self.asked.append(self.path)
        kind, body = "text/html", START
        if self.path.endswith(".js"):
            kind, body = "text/javascript", "onconnect = () => 0; self.left = 1"
        elif self.path == "/style.css" or self.path == "/mine.css":
            kind, body = "text/css", f"h1::after {{ content: '{self.asked.count(self.path)}' }}"
        self.send_response(200)
        self.send_header("Content-Type", kind)
        if self.path == "/mine.css":
            self.send_header("Cache-Control", "private")
        else:
            self.send_header("Cache-Control", "max-age=3600")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body.encode())


@pytest.fixture
def site() -> Iterator[tuple[str, list[str]]]:
    """The origin of the site, and what it was asked."""
    asked: list[str] = []
    handler = type("Handler", (Site,), {"asked": asked})
    server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
    yield serve_in_thread(server), asked
    server.shutdown()


def text_of(obtained: Obtained, tag: str) -> str:
    """Return the words of the first element of a kind."""
    assert obtained.document is not None, obtained.problem
    return next(one for one in obtained.document.elements if one.tag == tag).text()


@pytest.mark.parametrize("left", LEAVES)
async def test_nothing_of_a_reading_is_met_by_the_next(
    site: tuple[str, list[str]], left: str
) -> None:
    """Whatever a page leaves behind or sets going is gone when the next page of the same site is
    read, also while both are open."""
    origin, _ = site
    sly = f"{START}<script>{LEAVES[left]}</script>".encode()
    async with PageReader("rendered", private_origins=[origin], tabs=1) as reader:
        await reader.read_html(sly, f"{origin}/")
        for _ in range(2):
            seen = await reader.read_html((START + LOOKS).encode(), f"{origin}/")
            assert text_of(seen, "p") == ""


async def test_no_window_is_opened(site: tuple[str, list[str]]) -> None:
    """By script, by a link or by a form: there is no window beside the page."""
    origin, asked = site
    page = f"""{START}<a id=a href="{origin}/by-link" target=_blank>x</a>
    <form id=f action="{origin}/by-form" target=other></form><script>
    said.textContent = String(open("{origin}/by-script"));
    a.click(); f.submit();</script><img src="/wait.png" alt="">"""
    async with PageReader("rendered", private_origins=[origin]) as reader:
        seen = await reader.read_html(page.encode(), f"{origin}/")
    assert text_of(seen, "p") == "null"
    assert not {"/by-link", "/by-form", "/by-script"} & set(asked)


async def test_a_sweep_shares_files_on_purpose(site: tuple[str, list[str]]) -> None:
    """A style sheet is asked for once in a sweep, one that is private for each page; another sweep,
    and a reading that is of none, ask again."""
    origin, asked = site
    page = START.replace(
        "<main>", "<link rel=stylesheet href=/style.css><link rel=stylesheet href=/mine.css><main>"
    )
    one, other = SharedFiles(), SharedFiles()
    async with PageReader("rendered", private_origins=[origin], tabs=1) as reader:

        async def styled(shared: SharedFiles | None) -> int:
            read = await reader.read_html(page.encode(), f"{origin}/", ReadOptions(shared=shared))
            assert read.problem is None
            return asked.count("/style.css")

        assert [await styled(shared) for shared in (one, one, one, other, None, None)] == [
            1,
            1,
            1,
            2,
            3,
            4,
        ]
    assert asked.count("/mine.css") == 6


async def test_what_the_browser_runs_as() -> None:
    """Its processes are another user's (where the worker is root), in a network and among processes
    of their own, with none of the worker's settings in their environment and none of its files."""
    os.environ["PLUMRAKE_DATABASE_OF_THIS_TEST"] = "secret"
    try:
        async with PageReader("rendered") as reader:
            await reader.read_html(START.encode(), "http://public.invalid/")
            own = {child.pid for child in psutil.Process().children(recursive=True)}
            browsers = [
                one
                for one in psutil.process_iter(["pid", "cmdline"])
                if one.pid in own
                and "--user-data-dir" in " ".join(one.info["cmdline"] or [])
                and "chrom" in (one.info["cmdline"] or [""])[0]
            ]
            assert browsers
            kind = Jail(find_browser() or "").kind
            for one in browsers:
                assert "PLUMRAKE" not in Path(f"/proc/{one.pid}/environ").read_bytes().decode()
                if os.geteuid() == 0:
                    assert one.uids().real != 0
                if kind.has_own_network:
                    networks = [Path(f"/proc/{n}/ns/net").readlink() for n in (one.pid, "self")]
                    assert networks[0] != networks[1]
                if kind.walls != "-":
                    root = Path(f"/proc/{one.pid}/root")
                    assert not (root / "home").exists()
                    assert not (root / "root").exists()
                    assert not (root / Path(__file__).relative_to("/")).exists()
    finally:
        del os.environ["PLUMRAKE_DATABASE_OF_THIS_TEST"]


def test_the_wrapper_is_not_the_browsers(tmp_path: Path) -> None:
    """The browser's user can neither change the wrapper nor look into its folder."""
    jail = Jail("/bin/true")
    try:
        assert jail.folder.stat().st_uid == os.geteuid()
        assert jail.folder.stat().st_mode & 0o077 == 0
        if jail.kind.user != "-":
            asked = ["setpriv", f"--reuid={jail.kind.user}", "--clear-groups", "--"]
            for words in (["ls", str(jail.folder)], ["cp", "/bin/true", jail.executable]):
                tried = subprocess.run([*asked, *words], capture_output=True, check=False, cwd="/")
                assert tried.returncode != 0
    finally:
        jail.close()


def inside(*words: str) -> subprocess.CompletedProcess[str]:
    """Run a program as the browser would be run, its walls and its user's, and return what it
    says."""
    jail = Jail("/bin/sh")
    try:
        return subprocess.run(
            [jail.executable, "-c", " ".join(words)],
            capture_output=True,
            text=True,
            check=False,
            timeout=30,
        )
    finally:
        jail.close()


def test_the_jail_has_the_machines_fonts() -> None:
    """What is measured in it is what anybody would see: the same fonts, chosen in the same way."""
    asked = "fc-match serif; fc-match monospace; fc-list | wc -l"
    outside = subprocess.run(["sh", "-c", asked], capture_output=True, text=True, check=True)
    assert inside(asked).stdout == outside.stdout


@pytest.mark.skipif(
    not Jail("/bin/true").kind.has_own_network, reason="no network of its own on this machine"
)
def test_the_browsers_user_reaches_nobody(postgres: str) -> None:
    """Not the database, not a service on loopback, no other address: there is no way but to the
    guard."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), Site)
    port = int(serve_in_thread(server).rpartition(":")[2])
    database = postgres.rpartition(":")[2].partition("/")[0]
    for host, number in (("127.0.0.1", port), ("127.0.0.1", database), ("1.1.1.1", 80)):
        tried = inside(f"timeout 5 bash -c 'exec 9<>/dev/tcp/{host}/{number}'")
        assert tried.returncode != 0, (host, number)
        assert "refused" in tried.stderr or "unreachable" in tried.stderr
    server.shutdown()


async def test_pages_of_archives_reach_no_network(
    site: tuple[str, list[str]], tmp_path: Path
) -> None:
    """By no frame, window or socket, also where the site's origin has leave."""
    origin, asked = site
    page = f"""{START}<iframe src="{origin}/frame"></iframe><img src="{origin}/img" alt="">
    <script>open("{origin}/window"); new WebSocket("{origin}/socket".replace("http", "ws"));
    fetch("{origin}/fetch", {{mode: "no-cors"}}).catch(() => 0)</script>"""
    (tmp_path / "a.html").write_text(page)
    async with PageReader("rendered", private_origins=[origin]) as reader:
        read = await reader.read_file(tmp_path / "a.html", tmp_path, "a.html")
        assert read.problem is None
    assert asked == []
    async with PageReader("rendered", private_origins=[origin], files_have_network=True) as reader:
        await reader.read_file(tmp_path / "a.html", tmp_path, "a.html")
    assert "/img" in asked


async def test_a_page_on_disk_sees_no_hidden_files(tmp_path: Path) -> None:
    """What a server of files would not give: hidden files and folders, what lies above, and what a
    link leads out to."""
    (tmp_path / "site/.git").mkdir(parents=True)
    (tmp_path / "site/.env").write_text("SECRET")
    (tmp_path / "site/.git/config").write_text("SECRET")
    (tmp_path / "above.txt").write_text("SECRET")
    (tmp_path / "site/link.txt").symlink_to(tmp_path / "above.txt")
    (tmp_path / "site/plain.txt").write_text("PLAIN")
    wanted = [".env", ".git/config", "../above.txt", "%2e%2e/above.txt", "link.txt", "plain.txt"]
    page = f"""{START}<script>for (const one of {wanted}) {{
      const asked = new XMLHttpRequest();
      asked.open("GET", one, false);
      try {{
        asked.send();
        said.textContent += asked.status === 200 ? asked.responseText : "-";
      }} catch {{ said.textContent += "!"; }}
    }}</script>"""
    file = tmp_path / "site/a.html"
    file.write_text(page)
    async with PageReader("rendered") as reader:
        read = await reader.read_file(file, tmp_path / "site", "a.html")
    assert text_of(read, "p") == "-----PLAIN"


async def test_a_page_whose_process_dies_is_read_once_more(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Also where the browser is just being asked for something: it never answers then, and nobody
    waits for it; the browser stays."""
    Image.new("RGB", (400, 120), "white").save(tmp_path / "a.png")
    (tmp_path / "a.html").write_text(f'{START}<img src="a.png" alt="A"><p id=said>Read</p>')
    shots: list[tuple[Any, ...]] = []

    async def shot_of_the_dead(*given: Any) -> bytes:
        shots.append(given)
        if len(shots) == 1:
            for number, words in below(os.getpid()).items():
                if "--type=renderer" in words:
                    os.kill(number, signal.SIGKILL)
        return await shot(*given)

    monkeypatch.setattr(recognition, "shot", shot_of_the_dead)
    async with PageReader("rendered") as reader:
        options = ReadOptions(words=True)
        reading = reader.read_file(tmp_path / "a.html", tmp_path, "a.html", options)
        read = await asyncio.wait_for(reading, 15)
    assert read.problem is None
    assert len(shots) > 1


async def test_bombs_among_the_files_of_a_page(tmp_path: Path) -> None:
    """A style sheet that unpacks to a hundred megabytes and a picture of four hundred million
    pixels: the page is a result inside its limits, and the next one is read."""
    sheet = gzip.compress(b" " * 10**8)
    drawn = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(drawn, "PNG")
    files = {"/bomb.css": ("text/css", sheet), "/bomb.png": ("image/png", drawn.getvalue())}

    class Bombs(BaseHTTPRequestHandler):
        def log_message(self, format: str, *args: Any) -> None:
            pass

        def do_GET(self) -> None:
            kind, body = files.get(self.path, ("text/html", b""))
            self.send_response(200)
            self.send_header("Content-Type", kind)
            if kind == "text/css":
                self.send_header("Content-Encoding", "gzip")
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

    server = ThreadingHTTPServer(("127.0.0.1", 0), Bombs)
    origin = serve_in_thread(server)
    page = START.replace("<main>", "<link rel=stylesheet href=/bomb.css><main><img src=/bomb.png>")
    async with PageReader("rendered", Limits(seconds=20), private_origins=[origin]) as reader:
        shared = ReadOptions(shared=SharedFiles())
        read = await reader.read_html(page.encode(), f"{origin}/", shared)
        assert read.problem is None or read.problem.code in ("script-endless", "browser-lost")
        after = await reader.read_html(START.encode(), f"{origin}/", shared)
    server.shutdown()
    assert text_of(after, "h1") == "Locks"
