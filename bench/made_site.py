"""A made site of any size: twelve templates, each with a fault of its own, and editors' faults here
and there, with the key.

Pages are made by rule from their numbers, so the same size gives the same site. ``python -m
bench.made_site FOLDER [PAGES]`` writes one.
"""

from __future__ import annotations

import random
import re
import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from plumrake.demo.pictures import draw

_PLACES = (
    "Hallow",
    "Brindle",
    "Saltby",
    "Marling",
    "Oakhurst",
    "Fernley",
    "Withy",
    "Copse",
    "Dunmere",
    "Alder",
    "Rushton",
    "Tarn",
)
_THINGS = (
    "lock",
    "towpath",
    "winding hole",
    "aqueduct",
    "basin",
    "mooring",
    "footbridge",
    "lift bridge",
    "feeder",
    "weir",
    "culvert",
    "slipway",
)
_DEEDS = (
    "was surveyed",
    "is open again",
    "has a new gate",
    "was cleared of reed",
    "got fresh paint",
    "is closed for repair",
    "has been dredged",
)
_MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
_CHANCE_OF_SLIP = 0.04


@dataclass(frozen=True, slots=True)
class Template:
    """A template: the path of its section, the checks that its fault fails, and the markup around
    the content."""

    section: str
    checks: tuple[str, ...]
    before: str = ""
    after: str = ""
    language: str = ' lang="en"'
    head: str = ""


_CARD = (
    '<li class="card"><h3><a '
    'href="/{section}/{near@}/">{near_title@}</a></h3>{picture@}<p>About the {thing@} near '
    "{place@}.</p>{more@}</li>"
)
_CARDS = "".join(_CARD.replace("@", str(number)) for number in range(3))
_RELATED = (
    '<section class="related" aria-labelledby="related"><h2 id="related">Nearby</h2><ul '
    f'class="cards">{_CARDS}</ul></section>'
)
_MORE = '<a class="more" href="/{section}/{near}/" data-fault>Read more</a>'
_LAZY = '<img class="teaser" src="/media/scene-{n}.jpg" width="160" height="90" data-fault>'

TEMPLATES: tuple[Template, ...] = (
    Template("articles", ("contrast/text",), before='<p class="dateline" data-fault>{date}</p>'),
    Template("events", ("links/same-text-different-places", "links/vague"), after=_RELATED),
    Template("places", ("pictures/no-text",), after=_RELATED),
    Template(
        "people",
        ("headings/level-jump",),
        after=(
            '<aside class="contact" aria-label="Contact"><h4 data-fault>Who to '
            "ask</h4><p>The office "
            "is open daily.</p></aside>"
        ),
    ),
    Template(
        "notices",
        ("headings/empty",),
        before='<div class="banner"><h2 class="banner-title" data-fault></h2></div>',
    ),
    Template(
        "galleries",
        ("links/no-name",),
        after=(
            '<p class="share"><a class="share-link" href="/share/" data-fault><img '
            'src="/assets/arrow.svg" width="20" height="20" alt=""></a></p>'
        ),
    ),
    Template(
        "questions",
        ("controls/no-name",),
        after=(
            '<p class="helpful">Did this help? <span class="switch" role="switch" tabindex="0" '
            'aria-checked="false" data-fault></span></p>'
        ),
    ),
    Template(
        "reports",
        ("tables/no-headers",),
        after=(
            '<table class="figures"><caption>Figures</caption><tr '
            "data-row><td>Boats</td><td>{n}</td></tr><tr><td>Locks</td><td>12</td></tr><tr><td>"
            "Miles</td><td>31</td></tr></table>"
        ),
    ),
    Template(
        "forms",
        ("forms/no-label",),
        after=(
            '<form class="ask" action="/ask/"><p><input class="question" name="question" '
            "data-fault> "
            "<button>Send your question</button></p></form>"
        ),
    ),
    Template("stories", ("page/no-language",), language=""),
    Template(
        "minutes",
        ("pictures/file-name-text",),
        before=(
            '<p class="seal-line"><img class="seal" src="/media/seal_2024_final.png" width="120" '
            'height="60" alt="seal_2024_final.png" data-fault></p>'
        ),
    ),
    Template(
        "maps",
        ("page/zoom-locked",),
        head='<meta name="viewport" content="width=device-width, user-scalable=no">',
    ),
)

_SLIPS: tuple[tuple[str, str], ...] = (
    (
        "pictures/no-text",
        '<p><img src="/media/scene-slip-{n}.jpg" width="320" height="180" data-fault></p>',
    ),
    (
        "links/vague",
        (
            '<p>All about the work at {place} <a href="/articles/slip-{n}/" data-fault>click '
            "here</a>.</p>"
        ),
    ),
    ("headings/empty", "<h2 data-fault>&nbsp;</h2><p>The {thing} near {place} {deed}.</p>"),
    (
        "contrast/text",
        (
            '<p>Mind the <span style="color: #{pale}" data-fault>wet paint at {place}</span> '
            "until Sunday.</p>"
        ),
    ),
)
_STYLE = """body { margin: 0; font: 17px/1.5 "DejaVu Sans", sans-serif; color: #1d2b30; background: #ffffff }
.site-header, .site-footer { background: #10303a; color: #ffffff; padding: 12px 24px } .site-header a, .site-footer a { color: #ffffff }
main { padding: 16px 24px; max-width: 900px } .cards { list-style: none; padding: 0 } .card { border: 1px solid #6d7d83; margin: 8px 0; padding: 8px }
.dateline { color: #9aa5a9 } .main-menu ul { list-style: none; padding: 0; margin: 0 } .main-menu a { line-height: 30px } a { color: #1b5e72 }
.skip { position: absolute; left: -999px } .skip:focus { left: 0; background: #ffffff; color: #10303a } .figures td { padding: 2px 12px }
.switch { display: inline-block; width: 48px; height: 26px; border: 3px solid #1d2b30; background: #ffffff } img { max-width: 100%; height: auto }
:focus-visible { outline: 3px solid #b35c00 } input { border: 2px solid #1d2b30; font: inherit } button { font: inherit }
"""  # noqa: E501


@dataclass(frozen=True, slots=True)
class MadePage:
    """A page: its path, template, HTML, and the check of its editor's slip, if any."""

    path: str
    template: Template
    html: str
    slip: str | None


def make_pages(count: int, *, environment: int = 0, changed: int = 0) -> list[MadePage]:
    """Return so many pages. With ``environment`` above 0 every ``changed``-th page reads
    differently in one sentence, its faults the same."""
    return [
        _page(
            number,
            count,
            f" (revised {environment})"
            if changed and number % changed == 0 and environment
            else "",
        )
        for number in range(count)
    ]


def _page(number: int, count: int, note: str) -> MadePage:
    chance = random.Random(number)
    template = TEMPLATES[number % len(TEMPLATES)]
    words = {
        "place": chance.choice(_PLACES),
        "thing": chance.choice(_THINGS),
        "deed": chance.choice(_DEEDS),
        "n": number,
        "section": template.section,
    }
    words["date"] = f"{chance.randint(1, 28)} {chance.choice(_MONTHS)} {1990 + number % 37}"
    words["pale"] = f"{0xA0 + number % 32:02x}{0xA0 + number % 31:02x}{0xA0 + number % 29:02x}"
    title = f"The {words['thing']} at {words['place']}, part {number}"
    words |= _neighbours(number, count, template)
    slip = chance.choice(_SLIPS) if chance.random() < _CHANCE_OF_SLIP else None
    sentences = _sentences(chance)
    text, again = " ".join(sentences), " ".join(sentences[: len(sentences) // 2])
    body = f"<p>{text}{note}</p><h2>What comes next</h2><p>{again}</p>"
    slipped = slip[1].format(**words) if slip is not None else ""
    viewport = (
        template.head or '<meta name="viewport" content="width=device-width, initial-scale=1">'
    )
    html = f"""<!doctype html>
<html{template.language}{" data-fault" if "page/no-language" in template.checks else ""}><head><meta charset="utf-8">{viewport}<title>{title} – Made Canal</title>
<link rel="stylesheet" href="/assets/made.css"></head><body class="{template.section}-page"><a class="skip" href="#content">Skip to the content</a>
<header class="site-header"><a class="brand" href="/">Made Canal</a><nav class="main-menu" aria-label="Main"><ul>
{"".join(f'<li><a href="/{one.section}/">{one.section.capitalize()}</a></li>' for one in TEMPLATES)}</ul></nav></header>
<main id="content"><h1>{title}</h1>{template.before.format(**words)}{body}{slipped}{template.after.format(**words)}</main>
<footer class="site-footer"><p>Made Canal is made up by rule.</p></footer></body></html>
"""  # noqa: E501
    path = f"/{template.section}/{number}/" if number >= len(TEMPLATES) else f"/{template.section}/"
    return MadePage(
        path, template, html.replace(" data-row", ""), slip[0] if slip is not None else None
    )


def _sentences(chance: random.Random) -> list[str]:
    return [
        f"The {chance.choice(_THINGS)} near {chance.choice(_PLACES)} {chance.choice(_DEEDS)}."
        for _ in range(chance.randint(6, 24))
    ]


def made_texts(count: int) -> Iterator[tuple[str, list[str]]]:
    """Give so many titles, each with its paragraphs of words alone."""
    for number in range(count):
        chance = random.Random(number)
        title = f"The {chance.choice(_THINGS)} at {chance.choice(_PLACES)}, part {number}"
        yield title, [" ".join(_sentences(chance)) for _ in range(chance.randint(2, 5))]


def _neighbours(number: int, count: int, template: Template) -> dict[str, str]:
    found: dict[str, str] = {}
    for at in range(3):
        other = (number + len(TEMPLATES) * (at + 1)) % count
        other -= (other - number) % len(TEMPLATES)
        chance = random.Random(f"{number}-{at}")
        near = str(other if other >= len(TEMPLATES) else number)
        found |= {
            f"near{at}": near,
            f"near_title{at}": f"Part {near}, {at + 1} on",
            f"thing{at}": chance.choice(_THINGS),
            f"place{at}": chance.choice(_PLACES),
        }
        found[f"picture{at}"] = (
            _LAZY.format(n=other % 40) if "pictures/no-text" in template.checks else ""
        )
        found[f"more{at}"] = (
            _MORE.format(section=template.section, near=near)
            if "links/vague" in template.checks
            else ""
        )
    return found


@dataclass(frozen=True, slots=True)
class Expected:
    """What a sweep has to find: faults by path and check (with how often), and causes by check,
    reach and template."""

    faults: Counter[tuple[str, str]]
    causes: Counter[tuple[str, int, bool]]


def key_of(pages: list[MadePage]) -> Expected:
    """Return the key of the planted faults. A template's fault is one cause; an editor's slip is
    one of its own."""
    faults: Counter[tuple[str, str]] = Counter()
    causes: Counter[tuple[str, int, bool]] = Counter()
    by_template: Counter[str] = Counter(page.template.section for page in pages)
    for template in TEMPLATES:
        for check in template.checks:
            causes[check, by_template[template.section], "page/" not in check] += 1
    for page in pages:
        marks = page.html.count("data-fault") - (1 if page.slip is not None else 0)
        for check in page.template.checks:
            faults[page.path, check] += max(1, marks)
        if page.slip is not None:
            faults[page.path, page.slip] += 1
            causes[page.slip, 1, False] += 1
    return Expected(faults, causes)


def write_site(folder: Path, pages: list[MadePage]) -> None:
    """Write the pages, their style sheet and pictures below a folder; a file that is there and the
    same is not touched."""
    for page in pages:
        file = folder / page.path.strip("/") / "index.html"
        file.parent.mkdir(parents=True, exist_ok=True)
        html = page.html.replace(" data-fault", "")
        if not file.exists() or file.read_text(encoding="utf-8") != html:
            file.write_text(html, encoding="utf-8")
    (folder / "assets").mkdir(parents=True, exist_ok=True)
    (folder / "index.html").write_text(_home(), encoding="utf-8")
    for name, text in (
        ("made.css", _STYLE),
        (
            "arrow.svg",
            (
                '<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20"><path d="M2 2l16 '
                '8-16 8z"/></svg>'
            ),
        ),
    ):
        if not (folder / "assets" / name).exists():
            (folder / "assets" / name).write_text(text, encoding="utf-8")
    for name in sorted(
        {name for page in pages for name in re.findall(r'src="/media/([^"]+)"', page.html)}
    ):
        draw(folder / "media" / name)


def _home() -> str:
    links = "".join(
        f'<li><a href="/{one.section}/">{one.section.capitalize()}</a></li>' for one in TEMPLATES
    )
    return f"""<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Start – Made Canal</title><link rel="stylesheet" href="/assets/made.css"></head><body><header class="site-header"><a class="brand" href="/">Made Canal</a>
</header><main id="content"><h1>Made Canal</h1><p>All parts of the site.</p><ul>{links}</ul></main></body></html>
"""  # noqa: E501


def sitemap(pages: list[MadePage], origin: str) -> str:
    """Return the sitemap of the pages."""
    places = "".join(f"<url><loc>{origin}{page.path}</loc></url>" for page in pages)
    return (
        '<?xml version="1.0" encoding="UTF-8"?><urlset '
        f'xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">{places}</urlset>'
    )


if __name__ == "__main__":
    write_site(Path(sys.argv[1]), make_pages(int(sys.argv[2]) if len(sys.argv) > 2 else 5000))
