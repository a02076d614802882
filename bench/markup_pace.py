"""What judging a page by its source and style sheets costs, by stage, beside the browser only
loading the same pages.

One process reads the pages one after the other, as a judge of the worker does; processor time is
counted, so what else the machine does matters little. Some pages are read before, so that what a
site's pages have in common is known. ``python -m
bench.markup_pace [PAGES]`` (made site of 200, as many of git-doc).
"""

from __future__ import annotations

import asyncio
import random
import sys
import tempfile
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar
from urllib.parse import urlsplit

import plumrake.lenses.loaded  # noqa: F401  (as it is loaded for a judge)
from bench.made_site import make_pages, write_site
from bench.rendered_pace import PAGES, bare_load
from plumrake.core.assess import assess
from plumrake.core.inventory import inventory_of, page_views_of
from plumrake.core.policy import Policy
from plumrake.core.questions.evidence import evidence_of
from plumrake.demo.server import make_server
from plumrake.lenses.assessor import Assessor, OpenedSource, with_dictionaries, with_languages

Answer = TypeVar("Answer")
_PAGES = 200
_BEFORE = 60
_MOST_ELEMENTS = 50_000


def main(count: int = _PAGES) -> None:
    """Print a line per site."""
    with tempfile.TemporaryDirectory(prefix="plr-made-") as folder:
        write_site(Path(folder), make_pages(2 * count))
        _tell("made site", Path(folder), count)
    if PAGES.is_dir():
        _tell("git-doc", PAGES, count)
    else:
        print("git-doc is not installed; apt-get install git-doc")


def _tell(name: str, folder: Path, count: int) -> None:
    files = sorted(file for file in folder.rglob("*.html") if not file.is_symlink())
    random.Random(1).shuffle(files)
    first, wanted = files[-_BEFORE:], files[:-_BEFORE][:count]
    server = make_server(folder, 0)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    origin = f"http://127.0.0.1:{server.server_address[1]}"
    bare = asyncio.run(
        bare_load(origin, [f"/{file.relative_to(folder).as_posix()}" for file in wanted])
    )
    server.shutdown()
    for file in first:
        _read(folder, file, defaultdict(float))
    spent: dict[str, float] = defaultdict(float)
    for file in wanted:
        _read(folder, file, spent)
    judged = sum(seconds for stage, seconds in spent.items() if stage != "what is shown of it")
    each = ", ".join(
        f"{stage} {1000 * seconds / len(wanted):.1f}" for stage, seconds in spent.items()
    )
    print(
        f"{name}: {len(wanted)} pages; judged {len(wanted) / judged:.1f} pages/s a core, the "
        f"browser only loads {bare / 2:.1f}: {2 * len(wanted) / judged / bare:.1f} times\n"
        f"  ms a page: {each}"
    )


def _read(folder: Path, file: Path, spent: dict[str, float]) -> None:
    def timed(stage: str, do: Callable[[], Answer]) -> Answer:
        begun = time.process_time()
        answer = do()
        spent[stage] += time.process_time() - begun
        return answer

    assessor, at = Assessor(), f"http://pages.invalid/{file.relative_to(folder).as_posix()}"
    body = file.read_bytes()
    sheets: dict[str, str | None] = {}

    def open_it() -> list[str]:
        opened = assessor.open_source(body, None, at, _MOST_ELEMENTS, at, sheets)
        assert isinstance(opened, OpenedSource)
        return opened.wanted

    wanted = open_it()
    while wanted:
        for address in wanted:
            beside = folder / urlsplit(address).path.lstrip("/")
            sheets[address] = beside.read_text() if beside.is_file() else None
        wanted = assessor.know_sheets(sheets, at)
    timed("opened with its styles", open_it)
    page = timed("languages", lambda: with_languages(assessor.page))
    page = timed("spelling", lambda: with_dictionaries(page))
    timed("checks", lambda: assess(page, Policy()))
    timed(
        "what is shown of it", lambda: (inventory_of(page), page_views_of(page), evidence_of(page))
    )


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
