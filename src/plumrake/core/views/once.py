"""Views are worked out once a page: inventory, page views and the evidence for questions show the
same rows."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from plumrake.core.page import Page

View = Callable[[Page], list[dict[str, Any]]]


def once_a_page(view: View) -> View:
    """Return a view that is worked out once for what is known of a page; its rows are not to be
    changed."""

    @wraps(view)
    def known(page: Page) -> list[dict[str, Any]]:
        if view.__name__ not in page.viewed:
            page.viewed[view.__name__] = view(page)
        return page.viewed[view.__name__]

    return known
