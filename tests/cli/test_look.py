"""``plumrake look``, ``colours`` and ``checks`` as processes: what is printed where, and the exit
status."""

import json
import os
import re
import subprocess
import sys
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

import pytest

from plumrake.core.registry import catalogue
from tests.services import serve_in_thread

FAULTY = (
    "<!doctype html>\n<html "
    'lang="en"><title>Moorings</title><main><h1>Moorings</h1>\n<p><img src="a.jpg"> <a '
    'href="/x">click here</a></p></main>'
)
FINE = (
    '<!doctype html><html lang="en"><title>Fine</title><main><h1>Fine</h1><p>All is '
    "well.</p></main>"
)


def plumrake(*words: str, cwd: Path, **environment: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "plumrake", *words]
    return subprocess.run(
        command,
        cwd=cwd,
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
        env={**os.environ, **environment},
    )


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / "faulty.html").write_text(FAULTY)
    (tmp_path / "fine.html").write_text(FINE)
    return tmp_path


def test_json_has_the_documented_shape(folder: Path) -> None:
    """Every field of interfaces.md, with its type."""
    done = plumrake("look", "faulty.html", "--as", "json", cwd=folder)
    result = json.loads(done.stdout)
    assert set(result) == {
        "plumrake",
        "standard",
        "level",
        "started",
        "seconds",
        "pages",
        "summary",
    }
    page = result["pages"][0]
    assert (page["address"], page["lens"], page["title"], page["language"], page["status"]) == (
        "faulty.html",
        "rendered",
        "Moorings",
        "en",
        "read",
    )
    assert page["problem"] is None
    assert page["content_hash"].startswith("sha256:")
    picture = next(one for one in page["findings"] if one["check"] == "pictures/no-text")
    assert picture["selector"] == "main > p > img"
    assert (picture["line"], picture["column"]) == (3, 4)
    assert picture["criteria"] == ["1.1.1"]
    assert len(picture["box"]) == 4
    assert picture["mends"][0]["kind"] == "set-attribute"
    assert picture["excerpt"] == '<img src="a.jpg">'
    assert result["summary"]["by_check"] == {"links/vague": 1, "pictures/no-text": 1}
    assert done.returncode == 1


def test_text_is_for_a_person(folder: Path) -> None:
    """The worst first, the place, the fact, the mend, a summary that counts."""
    done = plumrake("look", ".", "--lens", "markup", cwd=folder)
    assert done.stdout.index("has no text alternative") < done.stdout.index(
        "does not say that it leads to /x"
    )
    assert "line 3, main > p > img" in done.stdout
    assert "→ Write what the picture tells the reader here." in done.stdout
    assert "2 pages read, 1 ready to publish." in done.stdout
    assert "Found: 1 barrier, 1 obstacle." in done.stdout
    assert "contrast/text" in done.stdout.partition("Not tested")[2]


@pytest.mark.parametrize(
    ("words", "status"),
    [
        (("fine.html",), 0),
        (("faulty.html",), 1),
        (("faulty.html", "--hold", "none"), 0),
        (("faulty.html", "--only", "headings"), 0),
        (("faulty.html", "--without", "pictures", "--hold", "barrier"), 0),
        (("faulty.html", "--only", "links/vague"), 1),
        (("gone.html",), 3),
        (("fine.html", "http://no-such-host.invalid/"), 3),
        (("fine.html", "--only", "colours"), 2),
        (("fine.html", "--level", "b"), 2),
        (("fine.html", "--standard", "wcag3"), 2),
        (("fine.html", "--as", "poem"), 2),
        (("fine.html", "--out", "no/such/folder/report.txt"), 2),
        ((), 2),
    ],
)
def test_exit_status(folder: Path, words: tuple[str, ...], status: int) -> None:
    """0 nothing holds, 1 something does, 2 wrong usage, 3 not read; an error is one line on
    stderr."""
    done = plumrake("look", *words, "--lens", "markup", cwd=folder)
    assert done.returncode == status
    if status >= 2:
        assert done.stderr.startswith("plumrake: ")
        assert done.stderr.count("\n") == 1
    else:  # on a busy machine it says how far it is
        assert re.fullmatch(r"(plumrake: read \d+ of \d+ pages\n)*", done.stderr)


def test_what_was_read_is_still_reported(folder: Path) -> None:
    """One page that cannot be read does not lose the others."""
    done = plumrake(
        "look", "faulty.html", "gone.html", "--as", "json", "--lens", "markup", cwd=folder
    )
    pages = json.loads(done.stdout)["pages"]
    assert [page["status"] for page in pages] == ["read", "unreadable"]
    assert pages[1]["problem"]["code"] == "file-missing"
    assert pages[0]["findings"]


def test_report_goes_to_a_file(folder: Path) -> None:
    """``--out`` writes the report and leaves standard output empty."""
    done = plumrake(
        "look", "fine.html", "--as", "json", "--out", "report.json", "--lens", "markup", cwd=folder
    )
    assert done.stdout == ""
    assert json.loads((folder / "report.json").read_text())["summary"]["ready"] == 1


def test_a_page_sees_only_its_own_folder(folder: Path) -> None:
    """A local page cannot read files outside its site's folder, by path or by link."""
    (folder / "site").mkdir()
    secret = folder / "secret.css"
    secret.write_text("h1 { color: #eeeeee }")
    (folder / "site" / "link.css").symlink_to(secret)
    sheets = '<link rel="stylesheet" href="/../secret.css"><link rel="stylesheet" href="link.css">'
    (folder / "site" / "page.html").write_text(FINE.replace("<main>", f"{sheets}<main>"))
    assert plumrake("look", "site", "--only", "contrast", cwd=folder).returncode == 0
    (folder / "site" / "own.css").write_text(secret.read_text())
    (folder / "site" / "page.html").write_text(
        FINE.replace("<main>", '<link rel="stylesheet" href="/own.css"><main>')
    )
    assert plumrake("look", "site", "--only", "contrast", cwd=folder).returncode == 1


def test_no_browser_is_said(folder: Path) -> None:
    """Without a browser the markup is read with a notice; asking for the rendered lens fails
    plainly."""
    done = plumrake("look", "fine.html", cwd=folder, PLUMRAKE_BROWSER="/nowhere")
    assert done.returncode == 0
    assert "only the markup is read" in done.stderr
    done = plumrake(
        "look", "fine.html", "--lens", "rendered", cwd=folder, PLUMRAKE_BROWSER="/nowhere"
    )
    assert done.returncode == 3
    assert "no headless Chromium" in done.stderr


def test_wait_for(folder: Path) -> None:
    """The rendered lens waits for an element that a script brings, and says so when it never
    comes."""
    script = (
        "<script>setTimeout(() => { document.querySelector('main').innerHTML += '<a href=/x "
        "id=late></a>' }, 300)</script>"
    )
    (folder / "late.html").write_text(FINE + script)
    assert plumrake("look", "late.html", "--wait-for", "#late", cwd=folder).returncode == 1


def test_colours(folder: Path) -> None:
    """Ratio cut to two decimals, what passes, and the nearest colours that do."""
    done = plumrake("colours", "#777", "#fff", cwd=folder)
    assert "#777777 on #ffffff: 4.47:1" in done.stdout
    assert "#767676 (4.54:1)" in done.stdout
    done = plumrake("colours", "mauve-ish", "#fff", cwd=folder)
    assert done.returncode == 2
    assert "'mauve-ish' is not a colour" in done.stderr


def test_checks(folder: Path) -> None:
    """The catalogue lists every check; one's page has its sections; an unknown one is refused."""
    done = plumrake("checks", cwd=folder)
    assert [line.split()[0] for line in done.stdout.splitlines()] == list(catalogue())
    assert "Who is hindered" in plumrake("checks", "links/vague", cwd=folder).stdout
    assert plumrake("checks", "links/colour", cwd=folder).returncode == 2


def test_what_is_no_page_is_said(folder: Path) -> None:
    """A picture given by mistake is not taken for a page; an archive that is none is told with what
    is wrong with it."""
    for name, says in (("photo.html", "no HTML page"), ("site.zip", "no archive that can be read")):
        (folder / name).write_bytes(b"PK\x03\x04\0\0\0\0")
        done = plumrake("look", name, "--lens", "markup", cwd=folder)
        assert done.returncode == 3
        assert says in done.stderr


def test_the_wheel_carries_the_console(tmp_path: Path) -> None:
    """The built wheel holds console, SQL, word lists and templates, and no case files."""
    import zipfile

    root = Path(__file__).parents[2]
    command = [
        sys.executable,
        "-m",
        "build",
        "--wheel",
        "--no-isolation",
        "--outdir",
        str(tmp_path),
        str(root),
    ]
    subprocess.run(command, check=True, capture_output=True)
    names = zipfile.ZipFile(next(tmp_path.glob("*.whl"))).namelist()
    wanted = [
        "service/console/index.html",
        "records/sweeps.sql",
        "records/migrations/0002.start.sql",
        "core/words/vague_links.toml",
    ]
    assert [
        name
        for name in [*wanted, "demo/templates/base.html", "lenses/rendered/collector.js"]
        if f"plumrake/{name}" not in names
    ] == []
    assert [name for name in names if name.endswith(".cases.html")] == []


def test_policy_is_found_upward(folder: Path) -> None:
    """``plumrake.toml`` above the target counts; what the command line says goes before it; a
    broken one is told by name."""
    inner = folder / "deep" / "down"
    inner.mkdir(parents=True)
    (inner / "a.html").write_text(
        "<!doctype html><html lang=en><title>Locks</title><main><h1>Locks</h1><a "
        "href=/x>here</a><img src=x.jpg></main>"
    )
    (folder / "plumrake.toml").write_text('only = ["links"]\n')
    checks = [
        one["check"]
        for one in json.loads(
            plumrake("look", str(inner), "--lens", "markup", "--as", "json", cwd=folder).stdout
        )["pages"][0]["findings"]
    ]
    assert checks == ["links/vague"]
    said = plumrake(
        "look", str(inner), "--lens", "markup", "--as", "json", "--only", "pictures", cwd=folder
    )
    assert [one["check"] for one in json.loads(said.stdout)["pages"][0]["findings"]] == [
        "pictures/no-text"
    ]
    (folder / "plumrake.toml").write_text("only = links\n")
    broken = plumrake("look", str(inner), "--lens", "markup", cwd=folder)
    assert broken.returncode == 2
    assert "plumrake.toml" in broken.stderr


def test_many_files_are_read_by_several_processes(folder: Path) -> None:
    """The markup lens on a folder gives the same report, in the same order, whatever the number of
    processes."""
    many = folder / "many"
    many.mkdir()
    for number in range(40):
        (many / f"{number:02}.html").write_text(
            f"<!doctype html><html lang=en><title>Lock {number}</title><main><h1>Lock "
            f"{number}</h1><a href=/x>here</a></main>"
        )
    one, several = (
        json.loads(
            plumrake(
                "look", str(many), "--lens", "markup", "--as", "json", "--jobs", jobs, cwd=folder
            ).stdout
        )["pages"]
        for jobs in ("1", "3")
    )
    assert one == several
    assert [page["address"].rpartition("/")[2] for page in one] == [
        f"{number:02}.html" for number in range(40)
    ]


def test_check_says_what_is_missing(tmp_path: Path) -> None:
    """All that is there on one line each; what is not, with what to install, and the exit
    status."""
    there = plumrake("check", cwd=tmp_path)
    assert [line.split("  ")[0] for line in there.stdout.splitlines()] == [
        "browser",
        "dictionaries",
        "words in pictures",
        "disk",
    ]
    assert there.returncode == (3 if there.stderr else 0)
    lacking = plumrake(
        "check",
        cwd=tmp_path,
        PLUMRAKE_BROWSER=str(tmp_path / "none"),
        PLUMRAKE_DICTIONARIES=str(tmp_path),
    )
    assert lacking.returncode == 3
    assert "plumrake: browser: none was found; install 'chromium-headless-shell'" in lacking.stderr
    assert "plumrake: dictionaries: none is installed" in lacking.stderr


@pytest.mark.parametrize("words", [[], ["--network"]])
def test_a_local_page_sends_nothing_out(tmp_path: Path, words: list[str]) -> None:
    """Unless it is let."""
    asked: list[str] = []

    class Listener(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            asked.append(self.path)
            self.send_response(204)
            self.end_headers()

        def log_message(self, *given: object) -> None:
            pass

    server = ThreadingHTTPServer(("127.0.0.1", 0), Listener)
    origin = serve_in_thread(server)
    page = FINE.replace("</main>", f'<img alt="" src="{origin}/out.png"></main>')
    (tmp_path / "sly.html").write_text(page)
    done = plumrake("look", "sly.html", origin, *words, cwd=tmp_path)
    assert "2 pages read" in done.stdout
    assert ("/out.png" in asked) is bool(words)
    server.shutdown()


def test_markdown_is_a_part_of_a_page(tmp_path: Path) -> None:
    """Its lines are those of the Markdown; what is not asked of a part of a page is said."""
    (tmp_path / "guide.md").write_text(
        "---\ntitle: Fees\n---\n\n## Fees\n\n> Said ![IMG_1.jpg](a.jpg)\n> and [click here](/x)\n"
    )
    done = plumrake("look", ".", "--lens", "markup", "--as", "json", cwd=tmp_path)
    page = json.loads(done.stdout)["pages"][0]
    places = {one["check"]: (one["line"], one["column"]) for one in page["findings"]}
    assert places == {"pictures/file-name-text": (7, 8), "links/vague": (8, 7)}
    text = plumrake("look", "guide.md", "--lens", "markup", cwd=tmp_path).stdout
    assert "Not asked of parts of pages: " in text
    heard = plumrake("view", "guide.md", "--lens", "markup", "--as", "heard", cwd=tmp_path).stdout
    assert "heading level 2, Fees" in heard
