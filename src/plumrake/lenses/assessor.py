"""One page from its raw material to what the checks say of it.

All of this computes over a stranger's text. In a worker it runs in a process that can be killed
(``runners.py``), and what the browser or the network is to answer goes back and forth.
"""

from __future__ import annotations

import contextlib
import io
import os
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from types import MappingProxyType
from typing import TYPE_CHECKING, Any

from plumrake.core.assess import Assessment, assess, evidence_wanted
from plumrake.core.content_hash import hash_of
from plumrake.core.dom import Document, Element, Position
from plumrake.core.evidence import Network, Pixels, ReadWord, Trials, Walk
from plumrake.core.findings import Finding, Mend, Needs
from plumrake.core.geometry import whole
from plumrake.core.inventory import (
    Inventory,
    PageViews,
    areas_of,
    inventory_of,
    page_views_of,
)
from plumrake.core.mending.edits import Contradiction
from plumrake.core.mending.source_page import CannotMend
from plumrake.core.page import Page
from plumrake.core.page_kinds import kind_of_page
from plumrake.core.patterns import Part, found_at, patterns_of
from plumrake.core.picture_texts import (
    PictureContext,
    PictureText,
    picture_context,
    picture_texts,
)
from plumrake.core.policy import Policy
from plumrake.core.probes import (
    PageLink,
    PictureToRead,
    TextsInDoubt,
    images_of,
    links_of,
    picture_keys,
    pictures_to_read,
    texts_in_doubt,
    wants_walk,
)
from plumrake.core.questions.evidence import Shown, evidence_of
from plumrake.core.questions.question import Evidence as EvidenceKind
from plumrake.core.scope import selected
from plumrake.core.views.heard import heard
from plumrake.core.views.lists import names
from plumrake.core.written_patterns import Tree, Written, patterns_at, tree_of, written_patterns
from plumrake.lenses.align import positions
from plumrake.lenses.markup import TooManyElements, decode, parse_document
from plumrake.lenses.picture_files import texts_in_file
from plumrake.lenses.styles import styled
from plumrake.net.problems import CODES, Problem
from plumrake.spelling.dictionaries import DictionaryUnreadable, TooManyWords, installed, spell
from plumrake.spelling.tongues import tongues

if TYPE_CHECKING:
    from plumrake.lenses.content_places import ContentPlaces
    from plumrake.lenses.sources import Planned, SourceForm, SourcePlace

_SURE = 60
_TESSERACT_SECONDS = 60
_SEGMENTATIONS = (6, 12, 3)
"""How Tesseract looks at a picture (its page segmentation modes): as one block of text, and where
that finds little, as words strewn over it, as on a floor plan, and as a page with columns."""
_ENOUGH_WORDS = 4
_MOVED = 3
_LANGUAGES = {
    "en": "eng",
    "de": "deu",
    "fr": "fra",
    "es": "spa",
    "it": "ita",
    "nl": "nld",
    "pl": "pol",
    "sv": "swe",
    "cy": "cym",
}

Place = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Opened:
    """What is to be known of a page as soon as it is parsed."""

    elements: int
    asks_password: bool


@dataclass(frozen=True, slots=True)
class OpenedSource:
    """What is to be known of a page that is read by its source: the style sheets that are still
    wanted, and what tells the files of its pictures."""

    opened: Opened
    wanted: list[str]
    picture_keys: dict[int, str]


@dataclass(frozen=True, slots=True)
class Told:
    """What is said of a page beside its findings; what it holds, its views, and what it has to show
    for questions to people, where they are wanted."""

    title: str
    language: str
    kind: str
    elements: int
    census: Mapping[str, int]
    areas: frozenset[str]
    resources: tuple[str, ...] | None
    inventory: Inventory | None
    page_views: PageViews | None
    shown: Mapping[EvidenceKind, Shown] | None


@dataclass(frozen=True, slots=True)
class SeenPlace:
    """What is at a place of a page: where it shows (CSS px; None without layout), its role and its
    name."""

    box: tuple[int, int, int, int] | None
    role: str
    name: str


@dataclass(frozen=True, slots=True)
class TriedPlace:
    """How an element is met: its role, its name with the steps that led to it, whether screen
    readers meet it at all, the lines that are heard of it; and all that is found on its page."""

    role: str
    name: str
    exposed: bool
    trace: list[dict[str, Any]]
    heard: list[str]
    findings: list[Finding]


class Assessor:
    """The page that is being read. First its source is taken in, then it is opened through one
    lens, then more is learnt of it; ``assess`` may be asked at any time from then on."""

    def __init__(self) -> None:
        self._source = ""
        self._is_fragment = False
        self._page: Page | None = None
        self._written: Page | None = None
        self._sheets: dict[str, str] = {}
        self._assessed: tuple[Policy, Page, Assessment] | None = None

    @property
    def page(self) -> Page:
        """The page with all that is known of it by now."""
        assert self._page is not None, "no page was opened"
        return self._page

    def take_source(self, body: bytes, charset: str | None, *, is_fragment: bool = False) -> bytes:
        """Begin a page (or a part of one) with its HTML; return it in UTF-8, so that both lenses
        read the same characters."""
        self._source, self._page, self._assessed = decode(body, charset), None, None
        self._is_fragment = is_fragment
        return self._source.encode("utf-8", "replace")

    def open_markup(self, address: str, most_elements: int) -> Opened | Problem:
        """Open the source as it is."""
        try:
            document = parse_document(self._source, address, most_elements=most_elements)
        except TooManyElements as error:
            return Problem(error.code, str(error))
        return self._open(document)

    def open_source(
        self,
        body: bytes,
        charset: str | None,
        address: str,
        most_elements: int,
        at: str,
        at_hand: dict[str, str | None],
        *,
        is_fragment: bool = False,
    ) -> OpenedSource | Problem:
        """Begin a page, open its source, and learn those of its style sheets that are at hand: all
        in one, since each question to another process takes its time."""
        self.take_source(body, charset, is_fragment=is_fragment)
        opened = self.open_markup(address, most_elements)
        if isinstance(opened, Problem):
            return opened
        return OpenedSource(opened, self.know_sheets({}, at, at_hand), self.picture_keys())

    def know_sheets(
        self,
        texts: dict[str, str | None],
        at: str,
        at_hand: Mapping[str, str | None] = MappingProxyType({}),
    ) -> list[str]:
        """Learn the style sheets of the page, which came from an address, by theirs (None: there is
        none); those ``at_hand`` are taken as far as the page wants them. Return those that are
        still wanted; where there are none, its styles are known from then on."""
        while isinstance(found := styled(self.page, texts, at), list):
            if not all(one in at_hand for one in found):
                return found
            texts = {**texts, **{one: at_hand[one] for one in found}}
        self._page, self._assessed = found, None
        self._sheets = {one: hash_of((text or "").encode()) for one, text in texts.items()}
        return []

    def written(self, files: dict[int, str]) -> Written | None:
        """Learn what the files of pictures are known by; return what the page is made of by its
        source and style sheets, None where those are not known. It is remembered until the next."""
        self.know_files(files)
        self._written = self.page if Needs.STYLE in self.page.document.gives else None
        if self._written is None:
            return None
        return Written(written_patterns(self.page, self._sheets), tree_of(self.page))

    def tree(self) -> Tree:
        """Return the tree of the page's body."""
        return tree_of(self.page)

    def patterns_written_at(self, places: list[str]) -> frozenset[int]:
        """Return the patterns of the source's elements that some selectors select."""
        page = self._written
        if page is None:
            return frozenset()
        found = (one for place in places for one in selected(page.document, place))
        return patterns_at(page, found)

    def open_rendered(self, answer: str, address: str, most_elements: int) -> Opened | Problem:
        """Open what the browser made of the source: the collector's answer."""
        from plumrake.lenses.rendered.decode import decode_document

        def locate(document: Document) -> Mapping[int, Position]:
            try:
                written = parse_document(
                    document.source, document.address, most_elements=most_elements
                )
            except TooManyElements:
                return {}
            return positions(document.elements, written.elements)

        try:
            document = decode_document(
                answer, address, self._source, most_elements=most_elements, locate=locate
            )
        except TooManyElements as error:
            return Problem(error.code, str(error))
        return self._open(document)

    def open_handed_over(self, answer: str, address: str, most_elements: int) -> Opened | Problem:
        """Open what a collector is said to have answered; anybody may have written it."""
        try:
            return self.open_rendered(answer, address, most_elements)
        except (ValueError, LookupError, TypeError, AttributeError, RecursionError):
            return Problem("bad-hand-over", CODES["bad-hand-over"])

    def _open(self, document: Document) -> Opened:
        if self._is_fragment:
            document = replace(document, gives=document.gives - {Needs.PAGE})
        self._page, self._assessed = Page(document), None
        asks = any(
            one.tag == "input" and one.get("type").strip().lower() == "password"
            for one in document.elements
        )
        return Opened(len(document.elements), asks)

    def images(self) -> list[int]:
        """Return the indexes of the elements that show a picture's file."""
        return images_of(self.page)

    def picture_keys(self) -> dict[int, str]:
        """Return what tells the files of pictures by their source."""
        return picture_keys(self.page)

    def know_files(self, files: dict[int, str]) -> None:
        """Learn what the files of pictures are known by."""
        self._page = self.page.knowing(files=files)

    def pictures_to_read(self) -> list[PictureToRead]:
        """Return the pictures that may hold words."""
        return pictures_to_read(self.page)

    def know_words(self, words: dict[int, tuple[ReadWord, ...]]) -> None:
        """Learn the words that stand in pictures."""
        self._page = self.page.knowing(Needs.RECOGNITION, words=words)

    def texts_in_doubt(self) -> TextsInDoubt | None:
        """Return where the texts stand whose background only pixels can tell."""
        return texts_in_doubt(self.page)

    def know_pixels(self, shot: bytes | None, top: int, places: list[Place | None]) -> None:
        """Learn the pixels behind the texts in doubt: a PNG of the strip that begins at ``top``,
        and where the texts' owners were then. Where most have moved nothing is learnt."""
        doubt = texts_in_doubt(self.page)
        if shot is None or doubt is None:
            self._page = self.page.knowing(Needs.PIXELS, pixels=None)
            return
        moved = frozenset(
            index
            for (index, x, y), place in zip(doubt.owners, places, strict=True)
            if place is None or abs(place[0] - x) > _MOVED or abs(place[1] - y) > _MOVED
        )
        if len(moved) * 2 > len(doubt.owners):
            return
        picture = _picture(shot)
        pixels = Pixels(top, picture.width, picture.height, picture.tobytes(), moved)
        self._page = self.page.knowing(Needs.PIXELS, pixels=pixels)

    def know_trials(self, trials: Trials | None) -> None:
        """Learn what becomes of other layouts."""
        self._page = self.page.knowing(trials=trials)

    def patterns(self, drawn: dict[str, str]) -> frozenset[int]:
        """Return what other layouts and Tab can go wrong with, see ``core/patterns.py``."""
        return patterns_of(self.page, drawn)

    def found_at(self) -> dict[int, Part]:
        """Return the page's patterns at which other layouts or Tab showed something, each with the
        parts that did."""
        return found_at(self.page, self.page.evidence.trials, self.page.evidence.walk)

    def tried_parts(self) -> Part:
        """Return what was tried with the page to its end."""
        trials, walk = self.page.evidence.trials, self.page.evidence.walk
        parts = Part(0)
        if trials is not None and trials.too_wide is not None:
            parts |= Part.NARROW
        if trials is not None and trials.doubled is not None:
            parts |= Part.TEXT
        if walk is not None and (walk.ended or not walk.stops):
            parts |= Part.KEYBOARD
        return parts

    def wants_walk(self) -> bool:
        """Tell whether pressing Tab may show something that the document does not."""
        return wants_walk(self.page)

    def know_walk(self, walk: Walk | None) -> None:
        """Learn what pressing Tab does."""
        self._page = self.page.knowing(Needs.KEYBOARD, walk=walk)

    def links(self) -> list[PageLink]:
        """Return the links that may be followed."""
        return links_of(self.page)

    def know_network(self, network: Network) -> None:
        """Learn what the links lead to."""
        self._page = self.page.knowing(Needs.NETWORK, network=network)

    def assess(self, policy: Policy) -> Assessment:
        """Return what the checks of a policy say of the page as it is known by now."""
        if self._assessed is None or self._assessed[:2] != (policy, self.page):
            page, wanted = self.page, evidence_wanted(policy)
            if Needs.LANGUAGES in wanted:
                page = with_languages(page)
            if Needs.DICTIONARY in wanted:
                page = with_dictionaries(page)
            self._page = page
            self._assessed = policy, page, assess(page, policy)
        return self._assessed[2]

    def plan(
        self,
        text: str,
        place: Finding | SourcePlace,
        mend: Mend,
        most_elements: int,
        *,
        form: SourceForm = "page",
    ) -> Planned | str:
        """Return how a mend is carried out in a source, or why it cannot be; the page that is open
        has nothing to do with it."""
        from plumrake.lenses.sources import planned  # only where something is mended

        try:
            return planned(text, place, mend, most_elements=most_elements, form=form)
        except (CannotMend, TooManyElements) as error:
            return str(error)

    def content_places(
        self, content: str, page: bytes, most_elements: int, form: SourceForm
    ) -> ContentPlaces | str:
        """Return where what a page shows is written in the content that it is made from, or why
        that is not known."""
        from plumrake.lenses.content_places import block_places, markdown_places  # as above

        pair = markdown_places if form == "markdown" else block_places
        try:
            return pair(content, decode(page, "utf-8"), most_elements=most_elements)
        except TooManyElements as error:
            return str(error)

    def build(self, before: str, after: str, page: bytes, most_elements: int) -> bytes | str:
        """Return a page as it is built once its Markdown is changed, or why that cannot be told."""
        from plumrake.lenses.built_pages import built_with  # only where there is Markdown

        shown = decode(page, "utf-8")
        try:
            return built_with(before, after, shown, most_elements=most_elements).encode()
        except (CannotMend, TooManyElements, Contradiction) as error:
            return str(error)

    def span(self, text: str, place: SourcePlace, most_elements: int) -> tuple[int, int] | str:
        """Return where an element stands in a page's HTML, or why that is not known."""
        from plumrake.lenses.sources import span_of  # as above

        try:
            return span_of(text, place, most_elements=most_elements)
        except (CannotMend, TooManyElements) as error:
            return str(error)

    def tried(self, line: int, column: int, policy: Policy) -> TriedPlace | None:
        """Return how the element at a line and column is met by now, and what is found on the
        page."""
        element = self._element_at(line, column)
        if element is None:
            return None
        found = self.assess(policy).findings
        page = self.page
        inside = {page.selector_of(one) for one in (element, *element.descendants())}
        named = [row for row in names(page) if row["selector"] == page.selector_of(element)]
        return TriedPlace(
            page.role_of(element),
            page.name_of(element),
            page.is_exposed(element),
            named[0]["trace"] if named else [],
            [str(row["line"]) for row in heard(page) if row["selector"] in inside],
            list(found),
        )

    def _element_at(self, line: int, column: int) -> Element | None:
        position = self.page.document.position_of
        return next((one for one in self.page.elements if position(one) == (line, column)), None)

    def picture_at(self, line: int, column: int) -> PictureContext | None:
        """Return what is around the picture whose tag stands at a line and column; None where there
        is no picture."""
        element = self._element_at(line, column)
        if element is None or element.tag not in ("img", "area", "input", "image"):
            return None
        return picture_context(self.page, element)

    def picture_texts_at(
        self,
        line: int,
        column: int,
        elsewhere: dict[str, int],
        body: bytes,
        last: list[PictureText],
        longest: int,
    ) -> list[PictureText]:
        """Return texts that a picture might get: what it is called ``elsewhere``, what its file
        (``body``) says and shows, what is around it, and the ``last``."""
        element = self._element_at(line, column)
        if element is None:
            return []
        shown = words_shown(body, self.page.language_of(element).partition("-")[0])
        words = [PictureText(shown, "the words in the picture")] if shown else []
        return picture_texts(
            self.page,
            element,
            elsewhere=elsewhere,
            in_file=texts_in_file(body),
            last=[*last, *words],
            longest=longest,
        )

    def place_at(self, line: int, column: int) -> SeenPlace | None:
        """Return what the element is whose start tag stands at a line and column, from 1; None
        where there is none."""
        element = self._element_at(line, column)
        if element is None:
            return None
        shown = whole(element.box)
        box = (shown[0], shown[1], shown[2], shown[3]) if shown is not None else None
        return SeenPlace(box, self.page.role_of(element), self.page.name_of(element))

    def tell(self, *, in_full: bool) -> Told:
        """Return what is said of the page beside its findings."""
        page = self.page
        return Told(
            page.title,
            page.language,
            kind_of_page(page.document),
            len(page.elements),
            page.structure.census,
            areas_of(page),
            page.document.resources,
            inventory_of(page) if in_full else None,
            page_views_of(page) if in_full else None,
            evidence_of(page) if in_full else None,
        )


def with_dictionaries(page: Page) -> Page:
    """Return the page with what dictionaries know of its words, if there are dictionaries and it
    can be done in time."""
    if installed():
        with contextlib.suppress(TooManyWords, DictionaryUnreadable):
            return page.knowing(Needs.DICTIONARY, spelled=spell(page))
    return page


def with_languages(page: Page) -> Page:
    """Return the page with the language of its long passages, told from their letters."""
    return page.knowing(Needs.LANGUAGES, tongues=tongues(page))


def differ(one: bytes, other: bytes) -> bool:
    """Tell whether two PNGs show something different."""
    from PIL import ImageChops

    return ImageChops.difference(_picture(one), _picture(other)).getbbox() is not None


def _picture(png: bytes) -> Any:
    from PIL import Image

    return Image.open(io.BytesIO(png)).convert("RGB")


def words_in(png: bytes, language: str, *, one_line: bool) -> tuple[ReadWord, ...] | None:
    """Return the words that Tesseract reads in a picture; None where it does not answer."""
    import pytesseract

    # several threads for one small picture only get in each other's way
    os.environ["OMP_THREAD_LIMIT"] = "1"
    wanted = _LANGUAGES.get(language, "eng")
    best: tuple[ReadWord, ...] = ()
    for mode in (7,) if one_line else _SEGMENTATIONS:
        try:
            answer: dict[str, list[Any]] = pytesseract.image_to_data(
                _picture(png),
                lang=wanted if wanted in _installed() else "eng",
                config=f"--psm {mode}",
                timeout=_TESSERACT_SECONDS,
                output_type=pytesseract.Output.DICT,
            )
        except (RuntimeError, OSError):
            return None
        rows = zip(answer["text"], answer["conf"], strict=True)
        read = tuple(
            ReadWord(str(text), float(sure) / 100)
            for text, sure in rows
            if str(text).strip() and float(sure) >= _SURE
        )
        if sum(one.sure for one in read) > sum(one.sure for one in best):
            best = read
        if len(best) >= _ENOUGH_WORDS:
            break
    return best


_MOST_PIXELS = 8_000_000
_LEAST_WORDS = 2


def words_shown(body: bytes, language: str) -> str:
    """Return the words that a picture's file shows, as one line; ``""`` where there are hardly any,
    or it cannot be read."""
    from PIL import Image

    with contextlib.suppress(Exception):  # whatever a stranger's file makes the libraries raise
        picture = Image.open(io.BytesIO(body))
        if picture.width * picture.height > _MOST_PIXELS:
            return ""
        out = io.BytesIO()
        picture.convert("RGB").save(out, "PNG")
        words = words_in(out.getvalue(), language, one_line=False) or ()
        if len(words) >= _LEAST_WORDS:
            return " ".join(one.text for one in words)
    return ""


@cache
def _installed() -> frozenset[str]:
    import pytesseract

    return frozenset(pytesseract.get_languages())
