"""The views of a page, each on a small page whose rows can be said by hand."""

from typing import Any

from plumrake.core.page import Page
from plumrake.core.views import VIEWS
from plumrake.lenses.markup import parse_document

HTML = """<!doctype html><html lang="en"><title>Moorings</title><body>
<header><a href="/"><img src="/m.svg" alt="Canal Trust"></a></header>
<main><h1>Moorings</h1><h3>Fees</h3><p>From <b>six</b> pounds, see <a href="/fees" title="All fees">the table</a>.</p>
<ul><li>Tern Basin</li><li><a href="/b">Brindle</a></li></ul>
<table><caption>Fees</caption><tr><th>Length<td>Price</table>
<label>Boat <input required></label><button aria-expanded="false">More</button><img src="wave.svg" alt="">
<p hidden>Nobody hears this.</p><h2></h2></main></body></html>"""  # noqa: E501


def rows(name: str) -> list[dict[str, Any]]:
    return VIEWS[name](Page(parse_document(HTML, "moorings.html")))


def test_outline_has_headings_landmarks_and_faults() -> None:
    """One tree; the jump and the empty heading stand in it as faults."""
    found = [
        (row["kind"], row["level"], row["depth"], row["name"], row["faults"])
        for row in rows("outline")
    ]
    assert found == [
        ("banner", None, 0, "", []),
        ("main", None, 0, "", []),
        ("heading", 1, 1, "Moorings", []),
        ("heading", 3, 1, "Fees", ["headings/level-jump"]),
        ("heading", 2, 1, "", ["headings/empty"]),
    ]


def test_outline_says_that_the_main_heading_is_missing() -> None:
    """What is not there is the first row."""
    page = Page(parse_document("<!doctype html><title>Fees</title><h2>Fees</h2>", "fees.html"))
    assert VIEWS["outline"](page)[0] == {
        "kind": "page",
        "level": None,
        "depth": 0,
        "name": "Fees",
        "selector": "html",
        "faults": ["headings/no-level-1"],
    }


def test_heard_line_by_line() -> None:
    """Roles, names, levels and states as they are announced; what is hidden is not."""
    assert [row["line"] for row in rows("heard")] == [
        "banner landmark",
        "link, Canal Trust",
        "main",
        "heading level 1, Moorings",
        "heading level 3, Fees",
        "From six pounds, see",
        "link, the table",
        ".",
        "list, 2 items",
        "• Tern Basin",
        "• link, Brindle",
        "table, 1 row, Fees",
        "Fees",
        "Length",
        "Price",
        "Boat",
        "text field, Boat, required",
        "button, More, collapsed",
        "heading level 2, (nothing)",
    ]


def test_order_is_the_text_of_the_source() -> None:
    """Block by block, tables cell by cell, nothing hidden and nothing twice."""
    assert [row["text"] for row in rows("order")] == [
        "Moorings",
        "Fees",
        "From six pounds, see the table.",
        "Tern Basin",
        "Brindle",
        "Fees",
        "Length",
        "Price",
        "Boat More",
    ]


def test_links_and_pictures_alone() -> None:
    """Links with their targets, pictures with their texts and marks."""
    assert [(row["name"], row["target"]) for row in rows("links")] == [
        ("Canal Trust", "/"),
        ("the table", "/fees"),
        ("Brindle", "/b"),
    ]
    assert [(row["name"], row["file"], row["decorative"]) for row in rows("pictures")] == [
        ("Canal Trust", "m.svg", False),
        ("", "wave.svg", True),
    ]


def test_names_with_description_and_trace() -> None:
    """Every element with a role, how its name came about, and what describes it."""
    link = next(row for row in rows("names") if row["name"] == "the table")
    assert (link["role"], link["description"], link["exposed"]) == ("link", "All fees", True)
    assert [(step["step"], step["text"]) for step in link["trace"]] == [("2F", "the table")]
    hidden = next(row for row in rows("names") if row["role"] == "paragraph" and not row["exposed"])
    assert hidden["selector"].startswith("main > p")


def test_colours_need_styles() -> None:
    """Without a browser there is nothing to say about colours."""
    assert rows("colours") == []
