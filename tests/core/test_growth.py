"""Work grows with the page and no faster: four times as much of anything costs about four times as
much, whatever it is that a page has much of."""

from __future__ import annotations

import time
from collections.abc import Callable

import pytest

from plumrake.core.assess import assess
from plumrake.core.inventory import inventory_of
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.views import VIEWS
from plumrake.lenses.markup import parse_document

COUNT = 500
MOST = 8.5
"""A linear pass takes 4 times as long, a quadratic one 16 times; what lies between is noise."""
TRIES = 3
_LEAST_SECONDS = 0.03
"""What takes less is too short to be compared."""

Shape = Callable[[int], str]


def many(markup: str) -> Shape:
    """Return a shape that repeats a piece of markup; ``{n}`` in it is the number of the piece."""
    return lambda count: "".join(markup.replace("{n}", str(at)) for at in range(count))


def around(before: str, piece: str, after: str) -> Shape:
    """Return a shape of many pieces between two others."""
    return lambda count: before + many(piece)(count) + after


SHAPES: dict[str, Shape] = {
    "paragraphs": many("<p>Text here.</p>"),
    "elements of unknown kinds": many("<x.{n}>t</x.{n}>"),
    "nesting": lambda count: "<div>" * count + "x" + "</div>" * count,
    "links called alike in one sentence": many("<a href=/p{n}>here</a> "),
    "links to one place": many("<a href=/p>here</a> "),
    "links to parts of the page": many("<a href='#a{n}'>x{n}</a>"),
    "links to files": many("<a href=/f{n}.pdf>x{n}</a> "),
    "cards": many(
        "<div class=card><a href=/c{n}><img src=a.jpg alt=''></a><a href=/c{n}>T{n}</a></div>"
    ),
    "pictures": many("<img src=/p{n}.jpg>"),
    "pictures with one text": many("<img src=/p{n}.jpg alt=Boat>"),
    "headings": many("<h2>Locks {n}</h2><p>x</p>"),
    "headings alike": many("<h3>Locks</h3>"),
    "rows of a table": around("<table>", "<tr><td>1</td><td headers=a>2</td></tr>", "</table>"),
    "columns of a table": lambda count: (
        "<table><tr>" + "<th>1</th>" * count + "</tr><tr>" + "<td>1</td>" * count + "</tr></table>"
    ),
    "rows of a table, each with a link": around(
        "<table><tr><th>1<th>2</tr>", "<tr><th>{n}<td><a href=/{n}>Open</a></tr>", "</table>"
    ),
    "columns of a table, each with a link": lambda count: (
        "<table><tr>" + "<th>1" * count + "<tr>" + many("<td><a href=/{n}>Open</a>")(count)
    ),
    "header cells with a link": around("<table>", "<tr><th><a href=/{n}>Open</a></tr>", "</table>"),
    "cells that span much": around(
        "<table>", "<tr><td colspan=900 rowspan=900>{n}</tr>", "</table>"
    ),
    "tables": many("<table><tr><td>1</td></tr></table>"),
    "items of a list": around("<ul>", "<li>x</li>", "</ul>"),
    "items outside a list": many("<li>x</li>"),
    "typed items": many("<p>- a</p>"),
    "typed lines": around("<p>", "- a<br>", "</p>"),
    "bold paragraphs": many("<p><b>Locks</b></p><p>Text, and more.</p>"),
    "radio buttons": many("<input type=radio name=a>"),
    "fields": many("<input id=f{n}><label for=f{n}>x</label>"),
    "labels of one field": around("<input id=a>", "<label for=a>x</label>", ""),
    "one id many times": many("<p id=a>x</p>"),
    "references of one element": lambda count: (
        f"<button aria-labelledby='{' '.join(f'i{n}' for n in range(count))}'></button>"
        + many("<i id=i{n}>t</i>")(count)
    ),
    "landmarks": many("<nav><a href=/>x</a></nav>"),
    "hidden texts": many("<p hidden>some text</p>"),
    "drawings in buttons": many("<button><svg><path/></svg></button>"),
    "films and recordings": many("<video src=a></video><audio src=b controls></audio>"),
    "languages": many("<p lang=xx>x</p>"),
    "words of a paragraph": around("<p>", "word{n} ", "</p>"),
    "words of a heading": around("<h2>", "word{n} ", "</h2>"),
    "words of an alternative text": around("<img src=a alt='", "word{n} ", "'>"),
    "words of a title": around("<title>", "word{n} ", "</title><h1>x</h1>"),
    "steps of an address": around("<a href='/", "a/", "'>x</a>"),
    "declarations of a style": around("<p style='", "color:red;", "'>x</p>"),
    "classes": around("<p class='", "c{n} ", "'>x</p>"),
    "roles": around("<div role='", "x ", "button'>t</div>"),
    "tokens of autocomplete": around("<input autocomplete='", "a ", "'>"),
    "settings of the viewport": around("<meta name=viewport content='", "a=1,", "'>"),
    "a setting of the viewport without an end": lambda count: (
        f"<meta name=viewport content='{'a' * 20 * count}'>"
    ),
    "a style of spaces": lambda count: f"<p style='visibility:hidden{' ' * 20 * count}x'>x</p>",
    "a heading of one word": lambda count: f"<h2>{'a' * 20 * count}</h2>",
    "body tags that never close": many("<body "),
    "bold that never ends": many("<p><b>Locks {n}"),
    "ever other bold that never ends": many("<p><b class=c{n}><i id=i{n}>Locks"),
    "spaces": around("<a href=/>", "\u00a0 ", "x</a>"),
    "dots": around("<a href=/>", ".", "</a>"),
    "frames": many("<iframe src=/></iframe>"),
}


def seconds(html: str) -> float:
    """Return the processor's time for all that the core does with a page."""
    document = parse_document(f"<!doctype html><html lang=en><body>{html}", "http://x.example/")
    began = time.thread_time()
    page = Page(document)
    assess(page, Policy())
    inventory_of(page)
    for view in VIEWS.values():
        view(page)
    return time.thread_time() - began


@pytest.mark.parametrize("name", SHAPES)
def test_work_grows_with_the_page(name: str) -> None:
    """All checks, the views and the inventory of a page four times as large. What seems to grow too
    fast is tried again: neighbours come and go, a quadratic pass stays."""
    tried: list[str] = []
    for _ in range(TRIES):
        small, large = (seconds(SHAPES[name](count)) for count in (COUNT, 4 * COUNT))
        tried.append(f"{small:.3f} s became {large:.3f} s")
        if large < MOST * max(small, _LEAST_SECONDS):
            return
    pytest.fail(f"at each try too much more: {'; '.join(tried)}")
