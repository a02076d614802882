"""Archives of pages: ``.zip`` (a folder of files) and WARC (ISO 28500, as crawlers write it),
unpacked within bounds.

Nothing of an archive is trusted: names that lead out of it, links, encrypted members and what is
too large are passed over or refused. Pages draw in what the archive holds and nothing else.
"""

from __future__ import annotations

import mimetypes
import tempfile
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import IO, Any
from urllib.parse import quote, urldefrag, urlsplit

from warcio.archiveiterator import ArchiveIterator
from warcio.exceptions import ArchiveLoadFailed

from plumrake.net.problems import Unreadable

ENDINGS: tuple[str, ...] = (".zip", ".warc", ".warc.gz")
ZIP_ORIGIN = "http://archive.invalid"
_MOST_FILES = 200_000
_MOST_BYTES, _MOST_BYTES_OF_ONE = 4_000_000_000, 100_000_000
_PAGES = ("text/html", "application/xhtml+xml")
_CHUNK = 1 << 16


@dataclass(frozen=True, slots=True)
class Stored:
    """An answer kept in an archive: its status, content type, the file that holds its body."""

    status: int
    content_type: str
    file: Path


class Archive:
    """An archive, unpacked into a folder of its own that goes with it."""

    def __init__(self, source: Path) -> None:
        """Unpack the archive. Raises ``Unreadable`` (file-missing, file-unreadable, too-large)."""
        self.source = source
        self._folder = tempfile.TemporaryDirectory(prefix="plumrake-archive-")
        self._left = _MOST_BYTES
        self._stored: dict[str, Stored] = {}
        try:
            members = self._of_zip() if source.name.lower().endswith(".zip") else self._of_warc()
            for address, status, content_type, body in members:
                if len(self._stored) >= _MOST_FILES:
                    raise Unreadable(
                        "too-large",
                        f"'{source}' holds more than the {_MOST_FILES:,} files that may be read",
                    )
                self._stored.setdefault(address, Stored(status, content_type, self._keep(body)))
        except FileNotFoundError:
            raise Unreadable("file-missing", f"there is no file '{source}'") from None
        except (
            zipfile.BadZipFile,
            ArchiveLoadFailed,
            RuntimeError,
            NotImplementedError,
            OSError,
            EOFError,
        ) as error:
            raise Unreadable(
                "file-unreadable", f"'{source}' is no archive that can be read: {error}"
            ) from None

    @property
    def pages(self) -> list[str]:
        """The addresses of the pages in the archive, in its order."""
        return [
            address
            for address, stored in self._stored.items()
            if stored.status == 200
            and stored.content_type.partition(";")[0].strip().lower() in _PAGES
        ]

    def get(self, address: str) -> Stored | None:
        """Return what the archive holds for an address, or None; a folder's is its ``index.html``
        in a zip."""
        bare = urldefrag(address)[0]
        for wanted in (bare, f"{bare}index.html" if bare.endswith("/") else f"{bare}/index.html"):
            if (found := self._stored.get(wanted)) is not None:
                return found
        return self._stored.get(bare.partition("?")[0]) if bare.startswith(ZIP_ORIGIN) else None

    def shown_as(self, address: str) -> str:
        """Return what a page is called in reports: its address, or in a zip the path below the
        archive."""
        path = urlsplit(address).path
        return f"{self.source}{path}" if address.startswith(ZIP_ORIGIN) else address

    def _keep(self, body: IO[bytes]) -> Path:
        file = Path(self._folder.name) / str(len(self._stored))
        size = 0
        with file.open("wb") as out:
            while chunk := body.read(_CHUNK):
                size += len(chunk)
                self._left -= len(chunk)
                if size > _MOST_BYTES_OF_ONE or self._left < 0:
                    raise Unreadable(
                        "too-large", f"'{self.source}' unpacks to more bytes than may be read"
                    )
                out.write(chunk)
        return file

    def _of_zip(self) -> Iterator[tuple[str, int, str, IO[bytes]]]:
        with zipfile.ZipFile(self.source) as packed:
            for member in sorted(packed.infolist(), key=lambda one: one.filename):
                parts = PurePosixPath(member.filename).parts
                if (
                    member.is_dir()
                    or member.flag_bits & 1
                    or not parts
                    or ".." in parts
                    or parts[0] == "/"
                ):
                    continue
                if any(part.startswith((".", "__MACOSX")) for part in parts):
                    continue
                kind = mimetypes.guess_type(member.filename)[0] or "application/octet-stream"
                with packed.open(member) as body:
                    yield f"{ZIP_ORIGIN}/{quote('/'.join(parts))}", 200, kind, body

    def _of_warc(self) -> Iterator[tuple[str, int, str, IO[bytes]]]:
        with self.source.open("rb") as stream:
            for record in ArchiveIterator(stream):
                headers: Any = record.http_headers
                if record.rec_type != "response" or headers is None:
                    continue
                address = str(record.rec_headers.get_header("WARC-Target-URI") or "").strip("<>")
                code = str(headers.get_statuscode() or "")
                if address.startswith(("http://", "https://")) and code.isdigit():
                    yield (
                        urldefrag(address)[0],
                        int(code),
                        str(headers.get_header("Content-Type") or ""),
                        record.content_stream(),
                    )
