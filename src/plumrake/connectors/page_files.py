"""Which file of a site's sources makes the page at a path: the page itself as HTML, or what a
generator builds it from."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable, Mapping, Sequence
from pathlib import PurePosixPath
from typing import Protocol
from urllib.parse import unquote

from plumrake.net.problems import Unreadable

MAP = "plumrake-pages.toml"
"""The file that says which file makes which page, where nothing else tells."""
MARKDOWN = (".md", ".markdown")
"""How the names of files of Markdown end."""
CLAIMS = ("permalink", "url", "slug")
"""The keys of front matter by which a file says where its page is."""
MOST_FRONT_LINES = 60
"""So many lines from a file's top may be front matter."""
_MOST_MAP_BYTES = 1_000_000
_INDEX = "index"
_DATE = re.compile(r"^\d{4}-\d{1,2}-\d{1,2}-")
_CLAIM = re.compile(rf"""^({"|".join(CLAIMS)})\s*[:=]\s*["']?(.*?)["']?\s*$""")


class SiteFiles(Protocol):
    """The files that a site is made from; names are below its folder, with ``/``."""

    async def has(self, name: str) -> bool:
        """Tell whether there is a file of a name."""

    async def text(self, name: str, most: int) -> str | None:
        """Return a file's text; None where it is not there. Raises ``Unreadable``."""

    async def markdown(self) -> Sequence[str]:
        """Return the names of all files of Markdown."""

    async def front_lines(self) -> Mapping[str, Sequence[str]]:
        """Return the lines near the top of files of Markdown that begin with one of ``CLAIMS``."""


def is_markdown(name: str) -> bool:
    """Tell whether a file is Markdown, by its name."""
    return name.lower().endswith(MARKDOWN)


def is_hidden(name: str) -> bool:
    """Tell whether a file, or a folder that it is in, is hidden: it makes no page."""
    return any(part.startswith(".") for part in name.split("/"))


async def file_of(path: str, files: SiteFiles) -> str | None:
    """Return the name of the file that makes the page at a path, or None. Raises ``Unreadable``.

    In this order: what the site's ``MAP`` says, the HTML file of the path, the Markdown file of the
    path, the only Markdown file whose front matter claims it, the only one of that name.
    """
    wanted = unquote(path.partition("?")[0]).lstrip("/")
    if is_hidden(wanted):
        return None
    mapped = _mapped(_as_page(wanted), await files.text(MAP, _MOST_MAP_BYTES))
    for name in mapped or _names(wanted):
        if await files.has(name):
            return name
    if mapped:
        raise Unreadable("file-missing", f"{MAP} gives {path} the file '{mapped[0]}', which is not")
    return await _claimed(_as_page(wanted), files)


def _names(wanted: str) -> list[str]:
    """Return what the file of a page may be called, the likeliest first."""
    base = wanted.rstrip("/")
    inside = f"{base}/{_INDEX}" if base else _INDEX
    stems = [inside] if not base or wanted.endswith("/") else [base, inside]
    html = [] if not base or wanted.endswith("/") else [base]
    html += [f"{stem}.html" for stem in stems]
    bare = base.removesuffix(".html")
    own = [inside, f"{base}/_{_INDEX}" if base else f"_{_INDEX}", *([bare] if bare else [])]
    return [*html, *(f"{stem}{end}" for stem in own for end in MARKDOWN)]


def _as_page(path: str) -> str:
    """Return a path without what two spellings of one page differ in."""
    bare = unquote(path).strip("/").removesuffix(".html")
    return "" if bare == _INDEX else bare.removesuffix(f"/{_INDEX}")


def _mapped(page: str, text: str | None) -> list[str]:
    """Return the file that a map gives a page, none where it is not in it. Raises
    ``Unreadable``."""
    if text is None:
        return []
    try:
        given = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise Unreadable("file-unreadable", f"{MAP} cannot be read: {error}") from None
    for at, file in given.items():
        if not isinstance(file, str) or at.count("*") > 1 or file.count("*") > at.count("*"):
            raise Unreadable(
                "file-unreadable",
                f"{MAP}: '{at}' has to be a path with the name of its file; both may have one *",
            )
        parts = [re.escape(part) for part in _as_page(at).split("*")]
        match = re.fullmatch("([^/]+)".join(parts), page)
        if match is not None:
            return [file.lstrip("/").replace("*", "".join(match.groups()))]
    return []


async def _claimed(page: str, files: SiteFiles) -> str | None:
    names = [name for name in await files.markdown() if not is_hidden(name)]
    claims = {name: _claims(lines) for name, lines in (await files.front_lines()).items()}
    by_front = [name for name in names if page in _pages(name, claims.get(name, {}))]
    if by_front:
        return _only(by_front, page, "say in their front matter that they make")
    last = page.rpartition("/")[2]
    by_name = [
        name
        for name in names
        if last and not claims.get(name) and _DATE.sub("", PurePosixPath(name).stem) == last
    ]
    return _only(by_name, page, "may by their names make") if by_name else None


def _claims(lines: Iterable[str]) -> dict[str, str]:
    found = (match.groups() for line in lines if (match := _CLAIM.match(line)) is not None)
    return {key: value for key, value in found if value and ":" not in value}


def _pages(name: str, claims: Mapping[str, str]) -> set[str]:
    """Return the pages that a file's front matter says it makes."""
    whole = {_as_page(claims[key]) for key in ("permalink", "url") if key in claims}
    if whole or "slug" not in claims:
        return whole
    folder = PurePosixPath(name).parent
    return {_as_page(str(one / claims["slug"])) for one in (folder, PurePosixPath(folder.name))}


def _only(names: Sequence[str], page: str, do: str) -> str:
    if len(names) > 1:
        raise Unreadable(
            "file-missing",
            f"{len(names)} files {do} /{page} ({', '.join(names[:3])}); say which does in {MAP}",
        )
    return names[0]
