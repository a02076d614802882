"""A document with its style sheets to elements with computed styles, what is generated beside them,
and how sure all that is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cache, lru_cache
from importlib.resources import files

from plumrake.core.dom import Document, Element, Style
from plumrake.core.overtaking import go_on
from plumrake.core.style.cascade.computed import INITIAL, Computed, Control, Setting
from plumrake.core.style.cascade.computing import computed
from plumrake.core.style.cascade.conditions import Screen
from plumrake.core.style.cascade.declarations import Declaration, inline
from plumrake.core.style.cascade.generated import generated
from plumrake.core.style.cascade.hints import BodyColours, hints_of
from plumrake.core.style.cascade.kin import Kin
from plumrake.core.style.cascade.placing import certainty_of
from plumrake.core.style.cascade.pseudo_classes import kind
from plumrake.core.style.cascade.sheets import Sheet, parse_sheet
from plumrake.core.style.cascade.stylist import Hit, Path, Placed, Stylist, winners

_SVG = (
    "svg:not(:root), foreignObject { overflow: hidden } foreignObject, text { display: block } "
    "a:any-link { cursor: pointer }"
)
_QUIRKS = "table { font-weight: normal; font-size: medium; font-style: normal; color: canvastext }"
_MOST_KEPT = 8_000
_CONTROLS = frozenset(["input", "button", "select", "textarea", "meter", "progress"])
_HOLDS_ITEMS = frozenset(["flex", "inline-flex", "grid", "inline-grid"])
_FIELDS = tuple(
    (name, "-webkit-text-fill-color" if name == "text_fill" else name.replace("_", "-"))
    for name in Style._fields
)


@cache
def browsers_sheet() -> Sheet:
    """Return the style sheet of the browser itself."""
    text = (files(__package__) / "browser.css").read_text("utf-8")
    return parse_sheet(text, Screen(), name="browser")


@cache
def quirks_sheet() -> Sheet:
    """Return what the browser adds to its sheet in quirks mode (HTML, 15.3.10)."""
    return parse_sheet(_QUIRKS, Screen(), name="quirks")


@cache
def drawings_sheet() -> Sheet:
    """Return the browser's style sheet for SVG (SVG 2, user agent style sheet)."""
    return parse_sheet(_SVG, Screen(), name="drawings")


class Styler:
    """Gives documents with one set of style sheets their styles; what was worked out for one
    element serves others."""

    def __init__(self, sheets: Sequence[Placed], screen: Screen, *, is_quirky: bool) -> None:
        own = [browsers_sheet(), quirks_sheet()] if is_quirky else [browsers_sheet()]
        browsers = [Placed(one, namespace="html") for one in own]
        browsers.append(Placed(drawings_sheet(), namespace="svg"))
        self._stylist = Stylist((*browsers, *sheets))
        self._screen = screen
        self._is_quirky = is_quirky
        self._kept: dict[tuple[object, ...], _Styled] = {}

    def style(self, document: Document) -> None:
        """Give every element of a document that is rendered its style. Raises ``TooMuchStyle``."""
        if len(self._kept) > _MOST_KEPT:
            self._kept.clear()
        kin = Kin(document, is_quirky=self._is_quirky)
        paths: dict[int, Path] = {}
        styled: dict[int, _Styled] = {}
        body = BodyColours.of(document, is_quirky=self._is_quirky)
        setting = Setting(
            self._screen,
            16.0,
            self._stylist.registered,
            _asks_for_dark(document),
            self._is_quirky,
        )
        for element in document.elements:
            parent = element.parent
            above = styled.get(parent.index) if parent is not None else None
            if parent is not None and (above is None or above.computed.values["display"] == "none"):
                continue
            go_on()
            path = self._stylist.path(
                element, paths[parent.index] if parent is not None else None, kin
            )
            paths[element.index] = path
            hits = self._stylist.hits(element, path, kin)
            found = self._styled(element, hits, above, setting, body)
            styled[element.index] = found
            if parent is None:
                setting = replace(setting, root_font=found.computed.font.size)
            found.put_on(element)

    def _styled(
        self,
        element: Element,
        hits: tuple[Hit, ...],
        above: _Styled | None,
        setting: Setting,
        body: BodyColours,
    ) -> _Styled:
        hints = (*body.for_element(element), *hints_of(element))
        own = element.get("style") if element.has("style") else ""
        control = _control(element)
        key = (id(above), hits, hints, own, control, setting.root_font, setting.is_dark)
        found = self._kept.get(key)
        if found is None:
            found = self._kept[key] = _Styled(
                above, hits, hints, inline(own), setting, control=control
            )
        return found


class _Styled:
    """What elements that meet the same have in common."""

    def __init__(
        self,
        above: _Styled | None,
        hits: tuple[Hit, ...],
        hints: Sequence[Declaration],
        own: Sequence[Declaration],
        setting: Setting,
        *,
        control: Control,
    ) -> None:
        self.above = above  # kept alive: it is known by where it lies in memory
        won = winners(hits, "", hints, own)
        self.computed: Computed = computed(
            won,
            above.computed if above is not None else _start(is_quirky=setting.is_quirky),
            setting,
            is_root=above is None,
            is_block=above is None or above.makes_blocks,
            control=control,
        )
        display = self.computed.values["display"]
        self.makes_blocks: bool = display in _HOLDS_ITEMS or (
            display == "contents" and above is not None and above.makes_blocks
        )
        self._style = _style(self.computed)
        self._certainty = certainty_of(self.computed)
        self._hits = hits
        self._setting = setting
        kinds = {entry.selector.pseudo_element for entry, _ in hits}
        self._generates = display != "none" and not kinds.isdisjoint(("before", "after"))
        self._placeholder = self._placeholder_of() if "placeholder" in kinds else ""

    def put_on(self, element: Element) -> None:
        """Give an element its style."""
        element.style, element.certainty = self._style, self._certainty
        if self._generates:
            element.before = generated(self._beside("before"), element)
            element.after = generated(self._beside("after"), element)
        if self._placeholder and _shows_placeholder(element):
            element.placeholder = self._placeholder

    def _beside(self, kind: str) -> Computed | None:
        won = winners(self._hits, kind)
        if "content" not in won:
            return None
        return computed(
            won, self.computed, self._setting, is_root=False, is_block=self.makes_blocks
        )

    def _placeholder_of(self) -> str:
        found = computed(
            winners(self._hits, "placeholder"),
            self.computed,
            self._setting,
        )
        values = found.values
        if found.doubts or values["opacity"] == "0":
            return ""
        return "|".join(values[name] for name in ("color", "opacity", "font-size", "font-weight"))


def _control(element: Element) -> Control:
    """Return what kind of form control an element is."""
    if element.tag not in _CONTROLS or element.namespace != "html":
        return ""
    is_ticked = element.tag == "input" and kind(element) in ("checkbox", "radio")
    return "ticked" if is_ticked else "control"


def _shows_placeholder(element: Element) -> bool:
    return (
        element.tag in ("input", "textarea")
        and bool(element.get("placeholder"))
        and not element.get("value")
        and not element.text(1)
    )


def _start(*, is_quirky: bool) -> Computed:
    """Return what the root inherits."""
    return replace(INITIAL, font=replace(INITIAL.font, is_quirky=is_quirky))


def _style(found: Computed) -> Style:
    values = found.values
    current = values["color"]
    return Style(
        *(current if values[name] == "currentcolor" else values[name] for _, name in _FIELDS)
    )


def _asks_for_dark(document: Document) -> bool:
    """Tell whether a ``meta`` says that the page is for dark colours alone (HTML, 4.2.5.1)."""
    for element in document.elements:
        if element.tag == "meta" and element.get("name").strip().lower() == "color-scheme":
            words = element.get("content").lower().split()
            return "dark" in words and "light" not in words
        if element.tag == "body":
            break
    return False


@lru_cache(maxsize=48)
def sheet_of(text: str, screen: Screen, *, is_quirky: bool) -> Sheet:
    """Return a style sheet; the last ones are kept. Raises ``TooMuchStyle``."""
    return parse_sheet(text, screen, name=str(len(text)) + str(hash(text)), is_quirky=is_quirky)
