"""Pages out of archives: read with what the archive holds and nothing else; bad archives are one
clear problem."""

import asyncio
import io
import zipfile
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import pytest
from warcio.statusandheaders import StatusAndHeaders
from warcio.warcwriter import WARCWriter

from plumrake.actions.look import LookSettings, look, resolve_targets
from plumrake.actions.reading import PageResult
from plumrake.core.policy import Policy
from plumrake.lenses import archives
from plumrake.lenses.archives import Archive
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.net.problems import Unreadable
from tests.services import serve_in_thread

PAGE = (
    '<!doctype html><html lang="en"><head><title>Locks</title><link rel="stylesheet" '
    'href="{sheet}"></head><body><main><h1>Locks</h1><p class="pale">Open '
    "daily</p></main></body></html>"
)
SHEET = ".pale { color: #999999; background: #ffffff }"


def zipped(folder: Path, files: dict[str, str]) -> Path:
    """Write a zip file."""
    file = folder / "site.zip"
    with zipfile.ZipFile(file, "w") as packed:
        for name, text in files.items():
            packed.writestr(name, text)
    return file


def warc(
    folder: Path, answers: dict[str, tuple[str, str, str]], name: str = "site.warc.gz"
) -> Path:
    """Write a WARC file: address to status line, content type and body."""
    file = folder / name
    with file.open("wb") as out:
        writer = WARCWriter(out, gzip=name.endswith(".gz"))
        for address, (status, kind, body) in answers.items():
            headers = StatusAndHeaders(status, [("Content-Type", kind)], protocol="HTTP/1.1")
            writer.write_record(
                writer.create_warc_record(
                    address, "response", payload=io.BytesIO(body.encode()), http_headers=headers
                )
            )
    return file


def looked(target: Path, lens: str = "rendered") -> list[PageResult]:
    """Look at an archive."""

    async def gather() -> list[PageResult]:
        settings = LookSettings(lens, Policy(only=("contrast/text", "pictures/no-text")))
        return [result async for result in look(resolve_targets([str(target)]), settings)]

    return asyncio.run(gather())


def test_zip_is_read_with_its_style_sheets(tmp_path: Path) -> None:
    """A page of a zip is shown by its path below the archive; its style sheet comes from the
    zip."""
    file = zipped(
        tmp_path,
        {
            "visit/index.html": PAGE.format(sheet="/assets/a.css"),
            "assets/a.css": SHEET,
            "notes.txt": "no page",
        },
    )
    [result] = looked(file)
    assert (result.address, result.problem, result.title) == (
        f"{file}/visit/index.html",
        None,
        "Locks",
    )
    assert [one.check for one in result.assessment.findings] == ["contrast/text"]


def test_warc_is_read_at_its_own_addresses(tmp_path: Path) -> None:
    """Pages of a WARC keep their https addresses; what they draw in, from other hosts too, comes
    from the WARC; nothing else does."""
    page = PAGE.format(sheet="https://static.harrowmere.example/a.css").replace(
        "</main>", '<img src="/missing.png"></main>'
    )
    answers = {
        "https://www.harrowmere.example/locks/": ("200 OK", "text/html; charset=utf-8", page),
        "https://static.harrowmere.example/a.css": ("200 OK", "text/css", SHEET),
        "https://www.harrowmere.example/gone/": ("404 Not Found", "text/html", "gone"),
        "https://www.harrowmere.example/data.json": ("200 OK", "application/json", "{}"),
    }
    for name in ("site.warc.gz", "site.warc"):
        [result] = looked(warc(tmp_path, answers, name))
        assert (result.address, result.problem) == ("https://www.harrowmere.example/locks/", None)
        assert [one.check for one in result.assessment.findings] == [
            "contrast/text",
            "pictures/no-text",
        ]


class Live(BaseHTTPRequestHandler):
    """The site as it is now; whoever reads an archive of it has no business here."""

    asked: list[str]

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def do_GET(self) -> None:
        self.asked.append(self.path)
        self.send_error(404)


def test_frames_of_an_archive_come_from_it_too(tmp_path: Path) -> None:
    """Neither a frame that the archive holds nor one that it lacks is asked of the live site, even
    where that may be reached."""
    Live.asked = []
    server = ThreadingHTTPServer(("127.0.0.1", 0), Live)
    origin = serve_in_thread(server)
    frames = '<iframe src="/map/" title="Map"></iframe><iframe src="/lost/" title="Lost"></iframe>'
    page = PAGE.format(sheet="/a.css").replace("</main>", f"{frames}</main>")
    archive = Archive(
        warc(
            tmp_path,
            {
                f"{origin}/": ("200 OK", "text/html", page),
                f"{origin}/a.css": ("200 OK", "text/css", SHEET),
                f"{origin}/map/": ("200 OK", "text/html", "<!doctype html><title>Map</title>"),
            },
        )
    )

    async def read() -> Obtained:
        async with PageReader("rendered", private_origins=[origin]) as reader:
            return await reader.read_archived(archive, f"{origin}/", "/")

    obtained = asyncio.run(read())
    server.shutdown()
    assert obtained.problem is None
    assert obtained.page is not None
    assert [one.get("src") for one in obtained.page.elements if one.tag == "iframe"] == [
        "/map/",
        "/lost/",
    ]
    assert Live.asked == []


def test_members_that_lead_out_are_passed_over(tmp_path: Path) -> None:
    """Names with '..', from the root, or hidden ones are not taken."""
    files = {
        "../evil.html": PAGE,
        "/etc/a.html": PAGE,
        "a/../../b.html": PAGE,
        ".git/c.html": PAGE,
        "good.html": PAGE.format(sheet=""),
    }
    archive = Archive(zipped(tmp_path, files))
    assert archive.pages == [f"{archives.ZIP_ORIGIN}/good.html"]


def test_archive_bombs_are_refused(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """What unpacks to more than may be read is refused while it unpacks, one file or all
    together."""
    file = zipped(tmp_path, {f"{number}.html": "x" * 300_000 for number in range(5)})
    for limit in ("_MOST_BYTES", "_MOST_BYTES_OF_ONE"):
        with monkeypatch.context() as patch, pytest.raises(Unreadable) as raised:
            patch.setattr(archives, limit, 200_000)
            Archive(file)
        assert raised.value.code == "too-large"


@pytest.mark.parametrize(
    ("name", "content"),
    [
        ("a.zip", b"PK\x03\x04 broken"),
        ("a.warc.gz", b"\x1f\x8b broken"),
        ("a.warc", b"no warc at all\r\n"),
    ],
)
def test_broken_archives_are_one_problem(tmp_path: Path, name: str, content: bytes) -> None:
    """One line says what is wrong; nothing crashes."""
    (tmp_path / name).write_bytes(content)
    [result] = looked(tmp_path / name, "markup")
    assert result.problem is not None
    assert result.problem.code in ("file-unreadable", "file-missing")
    assert name in result.problem.says


def test_missing_archive(tmp_path: Path) -> None:
    """An archive that is not there is said so."""
    [result] = looked(tmp_path / "none.zip", "markup")
    assert result.problem is not None
    assert result.problem.code == "file-missing"
