"""Data of HTML, WAI-ARIA 1.2 and HTML-AAM 1.0 that others look up."""

from __future__ import annotations

VOID_ELEMENTS: frozenset[str] = frozenset(
    "area base br col embed hr img input link meta param source track wbr".split()
)
"""Elements without an end tag (HTML Standard 13.1.2, and 13.3 for param)."""
ROLES: frozenset[str] = frozenset(
    (
        "alert alertdialog application article banner blockquote button caption cell checkbox "
        "code columnheader combobox complementary contentinfo definition deletion dialog "
        "directory document emphasis feed figure form generic graphics-document graphics-object "
        "graphics-symbol grid gridcell group heading img image insertion link list listbox "
        "listitem log main marquee math menu menubar menuitem menuitemcheckbox menuitemradio "
        "meter navigation none note option paragraph presentation progressbar radio radiogroup "
        "region row rowgroup rowheader scrollbar search searchbox separator slider spinbutton "
        "status strong subscript superscript switch tab table tablist tabpanel term textbox time "
        "timer toolbar tooltip tree treegrid treeitem doc-abstract doc-acknowledgments "
        "doc-afterword doc-appendix doc-backlink doc-biblioentry doc-bibliography doc-biblioref "
        "doc-chapter doc-colophon doc-conclusion doc-cover doc-credit doc-credits doc-dedication "
        "doc-endnote doc-endnotes doc-epigraph doc-epilogue doc-errata doc-example doc-footnote "
        "doc-foreword doc-glossary doc-glossref doc-index doc-introduction doc-noteref doc-notice "
        "doc-pagebreak doc-pagefooter doc-pageheader doc-pagelist doc-part doc-preface "
        "doc-prologue doc-pullquote doc-qna doc-subtitle doc-tip doc-toc"
    ).split()
)
"""Every role of WAI-ARIA 1.2, DPub-ARIA 1.1 and Graphics-ARIA 1.0 that an author may write."""

NAME_FROM_CONTENT: frozenset[str] = frozenset(
    (
        "button cell checkbox columnheader gridcell heading link menuitem menuitemcheckbox "
        "menuitemradio option radio row rowheader sectionhead switch tab tooltip treeitem "
        "doc-backlink doc-biblioref doc-glossref doc-noteref"
    ).split()
)
"""Roles that take their name from what they hold (WAI-ARIA 1.2, 5.2.8.6)."""

NAME_PROHIBITED: frozenset[str] = frozenset(
    (
        "caption code definition deletion emphasis generic insertion none paragraph presentation "
        "strong subscript superscript term time"
    ).split()
)
"""Roles that may not be named by the author (WAI-ARIA 1.2, 5.2.8.5)."""

SIMPLE_ROLES: dict[str, str] = {
    "address": "group",
    "article": "article",
    "aside": "complementary",
    "blockquote": "blockquote",
    "button": "button",
    "caption": "caption",
    "code": "code",
    "datalist": "listbox",
    "dd": "definition",
    "del": "deletion",
    "details": "group",
    "dfn": "term",
    "dialog": "dialog",
    "dt": "term",
    "em": "emphasis",
    "fieldset": "group",
    "figure": "figure",
    "form": "form",
    "h1": "heading",
    "h2": "heading",
    "h3": "heading",
    "h4": "heading",
    "h5": "heading",
    "h6": "heading",
    "hgroup": "group",
    "hr": "separator",
    "html": "document",
    "ins": "insertion",
    "main": "main",
    "math": "math",
    "menu": "list",
    "meter": "meter",
    "nav": "navigation",
    "ol": "list",
    "optgroup": "group",
    "option": "option",
    "output": "status",
    "p": "paragraph",
    "progress": "progressbar",
    "s": "deletion",
    "search": "search",
    "strong": "strong",
    "sub": "subscript",
    "sup": "superscript",
    "svg": "graphics-document",
    "table": "table",
    "tbody": "rowgroup",
    "textarea": "textbox",
    "tfoot": "rowgroup",
    "thead": "rowgroup",
    "time": "time",
    "tr": "row",
    "ul": "list",
}
"""HTML-AAM's roles of elements whose role hangs on nothing else; the others are worked out in
``roles.py``."""

INPUT_ROLES: dict[str, str] = {
    "button": "button",
    "checkbox": "checkbox",
    "email": "textbox",
    "image": "button",
    "number": "spinbutton",
    "radio": "radio",
    "range": "slider",
    "reset": "button",
    "search": "searchbox",
    "submit": "button",
    "tel": "textbox",
    "text": "textbox",
    "url": "textbox",
}
"""Roles of ``input`` by type; types without an entry (password, date, color, file …) have no ARIA
role."""

LABELABLE: frozenset[str] = frozenset(
    ["button", "input", "meter", "output", "progress", "select", "textarea"]
)
"""HTML Standard, 4.10.2: labelable elements; ``input type=hidden`` aside."""

SECTIONING: frozenset[str] = frozenset(["article", "aside", "main", "nav", "section"])
"""Inside these a ``header`` or ``footer`` belongs to the part, not to the page."""

LANDMARKS: frozenset[str] = frozenset(
    ["banner", "complementary", "contentinfo", "form", "main", "navigation", "region", "search"]
)

NOT_RENDERED: frozenset[str] = frozenset(
    (
        "base datalist head link meta noembed noframes noscript param rp script style template "
        "title source track"
    ).split()
)
"""Elements that the browser's own style sheet never shows, scripting being on."""

BLOCK_TAGS: frozenset[str] = frozenset(
    (
        "address article aside blockquote body caption center dd details dialog dir div dl dt "
        "fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6 header hgroup hr html legend li "
        "listing main menu nav ol optgroup option p pre search section summary table tbody td "
        "tfoot th thead tr ul xmp"
    ).split()
)
"""Elements that the browser's own style sheet lays out as blocks or table parts: words on either
side stay apart."""

GLOBAL_NAMING: tuple[str, ...] = (
    "aria-atomic",
    "aria-busy",
    "aria-controls",
    "aria-current",
    "aria-describedby",
    "aria-description",
    "aria-details",
    "aria-dropeffect",
    "aria-flowto",
    "aria-grabbed",
    "aria-keyshortcuts",
    "aria-label",
    "aria-labelledby",
    "aria-live",
    "aria-owns",
    "aria-relevant",
    "aria-roledescription",
    "aria-braillelabel",
    "aria-brailleroledescription",
)
"""Global states and properties that undo ``role=none`` (WAI-ARIA 1.2, 5.4); ``aria-hidden`` and
those deprecated as global aside."""

FOCUSABLE_TAGS: frozenset[str] = frozenset(
    ["button", "iframe", "input", "select", "textarea", "summary"]
)

INTERACTIVE_ROLES: frozenset[str] = frozenset(
    (
        "button checkbox combobox link listbox menuitem menuitemcheckbox menuitemradio option "
        "radio searchbox slider spinbutton switch tab textbox treeitem"
    ).split()
)
"""Roles that a person operates (WAI-ARIA 1.2, 5.3.2), but for those that only may be."""
