"""Computed values as they are handed on: what won, what came of it, what it hangs on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from plumrake.core.style.cascade.conditions import Screen
from plumrake.core.style.cascade.declarations import Declaration
from plumrake.core.style.cascade.fonts import FONT_OF_ROOT, Font
from plumrake.core.style.cascade.paint import Palette
from plumrake.core.style.cascade.properties import PROPERTIES

Control = Literal["", "control", "ticked"]
"""Whether an element is a form control, and one that the browser draws a tick in."""


@dataclass(frozen=True, slots=True)
class Won:
    """The declaration that won, the browser's own below it (for ``revert``), and why it is not sure
    that it won (``""``: it is)."""

    declaration: Declaration | None
    browsers: Declaration | None = None
    doubt: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class Computed:
    """An element's computed values as texts by property, which of them are in doubt and why, and
    what its children are worked out by."""

    values: Mapping[str, str]
    doubts: Mapping[str, str]
    customs: Mapping[str, str]
    doubtful_customs: frozenset[str]
    palette: Palette
    font: Font


@dataclass(frozen=True, slots=True)
class Setting:
    """What values hang on beside the element and its parent: the screen, the root's font size (CSS
    px), registered custom properties, whether a ``meta`` asks for dark colours, and quirks mode."""

    screen: Screen
    root_font: float = 16.0
    registered: Mapping[str, tuple[bool, str | None]] = field(default_factory=dict)
    is_dark: bool = False
    is_quirky: bool = False


INITIAL = Computed(
    {name: one.initial for name, one in PROPERTIES.items()}
    | {
        "color": "rgb(0, 0, 0)",
        "font-size": "16px",
        "font-weight": "400",
        "-webkit-text-fill-color": "currentcolor",
        "fill": "rgb(0, 0, 0)",
    },
    {},
    {},
    frozenset(),
    Palette(),
    FONT_OF_ROOT,
)
"""What the root inherits."""
