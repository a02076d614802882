"""From what won in the cascade to computed values (CSS Cascade 5, 4), each known or in doubt."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from plumrake.core.colours import NotAColour
from plumrake.core.style.cascade.computed import Computed, Control, Setting, Won
from plumrake.core.style.cascade.declarations import Declaration
from plumrake.core.style.cascade.fonts import font_size, font_weight, is_mono
from plumrake.core.style.cascade.lengths import CannotTell, NotANumber, Sizes, amount
from plumrake.core.style.cascade.paint import Palette, colour, is_colour, written
from plumrake.core.style.cascade.properties import (
    PROPERTIES,
    WIDE,
    is_taken,
    tokens_of,
    two_words,
)
from plumrake.core.style.cascade.settling import EDGES, SIDES, for_control, settle
from plumrake.core.style.cascade.shorthands import NotTaken, expanded
from plumrake.core.style.cascade.variables import (
    Invalid,
    has_variables,
    resolved_customs,
    substituted,
)

_STARTS = {name: one.initial for name, one in PROPERTIES.items() if not one.inherits} | {
    "background-color": "rgba(0, 0, 0, 0)",
    **{f"border-{side}-width": "0px" for side in ("top", "right", "bottom", "left")},
}
_INHERITED = tuple(name for name, one in PROPERTIES.items() if one.inherits)
_FIRST = ("color-scheme", "color", "font-family", "font-size")


def computed(
    won: Mapping[str, Won],
    parent: Computed,
    setting: Setting,
    *,
    is_root: bool = False,
    is_block: bool = False,
    control: Control = "",
) -> Computed:
    """Return an element's computed values. ``is_block``: its parent, or its being the root, makes a
    block of it. A form ``control`` is never wholly inline; what is ticked, in the browser's own
    look, has no border."""
    found = _Computing(won, parent, setting, is_root=is_root).all(is_block=is_block)
    return for_control(found, control) if control else found


class _Computing:
    """One element's values while they are worked out."""

    def __init__(
        self, won: Mapping[str, Won], parent: Computed, setting: Setting, *, is_root: bool
    ) -> None:
        self._won = won
        self._parent = parent
        self._setting = setting
        self._is_root = is_root
        self._values: dict[str, str] = {}
        self._doubts: dict[str, str] = {}
        self._palette = parent.palette
        self._font = parent.font
        self._customs: Mapping[str, str] = parent.customs
        self._doubtful = parent.doubtful_customs

    def all(self, *, is_block: bool) -> Computed:
        self._work_out_customs()
        self._colour_scheme()
        self._colour()
        self._fonts()
        self._unset()
        for name in self._won:
            if name not in _FIRST and name in PROPERTIES:
                self._values[name] = self._value(name)
        settle(self._values, self._won, is_block=is_block, is_root=self._is_root)
        self._spread_doubt()
        return Computed(
            self._values,
            self._doubts,
            self._customs,
            self._doubtful,
            self._palette,
            self._font,
        )

    def _work_out_customs(self) -> None:
        declared: dict[str, str] = {}
        kept_out = {
            name for name, (inherits, _) in self._setting.registered.items() if not inherits
        }
        doubtful = set(self._doubtful)
        for name, won in self._won.items():
            if not name.startswith("--"):
                continue
            if won.doubt:
                doubtful.add(name)
            if won.declaration is None:
                continue
            text = won.declaration.value
            if text.lower() in ("inherit", "unset"):
                continue
            if text.lower() in WIDE:
                kept_out.add(name)
            else:
                declared[name] = text
                if won.doubt == "":
                    doubtful.discard(name)
        if not declared and not kept_out and not doubtful:
            return
        try:
            self._customs = resolved_customs(
                self._parent.customs, declared, frozenset(kept_out - declared.keys())
            )
        except (Invalid, CannotTell):
            self._customs = {}
            doubtful |= declared.keys()
        for name, text in declared.items():
            if any(f"var({other}" in text.replace(" ", "") for other in doubtful):
                doubtful.add(name)
        self._doubtful = frozenset(doubtful)

    def _custom(self, name: str) -> str | None:
        value = self._customs.get(name)
        if value is None and name in self._setting.registered:
            return self._setting.registered[name][1]
        return value

    def _specified(self, name: str) -> str | None:
        """Return the value that a property gets, None where it gets its parent's. Notes doubt."""
        won = self._won.get(name)
        if won is not None and won.doubt:
            self._doubts[name] = won.doubt
        return self._text_of(name, won.declaration if won is not None else None, won)

    def _text_of(self, name: str, declaration: Declaration | None, won: Won | None) -> str | None:
        text = self._declared_text(name, declaration) if declaration is not None else None
        word = text.lower() if text is not None else "unset"
        if word == "revert" and won is not None and declaration is not won.browsers:
            return self._text_of(name, won.browsers, won)
        if word == "revert-layer":
            self._doubts[name] = "revert-layer"
        if word in ("unset", "revert", "revert-layer"):
            word = "inherit" if PROPERTIES[name].inherits else "initial"
        if word == "inherit":
            return None
        return PROPERTIES[name].initial if word == "initial" or text is None else text

    def _declared_text(self, name: str, declaration: Declaration) -> str | None:
        """Return what is declared, variables put in; None where it is invalid then."""
        text = declaration.value
        if not has_variables(text):
            return text
        if self._doubtful and any(one in text for one in self._doubtful):
            self._doubts[name] = "a variable that is in doubt"
        try:
            text = substituted(text, self._custom).strip()
            if declaration.shorthand:
                text = expanded(declaration.shorthand, text)[name]
        except CannotTell as why:
            self._doubts[name] = str(why)
            return None
        except (Invalid, NotTaken):
            return None
        text = text if PROPERTIES[name].keeps_case else text.lower()
        return text if is_taken(name, text) else None

    def _inherited(self, name: str) -> str:
        if name in self._parent.doubts and name not in self._doubts:
            self._doubts[name] = self._parent.doubts[name]
        return self._parent.values[name]

    def _unset(self) -> None:
        """Give what nothing is declared for its parent's value, or its initial one."""
        first = {name: self._values[name] for name in _FIRST}
        above = self._parent
        self._values = {**_STARTS, **{name: above.values[name] for name in _INHERITED}, **first}
        current = self._values["color"]
        self._values.update(dict.fromkeys(EDGES, current))
        if above.doubts:
            for name in _INHERITED:
                if name in above.doubts and name not in _FIRST:
                    self._doubts.setdefault(name, above.doubts[name])
        if "color" in self._doubts:
            for name in EDGES:
                self._doubts.setdefault(name, self._doubts["color"])

    def _colour_scheme(self) -> None:
        text = self._specified("color-scheme")
        value = self._inherited("color-scheme") if text is None else text
        self._values["color-scheme"] = value
        words = value.split()
        is_dark = "dark" in words and (
            "light" not in words or self._setting.screen.scheme == "dark"
        )
        if value == "normal":
            is_dark = self._setting.is_dark
        self._palette = Palette(self._parent.palette.current, is_dark)

    def _colour(self) -> None:
        text = self._specified("color")
        if text is None and not self._is_root:
            self._values["color"] = self._inherited("color")
            return
        paint = self._paint("color", text or "canvastext")
        self._values["color"] = paint
        self._palette = Palette(colour(paint, self._palette), self._palette.is_dark)

    def _fonts(self) -> None:
        family = self._specified("font-family")
        self._values["font-family"] = family or self._inherited("font-family")
        font = replace(self._font, is_mono=is_mono(self._values["font-family"]))
        text = self._specified("font-size")
        if text is None:
            self._inherited("font-size")
        root = self._parent.font.size if self._is_root else self._setting.root_font
        sizes = self._sizes(self._parent.font.size, root)
        try:
            self._font = font_size(text, font, self._parent.font, sizes)
        except CannotTell as why:
            self._doubts["font-size"], self._font = str(why), font
        except NotANumber:
            self._font = font
        if text is not None and "font-size" in self._parent.doubts and _is_relative(text):
            self._doubts["font-size"] = self._parent.doubts["font-size"]
        self._values["font-size"] = f"{self._font.shown:g}px"

    def _sizes(self, font: float, root: float) -> Sizes:
        screen = self._setting.screen
        return Sizes(font, root, screen.width, screen.height)

    def _value(self, name: str) -> str:
        self._doubts.pop(name, None)
        text = self._specified(name)
        if text is None:
            text = self._inherited(name)
            if name in ("fill", "stroke", "-webkit-text-fill-color") and text != "currentcolor":
                return text
        return _COMPUTE.get(name, _as_is)(self, name, text)

    def _paint(self, name: str, text: str) -> str:
        """Return a colour as computed values give it."""
        if "currentcolor" in text and name != "color" and "color" in self._doubts:
            self._doubts.setdefault(name, self._doubts["color"])
        try:
            return written(colour(text, self._palette))
        except CannotTell as why:
            self._doubts[name] = str(why)
            return written(self._palette.current)
        except NotAColour:
            return text  # 'none', or a picture that a shape is filled with

    def _handed_paint(self, name: str, text: str) -> str:
        """Return a colour that is handed down; the current one is handed down as such."""
        return text if text == "currentcolor" else self._paint(name, text)

    def _weight(self, name: str, text: str) -> str:
        return font_weight(text, self._parent.values[name])

    def _number(self, name: str, text: str) -> str:
        try:
            found = amount(text, Sizes())
        except CannotTell as why:
            self._doubts[name] = str(why)
            return "1"
        except NotANumber:
            return "1"
        value = found.percent / 100 if found.kind == "percentage" else found.number
        return f"{min(1.0, max(0.0, value)):g}"

    def _length(self, name: str, text: str) -> str:
        """Return a length in px (a percentage as it is); words stay."""
        try:
            found = amount(text, self._sizes(self._font.size, self._setting.root_font))
        except CannotTell as why:
            self._doubts[name] = str(why)
            return text
        except NotANumber:
            return text
        if "em" in text and "font-size" in self._doubts:
            self._doubts[name] = self._doubts["font-size"]
        if found.kind == "percentage":
            return f"{found.percent:g}%"
        return f"{found.px:g}px" if found.kind != "mixed" else text

    def _line_width(self, name: str, text: str) -> str:
        px = {"thin": 1.0, "medium": 3.0, "thick": 5.0}.get(text)
        if px is None:
            length = self._length(name, text)
            px = float(length.removesuffix("px")) if length.endswith("px") else 0.0
        return f"{_snapped(px):g}px"

    def _shadow(self, name: str, text: str) -> str:
        """Return shadows with their colours first, as computed values have them."""
        if text == "none":
            return text
        layers: list[list[str]] = [[]]
        for token in tokens_of(text):
            if token.type == "literal" and token.value == ",":
                layers.append([])
            else:
                layers[-1].append(token.serialize())
        return ", ".join(self._one_shadow(name, layer) for layer in layers)

    def _one_shadow(self, name: str, words: list[str]) -> str:
        colours = [word for word in words if is_colour(word)]
        rest = [self._length(name, word) for word in words if word not in colours]
        lengths = [word for word in rest if word != "inset"]
        rest = [*lengths, *["0px"] * (4 - len(lengths)), *(["inset"] if "inset" in rest else [])]
        return " ".join([self._paint(name, colours[0] if colours else "currentcolor"), *rest])

    def _display(self, _name: str, text: str) -> str:
        return two_words(text) or "inline"

    def _lines(self, _name: str, text: str) -> str:
        words = text.split()
        return " ".join(one for one in _LINE_ORDER if one in words) or "none"

    def _spread_doubt(self) -> None:
        """Call in doubt what hangs on a value in doubt, and what an animation may change."""
        if "color" in self._doubts:
            for name in ("-webkit-text-fill-color", "fill", "stroke"):
                if self._values[name] == "currentcolor":
                    self._doubts.setdefault(name, self._doubts["color"])
        if self._values["animation-name"] != "none":
            for name in _ANIMATED:
                self._doubts.setdefault(name, "an animation")


_ANIMATED = ("color", "background-color", "opacity", "visibility", "filter", "clip-path")
_LINE_ORDER = ("underline", "overline", "line-through", "blink")


def _snapped(px: float) -> float:
    """Return a line's width as it is drawn: whole pixels, one at least (CSS Backgrounds 4)."""
    return float(int(px)) if px >= 1 else 1.0 if px > 0 else 0.0


def _is_relative(text: str) -> bool:
    return text.endswith(("em", "%", "smaller", "larger")) or "em" in text or "%" in text


def _as_is(_computing: _Computing, _name: str, text: str) -> str:
    return text


_COMPUTE: dict[str, Callable[[_Computing, str, str], str]] = {
    "background-color": _Computing._paint,
    "-webkit-text-fill-color": _Computing._handed_paint,
    "fill": _Computing._handed_paint,
    "stroke": _Computing._handed_paint,
    "font-weight": _Computing._weight,
    "opacity": _Computing._number,
    "box-shadow": _Computing._shadow,
    "display": _Computing._display,
    "text-decoration-line": _Computing._lines,
    "text-indent": _Computing._length,
    "width": _Computing._length,
    "height": _Computing._length,
    "max-height": _Computing._length,
    **{f"border-{side}-color": _Computing._paint for side in SIDES},
    **{f"border-{side}-width": _Computing._line_width for side in SIDES},
    **{f"margin-{side}": _Computing._length for side in SIDES},
    **dict.fromkeys(SIDES, _Computing._length),
}
