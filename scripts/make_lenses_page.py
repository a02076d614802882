"""Write ``docs/lenses.md`` from the checks' own data; ``--check`` only tells whether it is as it
should be."""

from __future__ import annotations

import sys
from pathlib import Path

from plumrake.core.findings import Needs
from plumrake.core.registry import Check, catalogue

FILE = Path(__file__).resolve().parent.parent / "docs" / "lenses.md"
_HEAD = (
    "# What each lens knows\n\n"
    "A page is read in a browser (`rendered`), or from its source (`markup`): the HTML, and the "
    "style sheets that it draws in, worked out by the rules of CSS without a browser. Where a "
    "style sheet cannot be had, the HTML is read alone. What each way lets the checks tell, made "
    "from the data by `scripts/make_lenses_page.py`:\n\n"
    "* **yes**: the check is made there.\n"
    "* **where known**: it is made for every element whose style is known. It stays untested for "
    "those whose style hangs on something that only a layout or a script tells (a container's "
    "width, a picture or gradient behind a text, something placed over it), and the report says "
    "so; nothing is guessed.\n"
    "* **–**: untested.\n\n"
    "What links lead to is asked at the gate, and in sweeps where the policy says so; words and "
    "languages are looked up where their dictionaries are installed: by every lens.\n\n"
    "| check | HTML alone | with style sheets | browser |\n|---|---|---|---|\n"
)
_ANYWHERE = frozenset([Needs.TREE, Needs.PAGE, Needs.NETWORK, Needs.DICTIONARY, Needs.LANGUAGES])


def text() -> str:
    """Return the page."""
    checks = [one for one in catalogue().values() if one.area != "review"]
    rows = [f"| `{one.id}` | {' | '.join(_ways(one))} |\n" for one in checks]
    counts = [sum(_ways(one)[at] != "–" for one in checks) for at in range(3)]
    tail = f"\nOf {len(checks)} checks {counts[0]} are made by the HTML alone, {counts[1]} with "
    return "".join([_HEAD, *rows, tail, f"style sheets, {counts[2]} in the browser.\n"])


def _ways(check: Check) -> tuple[str, str, str]:
    further = check.needs - _ANYWHERE
    if not further:
        return "yes", "yes", "yes"
    return "–", "where known" if further == {Needs.STYLE} else "–", "yes"


def main() -> None:
    """Write the page, or check it."""
    if "--check" not in sys.argv:
        FILE.write_text(text(), encoding="utf-8")
    elif not FILE.is_file() or FILE.read_text(encoding="utf-8") != text():
        sys.exit("docs/lenses.md is not made from the data: scripts/make_lenses_page.py")


if __name__ == "__main__":
    main()
