"""The fixed list of pages that the benchmarks read: sixty from each of three Debian documentation
packages."""

from __future__ import annotations

from pathlib import Path

_LIST = Path(__file__).parent / "pages.txt"


def listed_pages() -> dict[str, tuple[Path, list[Path]]]:
    """Return folder and pages by package, those that are installed; the list names a folder and
    then its files."""
    found: dict[str, tuple[Path, list[Path]]] = {}
    name, folder = "", Path()
    for line in _LIST.read_text(encoding="utf-8").splitlines():
        if line.startswith("== "):
            name, _, place = line[3:].partition(" ")
            folder = Path(place)
        elif (file := folder / line).is_file():
            found.setdefault(name, (folder, []))[1].append(file)
    return found
