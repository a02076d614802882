"""The scripts that are run in pages."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from plumrake.core.dom import STYLE_PROPERTIES

NO_TEXT = (
    "*, *::before, *::after, ::placeholder, ::marker { color: transparent !important; "
    "-webkit-text-fill-color: transparent !important; "
    "-webkit-text-stroke-color: transparent !important; text-shadow: none !important; "
    "text-decoration-color: transparent !important; "
    "caret-color: transparent !important; transition: none !important } svg text, svg tspan "
    "{ fill: transparent !important; stroke: none !important }"
)
"""A style under which pictures and backgrounds show and no text of the page does."""


@cache
def script(name: str) -> str:
    """Return a script by its file's name."""
    return files(__package__).joinpath(name).read_text(encoding="utf-8")


def collecting(most_elements: int) -> tuple[str, list[object]]:
    """Return the collector with what it is given: what ``Assessor.open_rendered`` reads is its
    answer."""
    return script("collector.js"), [list(STYLE_PROPERTIES), most_elements]
