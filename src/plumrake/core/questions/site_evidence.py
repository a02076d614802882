"""What a site as a whole has to show for the questions that are asked of it once."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from urllib.parse import urlsplit

from plumrake.core.journeys import is_state
from plumrake.core.questions.evidence import Shown, shown
from plumrake.core.questions.question import Evidence
from plumrake.core.shown_rows import Row

_DOCUMENTS = (".pdf", ".doc", ".docx", ".odt", ".rtf", ".xls", ".xlsx", ".ods", ".ppt", ".pptx",
              ".odp", ".epub")  # fmt: skip
_STATEMENT = ("accessib", "barrierefrei")
_WAYS_IN = ("search", "site map", "sitemap", "a-z", "index", "contents", "suche", "übersicht",
            "inhalt")  # fmt: skip
_LEAST_NAME = 2


@dataclass(frozen=True, slots=True)
class LinkOfSite:
    """Links of one text to one address: on how many pages, and on which first."""

    text: str
    address: str
    pages: int
    first_path: str


@dataclass(frozen=True, slots=True)
class MenusOfPages:
    """The menus that some pages have alike: their names and links, on how many pages, and on which
    first."""

    menus: tuple[tuple[str, tuple[str, ...]], ...]
    pages: int
    first_path: str


def site_evidence_of(
    links: Sequence[LinkOfSite],
    menus: Iterable[MenusOfPages],
    paths: Iterable[str],
    old_statement: str = "",
) -> dict[Evidence, Shown]:
    """Return what a site has to show for questions about it; ``old_statement`` says, where the
    statement is too old, how old it is."""
    return {
        "documents": shown(_to(links, _is_document)),
        "names": shown(_names(links)),
        "statement": shown(
            [*([{"text": old_statement}] if old_statement else []), *_to(links, _is_statement)]
        ),
        "ways-in": shown(_to(links, _is_way_in)),
        "repeated-parts": shown(_menus(menus)),
        "journeys": shown({"state": path} for path in sorted(paths) if is_state(path)),
    }


def _is_document(link: LinkOfSite) -> bool:
    return urlsplit(link.address).path.lower().endswith(_DOCUMENTS)


def _is_statement(link: LinkOfSite) -> bool:
    return "#" not in link.address and any(
        word in f"{link.text} {link.address}".casefold() for word in _STATEMENT
    )


def _is_way_in(link: LinkOfSite) -> bool:
    text = link.text.casefold()
    return any(text == word or text.startswith(f"{word} ") for word in _WAYS_IN)


def _to(links: Sequence[LinkOfSite], wanted: Callable[[LinkOfSite], bool]) -> Iterator[Row]:

    for link in sorted(links, key=lambda one: (one.address, one.text)):
        if wanted(link):
            yield {"text": link.text, "address": link.address, "path": link.first_path}


def _names(links: Sequence[LinkOfSite]) -> Iterator[Row]:
    """Yield addresses that are called by several names, and names that lead to several
    addresses."""
    called: dict[str, dict[str, LinkOfSite]] = {}
    leads: dict[str, dict[str, LinkOfSite]] = {}
    for link in links:
        name = link.text.casefold()
        if name and link.address:
            called.setdefault(link.address, {}).setdefault(name, link)
            leads.setdefault(name, {}).setdefault(link.address, link)
    for address in sorted(called):
        if len(called[address]) >= _LEAST_NAME:
            yield {
                "address": address,
                "called": sorted(one.text for one in called[address].values()),
            }
    for name in sorted(leads):
        if len(leads[name]) >= _LEAST_NAME:
            text = min(one.text for one in leads[name].values())
            yield {"name": text, "leads": sorted(leads[name])}


def _menus(menus: Iterable[MenusOfPages]) -> Iterator[Row]:
    """Yield every menu as some pages have it, those of one name one below the other."""
    first: dict[tuple[str, tuple[str, ...]], str] = {}
    for one in sorted(menus, key=lambda group: (-group.pages, group.first_path)):
        for menu in one.menus:
            first.setdefault(menu, one.first_path)
    for (name, links), path in sorted(first.items()):
        yield {"name": name, "links": [*links], "path": path}
