"""Names with their trace, roles, exposure, languages: the cases of the standards, read from
markup."""

import pytest

from plumrake.core.dom import Element
from plumrake.core.page import Page
from plumrake.lenses.markup import parse_document


def page_of(html: str) -> tuple[Page, Element]:
    """Return the page and the element that carries ``data-here``."""
    page = Page(
        parse_document(f'<!doctype html><html lang="en"><body>{html}</body></html>', "here")
    )
    return page, next(element for element in page.elements if element.has("data-here"))


NAMES = [
    ("text", "<a href=/ data-here>Lock <b>times</b></a>", "Lock times"),
    ("blocks keep words apart", "<a href=/ data-here>Lock<div>times</div></a>", "Lock times"),
    ("inline elements do not", "<a href=/ data-here>Lo<b>ck</b></a>", "Lock"),
    ("a line break does", "<a href=/ data-here>Lock<br>times</a>", "Lock times"),
    ("white space is folded", "<h2 data-here>\n Lock \t times&nbsp;</h2>", "Lock times"),
    ("aria-label first", '<a href=/ aria-label="Times" data-here>Lock</a>', "Times"),
    ("a blank aria-label does not count", '<a href=/ aria-label=" " data-here>Lock</a>', "Lock"),
    (
        "labelledby before label",
        '<b id=x>Hallow</b><a href=/ aria-labelledby=x aria-label="Times" data-here>Lock</a>',
        "Hallow",
    ),
    (
        "labelledby in its order",
        '<b id=x>Hallow</b><i id=y>Lock</i><a href=/ aria-labelledby="y x" data-here></a>',
        "Lock Hallow",
    ),
    (
        "labelledby to hidden content",
        "<div id=x hidden>Hallow <i>Lock</i></div><a href=/ aria-labelledby=x data-here></a>",
        "Hallow Lock",
    ),
    (
        "labelledby skips hidden parts of a shown target",
        "<div id=x>Hallow <i hidden>Lock</i></div><a href=/ aria-labelledby=x data-here></a>",
        "Hallow",
    ),
    (
        "labelledby is not chained",
        (
            "<b id=z>Far</b><b id=x aria-labelledby=z>Near</b><a href=/ aria-labelledby=x "
            "data-here></a>"
        ),
        "Near",
    ),
    (
        "labelledby to itself and others",
        (
            '<a href=/ id=s aria-label="More" aria-labelledby="s t" data-here>x</a><b '
            "id=t>moorings</b>"
        ),
        "More moorings",
    ),
    (
        "labelledby to nothing falls through",
        "<a href=/ aria-labelledby=gone data-here>Lock</a>",
        "Lock",
    ),
    ("alt", '<img alt="A heron" title="Bird" data-here>', "A heron"),
    ("title when there is no alt", '<img title="Bird" data-here>', "Bird"),
    ("pictures within a link", '<a href=/ data-here><img alt="Lock"> times</a>', "Lock times"),
    (
        "hidden parts do not count",
        '<a href=/ data-here>Lock<span aria-hidden="true"> »</span></a>',
        "Lock",
    ),
    ("title as the last resort", '<a href=/ title="Lock" data-here></a>', "Lock"),
    ("svg title", "<svg role=img data-here><title>Plan</title></svg>", "Plan"),
    ("label for", "<label for=q>Search</label><input id=q data-here>", "Search"),
    ("label around", "<label>Name <input data-here></label>", "Name"),
    (
        "two labels",
        "<label for=q>Search</label><label for=q>the site</label><input id=q data-here>",
        "Search the site",
    ),
    (
        "a hidden label still names",
        "<label for=q hidden>Search</label><input id=q data-here>",
        "Search",
    ),
    ("placeholder when nothing else", '<input placeholder="Search" data-here>', "Search"),
    ("title before placeholder", '<input placeholder="x" title="Search" data-here>', "Search"),
    (
        "embedded control",
        (
            "<label for=c>Remind me <input value=3> days before</label><input type=checkbox id=c "
            "data-here>"
        ),
        "Remind me 3 days before",
    ),
    (
        "chosen option in a label",
        (
            "<label for=c>In <select><option>May<option selected>June</select></label><input "
            "type=checkbox id=c data-here>"
        ),
        "In June",
    ),
    ("submit has the browser's label", "<input type=submit data-here>", "Submit"),
    ("an empty value is empty", '<input type=submit value="" data-here>', ""),
    ("image button", '<input type=image alt="Go" data-here>', "Go"),
    ("button by content", "<button data-here><i></i>Send</button>", "Send"),
    ("fieldset by legend", "<fieldset data-here><legend>Boat</legend></fieldset>", "Boat"),
    ("table by caption", "<table data-here><caption>Fees</caption></table>", "Fees"),
    (
        "figure by figcaption",
        "<figure data-here><figcaption>By Maud</figcaption></figure>",
        "By Maud",
    ),
    ("no name from content for a paragraph", "<p data-here>Lock</p>", ""),
    ("nor for a landmark", "<nav data-here>Lock</nav>", ""),
    ("aria-owns", "<h2 data-here aria-owns=o>Lock </h2><b id=o>times</b>", "Lock times"),
]


@pytest.mark.parametrize(
    ("html", "name"), [pytest.param(html, name, id=about) for about, html, name in NAMES]
)
def test_accessible_name(html: str, name: str) -> None:
    """The name is what the specification computes."""
    page, element = page_of(html)
    assert page.raw_name_of(element) == name


def test_trace_says_why_a_name_is_empty() -> None:
    """The trace names the hidden part that swallowed the text."""
    page, element = page_of('<a href=/ data-here><span aria-hidden="true">Locks</span></a>')
    assert [(step.step, step.element.tag, step.says) for step in page.trace_of(element)] == [
        ("2A", "span", "hidden, so it gives nothing"),
        ("2F", "a", "what it holds is empty"),
    ]


def test_description() -> None:
    """A description comes from aria-describedby, else from a title that is not the name."""
    page, element = page_of(
        '<i id=d>Opens at nine</i><a href=/ aria-describedby=d title="Lock" data-here>Locks</a>'
    )
    assert page.description_of(element) == "Opens at nine"
    page, element = page_of('<a href=/ title="Opens at nine" data-here>Locks</a>')
    assert page.description_of(element) == "Opens at nine"


@pytest.mark.parametrize(
    "name", ["", " ", "\u00a0", "\u00ad\u200b", "\ue900", "…", "-", "|", " . . . "]
)
def test_what_says_nothing_is_no_name(name: str) -> None:
    """White space, invisible characters and placeholder glyphs are no name."""
    page, element = page_of(f"<a href=/ data-here>{name}</a>")
    assert page.name_of(element) == ""


ROLES = [
    ("<header data-here></header>", "banner"),
    ("<article><header data-here></header></article>", "generic"),
    ("<div role=article><footer data-here></footer></div>", "generic"),
    ("<footer data-here></footer>", "contentinfo"),
    ("<section data-here></section>", "generic"),
    ("<section aria-label=Fees data-here></section>", "region"),
    ("<form data-here></form>", "form"),
    ("<aside data-here></aside>", "complementary"),
    ("<article><aside data-here></aside></article>", "generic"),
    ("<a data-here>x</a>", "generic"),
    ("<a href=x data-here>x</a>", "link"),
    ('<img alt="" data-here>', "none"),
    ('<img alt="" title="x" aria-label="x" data-here>', "img"),
    ("<img data-here>", "img"),
    ("<ul role=presentation><li data-here></ul>", "none"),
    ("<ul><li data-here></ul>", "listitem"),
    ("<table role=none><tr><td data-here></table>", "none"),
    ("<table role=grid><tr><td data-here></table>", "gridcell"),
    ("<table><tr><td data-here></table>", "cell"),
    ("<table><tr><th data-here><td></table>", "rowheader"),
    ("<table><tr><th data-here><th></table>", "columnheader"),
    ('<h2 role="foo button" data-here></h2>', "button"),
    ('<h2 role="foo" data-here></h2>', "heading"),
    ("<h2 role=none data-here></h2>", "none"),
    ("<h2 role=none tabindex=0 data-here></h2>", "heading"),
    ("<h2 role=none aria-label=x data-here></h2>", "heading"),
    ("<input data-here>", "textbox"),
    ("<input type=checkbox data-here>", "checkbox"),
    ("<input type=password data-here>", ""),
    ("<input list=l data-here><datalist id=l></datalist>", "combobox"),
    ("<select data-here></select>", "combobox"),
    ("<select multiple data-here></select>", "listbox"),
    ("<details><summary data-here></summary></details>", "button"),
    ("<div role=image data-here></div>", "img"),
]


@pytest.mark.parametrize(("html", "role"), ROLES)
def test_role(html: str, role: str) -> None:
    """Explicit roles where valid, else HTML-AAM's in context."""
    page, element = page_of(html)
    assert page.role_of(element) == role


HIDDEN = [
    "<div hidden><p data-here>x</p></div>",
    "<p style='display:none' data-here>x</p>",
    "<p style='visibility: hidden' data-here>x</p>",
    "<div aria-hidden=true><p data-here>x</p></div>",
    "<div inert><p data-here>x</p></div>",
    "<details><summary>y</summary><p data-here>x</p></details>",
    "<dialog><p data-here>x</p></dialog>",
    "<div popover><p data-here>x</p></div>",
    "<noscript><p data-here>x</p></noscript>",
    "<map name=m><area href=/ alt=x data-here></map>",
]
EXPOSED = [
    "<p data-here>x</p>",
    "<div aria-hidden=false><p data-here>x</p></div>",
    "<details open><summary>y</summary><p data-here>x</p></details>",
    "<details><summary data-here>y</summary></details>",
    "<dialog open><p data-here>x</p></dialog>",
    "<div style='visibility:hidden'><p style='visibility:visible' data-here>x</p></div>",
    "<img usemap='#m' alt=y><map name=m><area href=/ alt=x data-here></map>",
    "<p style='opacity:0' data-here>x</p>",
]


@pytest.mark.parametrize(
    ("html", "exposed"), [*((html, False) for html in HIDDEN), *((html, True) for html in EXPOSED)]
)
def test_exposure(html: str, exposed: bool) -> None:
    """What assistive technology meets, and what it does not."""
    page, element = page_of(html)
    assert page.is_exposed(element) is exposed


@pytest.mark.parametrize(
    ("html", "language"),
    [
        ("<p data-here>x</p>", "en"),
        ("<div lang=de-AT><p data-here>x</p></div>", "de"),
        ("<p lang='' data-here>x</p>", ""),
        ("<p lang=FR data-here>x</p>", "fr"),
    ],
)
def test_language(html: str, language: str) -> None:
    """The nearest lang counts, an empty one too."""
    page, element = page_of(html)
    assert page.language_of(element) == language


def test_forty_thousand_nested_elements() -> None:
    """Depth alone breaks nothing."""
    page, element = page_of(
        "<a href=/ data-here>" + "<b><i>" * 3000 + "deep" + "</i></b>" * 3000 + "</a>"
    )
    assert page.raw_name_of(element) == "deep"
    assert page.selector_of(page.elements[-1])
