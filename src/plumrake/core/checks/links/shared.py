"""What the checks of links share."""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.dom import Element, Text, collapse, is_blank
from plumrake.core.evidence import LinkState
from plumrake.core.page import Page
from plumrake.core.semantics.headings import nodes_in_order
from plumrake.core.semantics.names import sets_words_apart

_LINK = "\ue000"
_ENDS = re.compile(r"(?<=[.!?])\s+|\n+")
"""Where a sentence ends: after its stop, and at the end of a line."""
_CODE = ("code", "kbd", "samp", "var", "tt")


def target_of(link: Element) -> str:
    """Return where a link leads, as written, for a sentence; “nowhere” where the address is missing
    or empty."""
    address = (link.get("href") or link.get("xlink:href")).strip()
    if not address:
        return "nowhere"
    return address if len(address) <= 80 else address[:79] + "…"


def is_code(link: Element) -> bool:
    """Tell whether all the link's text is a piece of code, so that it is a name of its own and no
    phrase (``read()``, ``...``)."""
    texts = [text for text in link.texts() if not is_blank(text.data)]
    return bool(texts) and all(
        text.parent.tag in _CODE or text.parent.closest(*_CODE) is not None for text in texts
    )


def is_picture_only(page: Page, link: Element) -> bool:
    """Tell whether the link shows a picture and no text."""
    shows = any(
        page.is_exposed(inner) and inner.tag in ("img", "svg", "canvas", "object", "picture")
        for inner in link.descendants()
    )
    return shows and not page.text_of(link)


def resource_of(page: Page, link: Element) -> str:
    """Return the full address that a link leads to; one slash at the end more or less makes no
    difference."""
    address = link.get("href").strip() or link.get("xlink:href").strip()
    bare, mark, part = (page.resolved(address) or address).partition("#")
    return bare.rstrip("/") + mark + part


def block_of(element: Element) -> Element | None:
    """Return the block that the element stands in."""
    return element.closest(
        "p",
        "li",
        "td",
        "th",
        "dd",
        "dt",
        "div",
        "section",
        "article",
        "main",
        "blockquote",
        "figcaption",
        "body",
    )


class Sentences:
    """The sentences that links stand in, each block gone through once."""

    def __init__(self, page: Page) -> None:
        self._page = page
        self._known: dict[int, str] = {}
        self._blocks: set[int] = set()

    def of(self, link: Element) -> str:
        """Return the sentence of the link's block that the link stands in."""
        block = block_of(link)
        if block is None:
            return self._page.text_of(link)
        if block.index not in self._blocks:
            self._blocks.add(block.index)
            self._go_through(block)
        return self._known.get(link.index, "")

    def _go_through(self, block: Element) -> None:
        words: list[str] = []
        links: list[int] = []
        for node in nodes_in_order(block):
            if isinstance(node, Text):
                if self._page.is_exposed(node.parent):
                    words.append(node.data.replace(_LINK, ""))
            elif node.tag in ("a", "area") or self._page.role_of(node) == "link":
                words.append(_LINK)
                links.append(node.index)
            elif sets_words_apart(node) or node.tag == "br":
                words.append("\n")
        following = iter(links)
        for sentence in _ENDS.split("".join(words)):
            count = sentence.count(_LINK)
            plain = collapse(sentence.replace(_LINK, "")) if count else ""
            for _ in range(count):
                self._known.setdefault(next(following), plain)


def states_of(page: Page, *states: str) -> Iterator[tuple[Element, LinkState]]:
    """Yield the exposed links, areas included, that were found to be in one of the states; needs
    ``network``."""
    network = page.evidence.network
    if network is None:
        return
    for link in page.exposed(role="link"):
        state = network.links.get(link.index)
        if state is not None and state.state in states:
            yield link, state


def facts_of(link: Element, state: LinkState) -> dict[str, object]:
    """Return what was found out about a link, as facts of a finding."""
    return {
        "target": target_of(link),
        "state": state.state,
        "status": state.status,
        "redirects": list(state.chain),
        "reason": state.says,
    }
