"""Links of one name lead to different places.

In a list of links, or by Tab, only the name is heard. Two links of one name then cannot be told
apart, though they lead to different pages.

## Who is hindered

People who go through the links of a page by ear, and people who steer by voice: "click Read more"
asks back which one.

## What an editor does

Let each link say where it leads. If both should lead to the same page, correct the address.

## What a template developer does

In repeated blocks add the entry's title to the link's name (it may be hidden from sight).

## Wrong

    <p><a href="/hallow">Opening times</a></p><p><a href="/tern">Opening times</a></p>

## Right

    <p><a href="/hallow">Opening times of Hallow Lock</a></p><p><a href="/tern">Opening times of
      Tern Basin</a></p>

## Left alone

Links of one name to one place, and names without letters or digits ("¶"). Where sentence, list
item, table headers or heading tell two links apart, it is for a person to say whether that is
enough; dates in lists of posts are left alone then.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator

from plumrake.core.checks.links.shared import Sentences, resource_of, target_of
from plumrake.core.dom import Element, Text, collapse
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.headings import nodes_in_order
from plumrake.core.words import has_letters_or_digits, normalised, shortened

_MOST_LOOKED_AT = 60
_YEAR = re.compile(r"(?:19|20)\d\d")


@check(
    id="links/same-text-different-places",
    weight=Weight.OBSTACLE,
    criteria=("2.4.4", "2.4.9"),
    needs=Needs.TREE,
    messages={
        "alike": (
            "{count} links are called “{name}” and lead to different places; nothing around them "
            "tells this one from another."
        ),
        "by-context": (
            "{count} links are called “{name}” and lead to different places; only what stands "
            "around them tells them apart."
        ),
    },
    questions={
        "by-context": "Do sentence, list item, table or heading make clear where this link leads?"
    },
)
def same_text_different_places(page: Page) -> Iterator[Flag]:
    """Yield each of several links with the same name to different places; ``cantTell`` where
    context tells them apart."""
    groups: dict[str, list[Element]] = defaultdict(list)
    for link in page.exposed(role="link"):
        if (link.has("href") or link.has("xlink:href")) and has_letters_or_digits(
            name := page.name_of(link)
        ):
            groups[normalised(name)].append(link)
    contexts = _Contexts(page)
    for members in groups.values():
        places = {link.index: resource_of(page, link) for link in members}
        if len(set(places.values())) < 2:
            continue
        around = {link.index: contexts.of(link) for link in members}
        by_context: dict[tuple[str, ...], set[str]] = defaultdict(set)
        for link in members:
            by_context[around[link.index]].add(places[link.index])
        looked_at = members[:_MOST_LOOKED_AT]
        for link in members:
            alike = len(by_context[around[link.index]]) > 1
            if not alike and _is_date(page, link):
                continue
            others = [one for one in looked_at if places[one.index] != places[link.index]]
            yield _flag(page, link, others, len(members), around[link.index][0], alike=alike)


def _flag(
    page: Page, link: Element, others: list[Element], count: int, sentence: str, *, alike: bool
) -> Flag:
    name = page.name_of(link)
    facts = {
        "name": name,
        "target": target_of(link),
        "others": page.others(others, link),
        "other_targets": sorted({target_of(other) for other in others}),
        "sentence": sentence[:300],
    }
    mends = (
        Mend("replace-text", "Say in the link where it leads."),
        Mend(
            "set-attribute",
            "Or keep the text and give the link a name that adds the target.",
            attribute="aria-label",
        ),
    )
    report = failed if alike else cant_tell
    return report(
        link,
        "alike" if alike else "by-context",
        name=shortened(name),
        count=count,
        facts=facts,
        mends=mends,
    )


def _is_date(page: Page, link: Element) -> bool:
    """Tell whether a link is called nothing but a date."""
    name = page.name_of(link)
    times = [one for one in link.descendants() if one.tag == "time"]
    if any(page.text_of(one) == name for one in times):
        return True
    parts = normalised(name).split()
    years = sum(bool(_YEAR.fullmatch(part)) for part in parts)
    days = sum(part.rstrip("sthndr").isdigit() and len(part) <= 4 for part in parts) - years
    words = len(parts) - years - days
    return years == 1 and 1 <= days <= 2 and words == (1 if days == 1 else 0)


def _before_lists(item: Element) -> str:
    """Return the text of a list item up to the first list in it: the line that a nested list stands
    under."""
    parts: list[str] = []
    for node in nodes_in_order(item):
        if isinstance(node, Element) and node.tag in ("ul", "ol", "dl"):
            break
        if isinstance(node, Text):
            parts.append(node.data)
    return collapse(" ".join(parts))


class _Contexts:
    """What stands around links: sentence, list items, table cell with its headers, nearest heading
    before (WCAG 2.2, 2.4.4)."""

    def __init__(self, page: Page) -> None:
        self._page = page
        self._sentences = Sentences(page)

    def of(self, link: Element) -> tuple[str, ...]:
        page = self._page
        items = [ancestor for ancestor in link.ancestors() if ancestor.tag in ("li", "dd")]
        cell = link.closest("td", "th")
        before = page.heading_before(link)
        return (
            self._sentences.of(link),
            page.text_of(items[0]) if items else "",
            " | ".join(_before_lists(item) for item in items[1:]),
            self._cell(cell) if cell is not None else "",
            page.name_of(before) if before is not None else "",
        )

    def _cell(self, cell: Element) -> str:
        table = cell.closest("table")
        if table is None:
            return ""
        headers = self._page.table_model_of(table).headers_of(cell)
        return f"{' | '.join(map(self._page.text_of, headers))} | {self._page.text_of(cell)}"
