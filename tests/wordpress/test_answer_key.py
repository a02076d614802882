"""All that is found in the garden's items, by a sweep in the browser and of drafts, is what its
answer key says, with the block that it stands in."""

from __future__ import annotations

from plumrake.demo.wordpress.content import ITEMS
from plumrake.demo.wordpress.key import answer_key, found_in_items
from tests.conftest import wait_for
from tests.wordpress.conftest import SLUG, Garden

TAKES_LONG = True


def test_what_is_found_is_what_the_key_says(garden: Garden) -> None:
    """Nothing less, nothing more, and each in its block; spelling is left out here."""
    garden.manager.items.sync(SLUG)
    garden.sweep(lens="rendered")
    unpublished = sum(item.status != "publish" for item in ITEMS)

    def are_read() -> bool:
        found = garden.manager.items.going_out(SLUG)
        return len(found) == unpublished and all(one.clearance_state == "answered" for one in found)

    wait_for(are_read, 120, f"the drafts to be read; {garden.running.logs()}")
    wanted = {
        path: [one for one in found if one[0] != "text/spelling"]
        for path, found in answer_key().items()
    }
    assert found_in_items(garden.manager, SLUG) == {
        path: found for path, found in wanted.items() if found or path in _drafts(garden)
    }


def _drafts(garden: Garden) -> set[str]:
    return {one.path for one in garden.manager.items.going_out(SLUG)}


def test_every_kind_of_items_and_authors_is_there() -> None:
    """Forty items by six authors, posts, pages and plants, drafts, in review and scheduled."""
    assert len(ITEMS) >= 40
    assert len({item.author for item in ITEMS}) == 6
    assert {item.type for item in ITEMS} == {"post", "page", "plant"}
    assert {item.status for item in ITEMS} == {"publish", "draft", "pending", "future"}
