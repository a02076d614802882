"""What a page holds beside its findings: builds, pictures, links and colour pairs, for views over a
whole site; and the views of it."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import Any

from plumrake.core.page import Page
from plumrake.core.views.colours import colours
from plumrake.core.views.focus import focus
from plumrake.core.views.heard import heard, order
from plumrake.core.views.lists import links, names, pictures
from plumrake.core.views.outline import outline

_MOST = 2_000


@dataclass(frozen=True, slots=True)
class Inventory:
    """How often each build occurs on the page, and its pictures, links and colour pairs as the
    views show them."""

    census: dict[str, int]
    pictures: list[dict[str, Any]]
    links: list[dict[str, Any]]
    colours: list[dict[str, Any]]

    @property
    def hash(self) -> str:
        """What the content is known by."""
        return hashlib.sha256(
            json.dumps(
                [self.census, self.pictures, self.links, self.colours], sort_keys=True
            ).encode()
        ).hexdigest()


_TAGS = {
    "pictures": frozenset(("img", "svg", "canvas", "object", "area")),
    "tables": frozenset(("table",)),
    "forms": frozenset(("input", "select", "textarea", "button", "fieldset", "label")),
    "media": frozenset(("audio", "video")),
}


def areas_of(page: Page) -> frozenset[str]:
    """Return the areas of checks, of those that look at one kind of elements each, that have such
    elements on the page."""
    tags = {element.tag for element in page.elements}
    found = {area for area, own in _TAGS.items() if not own.isdisjoint(tags)}
    return frozenset(found | ({"links"} if page.exposed(role="link") else set()))


def inventory_of(page: Page) -> Inventory:
    """Return a page's inventory; of pictures and links the first two thousand."""
    return Inventory(
        page.structure.census, pictures(page)[:_MOST], links(page)[:_MOST], colours(page)[:_MOST]
    )


@dataclass(frozen=True, slots=True)
class PageViews:
    """The views of a page that its inventory does not hold, as the views of these names give them;
    of each the first rows."""

    outline: list[dict[str, Any]]
    heard: list[dict[str, Any]]
    order: list[dict[str, Any]]
    names: list[dict[str, Any]]
    focus: list[dict[str, Any]]


def page_views_of(page: Page) -> PageViews:
    """Return the views of a page, of each the first two thousand rows."""
    return PageViews(*(view(page)[:_MOST] for view in (outline, heard, order, names, focus)))
