"""How far roles and accessible names agree with those that Chromium itself computes.

Both come from the same loaded page: ours from the collector's document, Chromium's from its
accessibility tree over the DevTools protocol. Compared are exposed links, headings, images,
buttons, fields, landmarks and tables.

Known and meant: Chromium calls an ``svg`` an image where SVG-AAM says graphics-document, and some
tables layout tables by a guess of its own, and has a name of its own for ``summary`` (these count
as the same here). The areas of an image map are not tied to their elements over the protocol, so
they show as missing. Chromium gives ``input type=image`` without a text the name "Submit" and
fields without a role (password, date) that of a text field, names nothing by a hidden label, calls
an ``a`` with a click handler a link, leaves out drawings without a name, takes soft hyphens for a
name, and calls a focusable picture with an empty ``alt`` an image: there we follow the
specifications and checks.md.
"""

from __future__ import annotations

import asyncio
import re
from collections import Counter
from pathlib import Path

import plumrake.core.checks
from bench.pages import listed_pages
from bench.tabs import browser, page_in, shown
from plumrake.core.dom import Element, collapse
from plumrake.core.page import Page
from plumrake.demo.site import ENVIRONMENTS, build_environment
from plumrake.lenses.rendered.browser import Tab
from plumrake.net.fetch import Fetched

COMPARED = frozenset(
    [
        "link",
        "heading",
        "img",
        "button",
        "textbox",
        "searchbox",
        "combobox",
        "listbox",
        "spinbutton",
        "slider",
        "checkbox",
        "radio",
        "switch",
        "banner",
        "complementary",
        "contentinfo",
        "form",
        "main",
        "navigation",
        "region",
        "search",
        "table",
    ]
)
CHROMIUM = {
    "image": "img",
    "ComboBoxSelect": "combobox",
    "ListBox": "listbox",
    "DisclosureTriangle": "button",
    "combobox": "combobox",
    "LayoutTable": "table",
    "graphics-document": "img",
}
SHOWN = 12


def main() -> None:
    """Print the share that agrees per source of pages, and the most frequent differences."""
    asyncio.run(_main())


async def _main() -> None:
    for name, pages in _sources():
        compared, differences = await _compare(pages)
        share = 100 * (1 - sum(differences.values()) / compared) if compared else 0.0
        print(f"{name}: {len(pages)} pages, {compared} elements compared, {share:.2f} % agree")
        for (what, ours, theirs), number in differences.most_common(SHOWN):
            print(f"  {number:>5}  {what}: ours {ours!r}, Chromium's {theirs!r}")


def _sources() -> list[tuple[str, list[bytes]]]:
    sources = [
        (f"demo, {environment}", [page.html.encode() for page in build_environment(environment)])
        for environment in ENVIRONMENTS
    ]
    sources.append(("case files", _cases()))
    sources.extend(
        (name, [file.read_bytes() for file in files]) for name, (_, files) in listed_pages().items()
    )
    return sources


def _cases() -> list[bytes]:
    """Return every case of every check as a page of its own."""
    folder = Path(plumrake.core.checks.__file__).parent
    found = []
    for file in sorted(folder.rglob("*.cases.html")):
        for html in re.split(
            r"<!-- case: .+? -->\n|<!-- next page -->\n", file.read_text(encoding="utf-8")
        )[1:]:
            found.append(
                (html if html.startswith("<html") else f"<html lang='en'><body>{html}").encode()
            )
    return found


async def _compare(pages: list[bytes]) -> tuple[int, Counter[tuple[str, str, str]]]:
    compared = 0
    differences: Counter[tuple[str, str, str]] = Counter()
    async with browser() as pool:
        for html in pages:
            async with shown(pool, Fetched("http://page.invalid/", 200, {}, html)) as tab:
                ours = await page_in(tab)
                theirs = await _chromium(tab)
            for element in ours.elements:
                compared += _count(ours, element, theirs.get(element.index), differences)
    return compared, differences


def _count(
    page: Page,
    element: Element,
    theirs: tuple[str, str] | None,
    differences: Counter[tuple[str, str, str]],
) -> int:
    role = page.role_of(element) if page.is_exposed(element) else ""
    role = CHROMIUM.get(role, role)
    their_role, their_name = theirs or ("", "")
    if role not in COMPARED and their_role not in COMPARED:
        return 0
    if role != their_role:
        differences[f"role of <{element.tag}>", role, their_role] += 1
    elif collapse(page.raw_name_of(element)) != collapse(their_name):
        differences[
            f"name of {role} <{element.tag}>",
            page.raw_name_of(element)[:90],
            collapse(their_name)[:90],
        ] += 1
    return 1


async def _chromium(tab: Tab) -> dict[int, tuple[str, str]]:
    """Return role and name by the element's place in document order, ignored nodes left out."""
    root = (await tab.send("DOM.getDocument", {"depth": -1}))["root"]
    order: dict[int, int] = {}
    html = next(child for child in root["children"] if child["nodeType"] == 1)
    stack = [html]
    while stack:
        node = stack.pop()
        order[node["backendNodeId"]] = len(order)
        stack.extend(
            child for child in reversed(node.get("children", [])) if child["nodeType"] == 1
        )
    tree = (await tab.send("Accessibility.getFullAXTree", {}))["nodes"]
    found = {}
    for node in tree:
        place = order.get(node.get("backendDOMNodeId", -1))
        if place is not None and not node["ignored"]:
            role = node.get("role", {}).get("value", "")
            found[place] = (CHROMIUM.get(role, role), node.get("name", {}).get("value", ""))
    return found


if __name__ == "__main__":
    main()
