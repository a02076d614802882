"""The pseudo-classes that need no argument (Selectors 4), as they stand when a page has just
loaded: nothing is pointed at, focused or visited."""

from __future__ import annotations

from collections.abc import Callable

from plumrake.core.dom import Element
from plumrake.core.semantics.roles import is_disabled
from plumrake.core.style.cascade.answers import Answer
from plumrake.core.style.cascade.kin import Kin

Test = Callable[[Element, Kin], Answer]

_CAN_BE_DISABLED = frozenset(
    ["button", "input", "select", "textarea", "optgroup", "option", "fieldset"]
)
_FIELDS = frozenset(["input", "select", "textarea"])
_NOT_TYPED = frozenset(
    ["hidden", "range", "color", "checkbox", "radio", "file", "submit", "image", "reset", "button"]
)
_WITH_PLACEHOLDER = frozenset(["", "text", "search", "url", "tel", "email", "password", "number"])


def is_html(element: Element, *tags: str) -> bool:
    """Tell whether it is an element of HTML with one of these names."""
    return element.namespace == "html" and element.tag in tags


def kind(element: Element) -> str:
    """Return the ``type`` of an element in small letters."""
    return element.get("type").strip().lower()


def _never(_element: Element, _kin: Kin) -> Answer:
    return False


def _unknown(_element: Element, _kin: Kin) -> Answer:
    return None


def _link(element: Element, _kin: Kin) -> Answer:
    return element.tag in ("a", "area") and (element.has("href") or element.has("xlink:href"))


def _alone_of_type(element: Element, kin: Kin) -> Answer:
    return kin.is_first_of_type(element) and kin.is_last_of_type(element)


def _disabled(element: Element, _kin: Kin) -> bool:
    return is_html(element, *_CAN_BE_DISABLED) and (
        is_disabled(element) or (element.has("disabled") and element.tag in ("optgroup", "option"))
    )


def _enabled(element: Element, kin: Kin) -> Answer:
    return is_html(element, *_CAN_BE_DISABLED) and not _disabled(element, kin)


def _checked(element: Element, _kin: Kin) -> Answer:
    if is_html(element, "input"):
        return kind(element) in ("checkbox", "radio") and element.has("checked")
    return is_html(element, "option") and element.has("selected")


def _required(element: Element, _kin: Kin) -> Answer:
    return is_html(element, *_FIELDS) and element.has("required")


def _optional(element: Element, _kin: Kin) -> Answer:
    return is_html(element, *_FIELDS) and not element.has("required")


def _read_write(element: Element, kin: Kin) -> bool:
    if is_html(element, "textarea") or (
        is_html(element, "input") and kind(element) not in _NOT_TYPED
    ):
        return not element.has("readonly") and not _disabled(element, kin)
    return any(
        one.has("contenteditable") and one.get("contenteditable").lower() != "false"
        for one in (element, *element.ancestors())
    )


def _placeholder_shown(element: Element, _kin: Kin) -> Answer:
    if not element.get("placeholder"):
        return False
    if is_html(element, "textarea"):
        return not element.text()
    return (
        is_html(element, "input")
        and kind(element) in _WITH_PLACEHOLDER
        and not element.get("value")
    )


def _valid(element: Element, _kin: Kin) -> Answer:
    return None if is_html(element, *_FIELDS, "form", "fieldset") else False


def _defined(element: Element, _kin: Kin) -> Answer:
    """A custom element is defined by a script or never."""
    return None if "-" in element.tag and element.namespace == "html" else True


def _open(element: Element, _kin: Kin) -> Answer:
    return is_html(element, "details", "dialog") and element.has("open")


PSEUDO_CLASSES: dict[str, Test] = {
    "root": lambda element, _: element.parent is None,
    "scope": lambda element, _: element.parent is None,
    "first-child": lambda element, kin: kin.place(element) == 0,
    "last-child": lambda element, kin: kin.siblings(element)[-1] is element,
    "only-child": lambda element, kin: len(kin.siblings(element)) == 1,
    "first-of-type": lambda element, kin: kin.is_first_of_type(element),
    "last-of-type": lambda element, kin: kin.is_last_of_type(element),
    "only-of-type": _alone_of_type,
    "empty": lambda element, kin: kin.is_empty(element),
    "link": _link,
    "any-link": _link,
    "-webkit-any-link": _link,
    "enabled": _enabled,
    "disabled": _disabled,
    "checked": _checked,
    "required": _required,
    "optional": _optional,
    "read-write": _read_write,
    "read-only": lambda element, kin: not _read_write(element, kin),
    "placeholder-shown": _placeholder_shown,
    "defined": _defined,
    "open": _open,
    "valid": _valid,
    "invalid": _valid,
    "in-range": _valid,
    "out-of-range": _valid,
    "default": _valid,
    "indeterminate": lambda element, _: None if is_html(element, "input", "progress") else False,
}
PSEUDO_CLASSES |= dict.fromkeys(
    (
        "visited hover active focus focus-within focus-visible target target-within target-current "
        "popover-open modal fullscreen -webkit-full-screen autofill -webkit-autofill user-valid "
        "user-invalid picture-in-picture paused seeking buffering stalled muted volume-locked "
        "-webkit-drag current past future host -internal-autofill-previewed"
    ).split(),
    _never,
)
PSEUDO_CLASSES |= dict.fromkeys(["playing", "local-link"], _unknown)

AMONG_SIBLINGS = frozenset(
    "first-child last-child only-child first-of-type last-of-type only-of-type empty".split()
)
"""Those that ask for the element's place, or for what is in it."""
BEYOND_ANCESTORS = frozenset("placeholder-shown disabled enabled read-only read-write".split())
"""Those that ask for children or fieldsets around."""

ATTRIBUTES_OF = {
    "link": ("href", "xlink:href"),
    "any-link": ("href", "xlink:href"),
    "-webkit-any-link": ("href", "xlink:href"),
    "checked": ("type", "checked", "selected"),
    "required": ("required",),
    "optional": ("required",),
    "open": ("open",),
}
"""The attributes that those of the others hang on."""

READ_WHOLE = frozenset(["type"])
"""The attributes whose value those of the others read."""
