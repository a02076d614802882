"""The demo site's generator: two environments from one set of contents, with the answer key of the
planted faults.

An element with a planted fault carries ``data-plant`` in the contents (a question mark behind the
check: a person has to decide); the mark is taken out of what is written, and its address, check,
outcome and selector go into the key.
"""

from __future__ import annotations

import json
import re
import tomllib
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import Any, Literal

from jinja2 import Environment, PackageLoader, StrictUndefined

from plumrake.core.journeys import parse_journeys
from plumrake.core.selectors import Selectors
from plumrake.demo.pictures import draw
from plumrake.lenses.markup import parse_document

ENVIRONMENTS: tuple[Literal["live", "staging"], ...] = ("live", "staging")
_BUNDLES = ("about", "visit", "boating", "news", "archive")
_MARK = re.compile(r' data-plant="[^"]*"')
_MEDIA = re.compile(r'(?:src|href)="/media/([^"]+)"')


@dataclass(frozen=True, slots=True)
class DemoPage:
    """One page of an environment: its address (a path), its HTML without marks, and the answers
    about it."""

    address: str
    html: str
    answers: tuple[dict[str, str], ...]


def build_environment(environment: str) -> list[DemoPage]:
    """Return all pages of ``live`` or ``staging``."""
    lists = _lists()
    jinja = Environment(  # noqa: S701 - our own contents, written out as files
        loader=PackageLoader("plumrake.demo", "templates"),
        undefined=StrictUndefined,
        trim_blocks=False,
    )
    pages: list[DemoPage] = []
    for bundle in _BUNDLES:
        text = jinja.from_string(_content(f"{bundle}.html")).render(
            environment=environment, **lists
        )
        pages.extend(
            _page(jinja, environment, lists, part)
            for part in re.split(r"^=== ", text, flags=re.MULTILINE)[1:]
        )
    return pages


def _content(name: str) -> str:
    return files("plumrake.demo").joinpath("content", name).read_text(encoding="utf-8")


def _lists() -> dict[str, Any]:
    lists = tomllib.loads(_content("lists.toml"))
    for name, folder in (("news", "news"), ("notices", "stoppages"), ("events", "events")):
        for item in lists[name]:
            item["address"] = f"/{folder}/{item['slug']}/"
    return {**lists, "all_news": lists["news"], "teasers": lists["news"][:3]}


def _page(jinja: Environment, environment: str, lists: dict[str, Any], part: str) -> DemoPage:
    head, _, body = part.partition("\n---\n")
    address, _, front = head.partition("\n")
    page: dict[str, Any] = {
        "address": address.strip(),
        "language": "",
        "trail": [],
        "no_heading": False,
        "heading": "",
        "date": "",
        "picture": "",
        "plants": [],
    }
    page |= tomllib.loads(front)
    marked = jinja.get_template(f"{page['layout']}.html").render(
        page=page, environment=environment, body=body.strip(), **lists
    )
    return DemoPage(
        page["address"],
        _MARK.sub("", marked),
        tuple(_answers(page["address"], marked, page["plants"])),
    )


def _answers(address: str, marked: str, about_page: list[str]) -> list[dict[str, str]]:
    document = parse_document(marked, address)
    selectors = Selectors(document)
    found = [_answer(address, mark, "html") for mark in about_page]
    for element in document.elements:
        found.extend(
            _answer(address, mark, selectors.of(element))
            for mark in element.get("data-plant").split()
        )
    return found


def _answer(address: str, mark: str, selector: str) -> dict[str, str]:
    outcome = "cantTell" if mark.endswith("?") else "failed"
    return {"address": address, "check": mark.rstrip("?"), "outcome": outcome, "selector": selector}


def answer_key(environment: str) -> list[dict[str, str]]:
    """Return what the checks have to find in an environment, sorted: address, check, outcome and
    selector of each fault."""
    answers = [answer for page in build_environment(environment) for answer in page.answers]
    return sorted(
        answers, key=lambda answer: (answer["address"], answer["check"], answer["selector"])
    )


def kept_answer_key(environment: str) -> list[dict[str, str]]:
    """Return the answer key as it is kept beside the contents, for comparing by eye what a change
    of them does."""
    key: dict[str, list[dict[str, str]]] = json.loads(
        files("plumrake.demo").joinpath("answer_key.json").read_text(encoding="utf-8")
    )
    return key[environment]


def journeys() -> list[dict[str, Any]]:
    """Return the demo site's journeys."""
    return parse_journeys(_content("journeys.yaml"))


def journey_answers() -> list[dict[str, str]]:
    """Return what the checks have to find in the states that the journeys read, in either
    environment."""
    answers: list[dict[str, str]] = tomllib.loads(_content("journey_answers.toml"))["answers"]
    return answers


def write_environment(environment: str, folder: Path, origin: str) -> int:
    """Write an environment with its pictures, sitemap and robots.txt below ``folder``; return the
    number of pages."""
    pages = build_environment(environment)
    for page in pages:
        file = folder / page.address.strip("/") / "index.html"
        file.parent.mkdir(parents=True, exist_ok=True)
        _write_if_other(file, page.html.encode())
    for name in sorted({name for page in pages for name in _MEDIA.findall(page.html)}):
        draw(folder / "media" / name)
    assets = folder / "assets"
    assets.mkdir(parents=True, exist_ok=True)
    for file_name in ("site.css", "mark.svg", "arrow.svg", "flourish-wave.svg"):
        source = files("plumrake.demo").joinpath("templates", file_name).read_bytes()
        _write_if_other(assets / file_name, source)
    _write_if_other(folder / "sitemap.xml", _sitemap(pages, origin).encode())
    _write_if_other(
        folder / "robots.txt",
        f"User-agent: *\nDisallow: /share/\nSitemap: {origin}/sitemap.xml\n".encode(),
    )
    return len(pages)


def _sitemap(pages: list[DemoPage], origin: str) -> str:
    places = "".join(f"  <url><loc>{origin}{page.address}</loc></url>\n" for page in pages)
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<urlset '
        f'xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n{places}</urlset>\n'
    )


def _write_if_other(file: Path, content: bytes) -> None:
    """Write only what changed, so that modification times tell the truth to conditional
    requests."""
    if not file.exists() or file.read_bytes() != content:
        file.write_bytes(content)
