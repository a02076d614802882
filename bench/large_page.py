"""One large page: how long it takes to judge, at two sizes, through both lenses, and how much
memory.

The page is a list of cards as templates make them: headings, links, pictures, tables, forms, nested
lists.
"""

from __future__ import annotations

import asyncio
import resource
import time

from plumrake.actions.reading import read_options_of
from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.markup import parse_document
from plumrake.lenses.reader import PageReader
from plumrake.net.fetch import Limits

SIZES = (20_000, 40_000)
_CARD = """<section class="card" id="card-{n}"><h2>Lock number {n}</h2><p>Built in <b>18{n:02d}</b>, see the
<a href="/locks/{n}/">lock {n}</a> or <a href="/more/{n}/">read more</a>.</p><img src="/p/{n}.jpg" alt="Lock {n}" width="60" height="40">
<ul><li><a href="/a/{n}">Times</a></li><li>Fees<ul><li><span>day</span></li><li><span>night</span></li></ul></li></ul>
<table><caption>Times {n}</caption><tr><th scope="col">Day</th><th scope="col">Open</th></tr><tr><td>Mon</td><td>{n}</td></tr></table>
<label for="f{n}">Boat</label><input id="f{n}" name="boat{n}"><p style="color:#888">Pale words about lock {n}.</p></section>
"""  # noqa: E501
_PER_CARD = 33


def page_of(elements: int) -> str:
    """Return a page of about so many elements."""
    cards = "".join(_CARD.format(n=number) for number in range(elements // _PER_CARD))
    return (
        "<!doctype html><html "
        f"lang='en'><head><title>Locks</title></head><body><main><h1>Locks</h1>{cards}</main>"
        "</body></html>"
    )


def main() -> None:
    """Print seconds, findings and peak memory for each size and lens, and how time grows."""
    asyncio.run(_main())


async def _main() -> None:
    policy = Policy()
    for lens in ("markup", "rendered"):
        taken = []
        async with PageReader(lens, Limits(seconds=120)) as reader:
            for size in SIZES:
                html = page_of(size)
                start = time.monotonic()
                if lens == "markup":
                    page = Page(parse_document(html, "http://large.invalid/"))
                else:
                    obtained = await reader.read_html(
                        html.encode(), "http://large.invalid/", read_options_of(policy)
                    )
                    assert obtained.page is not None, obtained.problem
                    page = obtained.page
                read = time.monotonic() - start
                found = assess(page, policy)
                taken.append(time.monotonic() - start - read)
                peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
                figures = (
                    f"{len(page.elements):,} elements: read {read:.1f} s, judged {taken[-1]:.1f} "
                    f"s, {len(found.findings):,} findings, peak {peak} MiB"
                )
                print(f"{lens:<9} {figures}, untested: {len(found.untested)}")
        print(f"{lens:<9} twice the elements take {taken[1] / taken[0]:.2f} times as long to judge")


if __name__ == "__main__":
    main()
