"""States and properties of WAI-ARIA 1.2: their values, the roles that take them, and what roles
require."""

from __future__ import annotations

import re

from plumrake.core.vocabulary import NAME_PROHIBITED

_VALUES = """
aria-activedescendant id
aria-atomic true|false
aria-autocomplete inline|list|both|none
aria-braillelabel string
aria-brailleroledescription string
aria-busy true|false
aria-checked true|false|mixed|undefined
aria-colcount integer
aria-colindex integer
aria-colindextext string
aria-colspan integer
aria-controls ids
aria-current page|step|location|date|time|true|false
aria-describedby ids
aria-description string
aria-details ids
aria-disabled true|false
aria-dropeffect copy|execute|link|move|none|popup
aria-errormessage ids
aria-expanded true|false|undefined
aria-flowto ids
aria-grabbed true|false|undefined
aria-haspopup true|false|menu|listbox|tree|grid|dialog
aria-hidden true|false|undefined
aria-invalid grammar|false|spelling|true
aria-keyshortcuts string
aria-label string
aria-labelledby ids
aria-level integer
aria-live assertive|off|polite
aria-modal true|false
aria-multiline true|false
aria-multiselectable true|false
aria-orientation horizontal|undefined|vertical
aria-owns ids
aria-placeholder string
aria-posinset integer
aria-pressed true|false|mixed|undefined
aria-readonly true|false
aria-relevant additions|all|removals|text
aria-required true|false
aria-roledescription string
aria-rowcount integer
aria-rowindex integer
aria-rowindextext string
aria-rowspan integer
aria-selected true|false|undefined
aria-setsize integer
aria-sort ascending|descending|none|other
aria-valuemax number
aria-valuemin number
aria-valuenow number
aria-valuetext string
"""
VALUES: dict[str, str] = dict(line.split(" ", 1) for line in _VALUES.strip().splitlines())
"""Every attribute with its kind of value: ``id``, ``ids``, ``string``, ``integer``, ``number``, or
the tokens allowed (6.6)."""

_MANY_TOKENS = frozenset(["aria-dropeffect", "aria-relevant"])
REFERENCES: frozenset[str] = frozenset(
    name for name, kind in VALUES.items() if kind in ("id", "ids")
)

GLOBAL: frozenset[str] = frozenset(
    (
        "aria-atomic aria-busy aria-controls aria-current aria-describedby aria-description "
        "aria-details aria-dropeffect aria-flowto aria-grabbed aria-hidden aria-keyshortcuts "
        "aria-live aria-owns aria-relevant aria-braillelabel aria-brailleroledescription "
        "aria-label aria-labelledby aria-roledescription aria-disabled aria-errormessage "
        "aria-haspopup aria-invalid"
    ).split()
)
"""Attributes that every role takes, those deprecated as global with them (6.5)."""

_CONTAINER = "aria-activedescendant"
_SET = "aria-posinset aria-setsize"
_RANGE = "aria-valuemax aria-valuemin aria-valuenow aria-valuetext"
_CELL = "aria-colindex aria-colindextext aria-colspan aria-rowindex aria-rowindextext aria-rowspan"
_OWN = {
    "application": f"{_CONTAINER} aria-expanded",
    "article": _SET,
    "button": "aria-expanded aria-pressed",
    "cell": _CELL,
    "checkbox": "aria-checked aria-expanded aria-readonly aria-required",
    "columnheader": f"{_CELL} aria-expanded aria-readonly aria-required aria-selected aria-sort",
    "combobox": f"{_CONTAINER} aria-autocomplete aria-expanded aria-readonly aria-required",
    "dialog": "aria-modal",
    "alertdialog": "aria-modal",
    "grid": f"{_CONTAINER} aria-colcount aria-multiselectable aria-readonly aria-rowcount",
    "gridcell": f"{_CELL} aria-expanded aria-readonly aria-required aria-selected",
    "group": _CONTAINER,
    "heading": "aria-level",
    "link": "aria-expanded",
    "listbox": (
        f"{_CONTAINER} aria-expanded aria-multiselectable aria-orientation aria-readonly "
        "aria-required"
    ),
    "listitem": f"aria-level {_SET}",
    "menu": f"{_CONTAINER} aria-orientation",
    "menubar": f"{_CONTAINER} aria-orientation",
    "menuitem": f"aria-expanded {_SET}",
    "menuitemcheckbox": f"aria-checked aria-expanded {_SET}",
    "menuitemradio": f"aria-checked aria-expanded {_SET}",
    "meter": _RANGE,
    "option": f"aria-checked aria-selected {_SET}",
    "progressbar": _RANGE,
    "radio": f"aria-checked {_SET}",
    "radiogroup": f"{_CONTAINER} aria-orientation aria-readonly aria-required",
    "row": (
        f"{_CONTAINER} aria-colindex aria-expanded aria-level {_SET} aria-rowindex "
        "aria-rowindextext aria-selected"
    ),
    "rowheader": f"{_CELL} aria-expanded aria-readonly aria-required aria-selected aria-sort",
    "scrollbar": f"aria-orientation {_RANGE}",
    "searchbox": (
        f"{_CONTAINER} aria-autocomplete aria-multiline aria-placeholder aria-readonly "
        "aria-required"
    ),
    "separator": f"aria-orientation {_RANGE}",
    "slider": f"aria-orientation aria-readonly {_RANGE}",
    "spinbutton": f"{_CONTAINER} aria-readonly aria-required {_RANGE}",
    "switch": "aria-checked aria-expanded aria-readonly aria-required",
    "tab": f"aria-expanded aria-selected {_SET}",
    "table": "aria-colcount aria-rowcount",
    "tablist": f"{_CONTAINER} aria-multiselectable aria-orientation",
    "textbox": (
        f"{_CONTAINER} aria-autocomplete aria-multiline aria-placeholder aria-readonly "
        "aria-required"
    ),
    "toolbar": f"{_CONTAINER} aria-orientation",
    "tree": f"{_CONTAINER} aria-multiselectable aria-orientation aria-required",
    "treegrid": (
        f"{_CONTAINER} aria-colcount aria-multiselectable aria-orientation aria-readonly "
        "aria-required aria-rowcount"
    ),
    "treeitem": f"aria-checked aria-expanded aria-level aria-selected {_SET}",
}
SUPPORTED: dict[str, frozenset[str]] = {
    role: frozenset(names.split()) for role, names in _OWN.items()
}
"""Attributes that a role takes beside the global ones (5.4)."""

REQUIRED: dict[str, tuple[str, ...]] = {
    "checkbox": ("aria-checked",),
    "combobox": ("aria-expanded",),
    "menuitemcheckbox": ("aria-checked",),
    "menuitemradio": ("aria-checked",),
    "meter": ("aria-valuenow",),
    "radio": ("aria-checked",),
    "scrollbar": ("aria-controls", "aria-valuenow"),
    "slider": ("aria-valuenow",),
    "switch": ("aria-checked",),
}
"""Required states and properties without a default (5.2.3); ``heading``'s level has one. A
focusable separator needs aria-valuenow."""

CONTEXT: dict[str, tuple[str, ...]] = {
    "caption": ("figure", "grid", "radiogroup", "table", "treegrid"),
    "cell": ("row",),
    "columnheader": ("row",),
    "gridcell": ("row",),
    "listitem": ("list",),
    "menuitem": ("menu", "menubar"),
    "menuitemcheckbox": ("menu", "menubar"),
    "menuitemradio": ("menu", "menubar"),
    "option": ("listbox",),
    "row": ("grid", "rowgroup", "table", "treegrid"),
    "rowgroup": ("grid", "table", "treegrid"),
    "rowheader": ("row",),
    "tab": ("tablist",),
    "treeitem": ("tree",),
}
"""Required context: the roles of which one has to own the role (5.2.8); groups in between are
passed over."""

OWNED: dict[str, tuple[str, ...]] = {
    "feed": ("article",),
    "grid": ("row",),
    "list": ("listitem",),
    "listbox": ("option",),
    "menu": ("menuitem", "menuitemcheckbox", "menuitemradio"),
    "menubar": ("menuitem", "menuitemcheckbox", "menuitemradio"),
    "radiogroup": ("radio",),
    "row": ("cell", "columnheader", "gridcell", "rowheader"),
    "rowgroup": ("row",),
    "table": ("row",),
    "tablist": ("tab",),
    "tree": ("treeitem",),
    "treegrid": ("row",),
}
"""Required owned elements: a role that holds none of these is empty (5.2.5)."""


def is_supported(attribute: str, role: str) -> bool:
    """Tell whether a role takes the attribute; naming is not taken where ARIA prohibits it. Roles
    of other modules take all."""
    if role in NAME_PROHIBITED and attribute in ("aria-label", "aria-labelledby"):
        return False
    if role.startswith(("doc-", "graphics-")):
        return True
    return attribute in GLOBAL or attribute in SUPPORTED.get(role, frozenset())


def fault_of_value(attribute: str, value: str) -> str | None:
    """Return what the attribute may hold where ``value`` is not allowed, else None. Empty values
    say nothing and pass."""
    kind = VALUES[attribute]
    text = value.strip()
    if not text or kind in ("string", "ids"):
        return None
    if kind == "id":
        return "one id" if len(text.split()) > 1 else None
    if kind == "integer":
        return None if re.fullmatch(r"[+-]?\d+", text) else "a whole number"
    if kind == "number":
        return (
            None
            if re.fullmatch(r"[+-]?(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?", text, re.IGNORECASE)
            else "a number"
        )
    allowed = kind.split("|")
    tokens = text.lower().split() if attribute in _MANY_TOKENS else [text.lower()]
    return None if all(token in allowed for token in tokens) else ", ".join(allowed)
