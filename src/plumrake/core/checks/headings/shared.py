"""What the checks of headings share: siblings in the outline, and what stands between two headings."""

from __future__ import annotations

from collections import defaultdict

from plumrake.core.dom import Element, Text, is_blank
from plumrake.core.page import Page
from plumrake.core.semantics.headings import nodes_in_order

_CONTENT = frozenset(
    [
        "img",
        "svg",
        "video",
        "audio",
        "iframe",
        "object",
        "embed",
        "canvas",
        "input",
        "select",
        "textarea",
        "math",
        "table",
        "progress",
        "meter",
        "button",
    ]
)


def siblings(page: Page) -> list[list[Element]]:
    """Return the exposed headings in groups of the same level, below the same heading, in the same landmark."""
    groups: dict[tuple[int, int, int], list[Element]] = defaultdict(list)
    path: list[Element] = []
    for heading in page.exposed(role="heading"):
        level = page.level_of(heading)
        while path and page.level_of(path[-1]) >= level:
            path.pop()
        landmark = page.landmarks.around(heading)
        groups[path[-1].index if path else -1, level, landmark.index if landmark is not None else -1].append(heading)
        path.append(heading)
    return list(groups.values())


def with_nothing_after(page: Page, within: Element) -> dict[int, Element | None]:
    """Return, by index, the headings that no content follows within an element: up to the next heading, or to the end (None).

    Content that is hidden for now (a collapsed panel, a closed ``details``) counts as content.
    """
    empty: dict[int, Element | None] = {}
    last: Element | None = None
    inside: Element | None = None
    for node in nodes_in_order(within):
        if isinstance(node, Text):
            if (
                not is_blank(node.data)
                and not _is_below(node.parent, inside)
                and node.parent.tag not in ("script", "style", "template", "title", "noscript")
            ):
                last = None
        elif page.role_of(node) == "heading" and page.is_exposed(node):
            if last is not None:
                empty[last.index] = node
            last = inside = node
        elif node.tag in _CONTENT and not _is_below(node, inside):
            last = None
    if last is not None:
        empty[last.index] = None
    return empty


def _is_below(element: Element, holder: Element | None) -> bool:
    return holder is not None and (element is holder or holder in element.ancestors())
