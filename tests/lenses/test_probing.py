"""What the rendered lens gathers beside the document: pixels, a walk by Tab, other layouts. All of
it in a real browser."""

import asyncio
import io
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest
from PIL import Image, ImageDraw, ImageFont

from plumrake.actions.reading import read_and_assess
from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import Policy, policy_from
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import PageReader
from tests.services import serve_in_thread


def read(html: str, options: ReadOptions | None = None) -> Page:
    """Return a page read in the browser."""

    async def one() -> Page:
        async with PageReader("rendered") as reader:
            obtained = await reader.read_html(
                f"<!doctype html><html lang=en><body>{html}".encode(),
                "http://probe.invalid/",
                options or ReadOptions(),
            )
        assert obtained.page is not None, obtained.problem
        return obtained.page

    return asyncio.run(one())


def tags(page: Page, indexes: tuple[int, ...]) -> list[str]:
    """Return the ids of elements."""
    return [page.elements[index].get("id") for index in indexes]


LINKS = "<a id=a href=/a>a</a><button id=b>b</button><input id=c aria-label=c>"


def test_plain_page_needs_no_walk() -> None:
    """Where nothing can go wrong, Tab is not pressed."""
    walk = read(LINKS).evidence.walk
    assert walk is not None
    assert walk.stops == ()


def test_walk_goes_through_the_page_in_order() -> None:
    """Stops are kept in the order in which Tab reached them; disabled, hidden and negative ones are
    none."""
    page = read(
        f"<style>a:focus{{outline:none}}</style>{LINKS}<button disabled>d</button><a href=/e "
        "hidden>e</a><a href=/f tabindex=-1>f</a>"
    )
    walk = page.evidence.walk
    assert walk is not None
    assert walk.ended
    assert tags(page, walk.stops) == ["a", "b", "c"]
    assert tags(page, walk.unmarked) == ["a"]


def test_mark_on_a_neighbour_counts() -> None:
    """A control whose mark shows only beside it is confirmed by pixels."""
    page = read(
        "<style>"
        "input{opacity:0}input:focus{outline:0}input:focus+span{background:#c00}</style>"
        "<label><input type=checkbox id=a><span>Winter</span></label>"
    )
    assert page.evidence.walk is not None
    assert page.evidence.walk.unmarked == ()


def test_trap_is_found_by_pressing_keys() -> None:
    """Focus that neither Tab nor Shift+Tab nor Escape moves on is trapped; what comes after is not
    called unreachable."""
    page = read(
        "<a id=a href=/a>a</a><button id=b onkeydown=\"if (event.key === 'Tab') "
        'event.preventDefault()">b</button><a id=c href=/c>c</a>'
    )
    walk = page.evidence.walk
    assert walk is not None
    assert tags(page, walk.trapped) == ["b"]
    assert not walk.ended


def test_pixels_are_taken_only_where_they_are_needed() -> None:
    """An even background needs no pixels; a gradient is shot without its text."""
    assert read("<p>Words on white</p>").evidence.pixels is None
    page = read(
        "<p "
        "style='margin:0;width:200px;height:40px;color:#000;background:linear-gradient(#fff,"
        "#ff0000 1px,#f00)'>MMMMMM</p>"
    )
    pixels = page.evidence.pixels
    assert pixels is not None
    box = page.elements[-1].box
    assert box is not None
    assert {colour.hex() for colour in pixels.behind((box[0], box[1] + 5, 60, 20))} == {"#ff0000"}


@pytest.mark.parametrize("step", ["pixels", "keyboard", "zoom"])
def test_what_is_not_wanted_is_not_gathered(step: str) -> None:
    """An option leaves evidence out."""
    page = read(
        (
            "<style>a:focus{outline:0}</style><p "
            "style='background:linear-gradient(red,blue)'>M</p><a href=/a>a</a>"
        ),
        ReadOptions(**{step: False}),
    )
    gathered = {
        "pixels": page.evidence.pixels,
        "keyboard": page.evidence.walk,
        "zoom": page.evidence.trials,
    }
    assert [name for name, value in gathered.items() if value is None] == [step]


def test_trials_leave_the_page_as_it_was() -> None:
    """Styles that were written stand again after the trials, and new ones are gone: the picture
    shows the page as it is."""
    shots: list[int] = []

    async def wanted() -> int | None:
        shots.append(1)
        return 2000

    html = (
        b"<!doctype html><html lang=en><body><p "
        b"style='height:20px;overflow:hidden;font-size:16px'>Volunteers meet</p>"
    )

    async def both() -> tuple[bytes | None, bytes | None]:
        async with PageReader("rendered") as reader:
            tried = await reader.read_html(
                html, "http://probe.invalid/", ReadOptions(picture_down=wanted)
            )
            plain = await reader.read_html(
                html,
                "http://probe.invalid/",
                ReadOptions(picture_down=wanted, pixels=False, keyboard=False, zoom=False),
            )
        assert tried.page is not None
        assert tried.page.evidence.trials is not None
        assert [misfit.kind for misfit in tried.page.evidence.trials.doubled] == ["cut"]
        return tried.picture, plain.picture

    tried, plain = asyncio.run(both())
    assert tried == plain
    assert len(shots) == 2


def test_picture_reaches_down_to_the_lowest_finding() -> None:
    """What lies far below the last fault is not pictured; a page without faults that are worth it
    has no picture."""
    html = (
        b"<!doctype html><html lang=en><title>Tall</title><main><h1>Tall</h1><img src=/a.png "
        b"style='display:block;height:200px'><p style='height:6000px'>x"
    )

    async def read(worth: bool) -> bytes | None:
        async with PageReader("rendered") as reader:
            result = await read_and_assess(
                lambda options: reader.read_html(html, "http://probe.invalid/", options),
                Policy(only=("pictures/no-text",)),
                reader.runners,
                worth=lambda _: worth,
            )
        assert [one.check for one in result.assessment.findings] == ["pictures/no-text"]
        return result.picture

    picture = asyncio.run(read(True))
    assert picture is not None
    with Image.open(io.BytesIO(picture)) as shown:
        assert 400 < shown.height < 900
    assert asyncio.run(read(False)) is None


PALE = (
    "<p class=wordmark style='color: #999999; background: #ffffff'>Harrowmere "
    "<b>Canal</b></p><p style='color: #999999; background: #ffffff'>Open daily</p>"
)


def test_palette_and_logotypes() -> None:
    """A logo that the policy names is left alone; other pale text is offered the nearest passing
    pair of the palette."""
    policy = policy_from(
        {
            "only": ["contrast/text"],
            "palette": ["#10303a", "white", "#777777"],
            "logotypes": [".wordmark"],
        }
    )
    found = assess(read(PALE), policy).findings
    assert [one.selector for one in found] == ["body > p:nth-of-type(2)"]
    assert found[0].facts["palette_pair"] == {
        "text": "#10303a",
        "background": "#ffffff",
        "ratio": 13.94,
    }
    assert (
        found[0]
        .mends[-1]["says"]
        .startswith("Or take the nearest pair of the site's palette: text #10303a on #ffffff")
    )


class Late(BaseHTTPRequestHandler):
    """A page whose first picture comes after its load is no longer waited for, and whose second is
    put off until it is near."""

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def do_GET(self) -> None:
        if self.path == "/":
            size, far = (
                'width="400" height="60" alt="Notice"',
                'loading="lazy" style="display: block; margin-top: 20000px"',
            )
            body = (
                "<!doctype html><html lang=en><title>Late</title><main><img src=/closed.png "
                f"{size}><img src=/flooded.png {size} {far}></main>"
            ).encode()
        else:
            time.sleep(6.5 if "closed" in self.path else 0)
            picture = Image.new("RGB", (400, 60), "white")
            ImageDraw.Draw(picture).text(
                (10, 8),
                f"Towpath {self.path[1:-4]} today",
                "black",
                ImageFont.truetype("DejaVuSans.ttf", 32),
            )
            file = io.BytesIO()
            picture.save(file, "PNG")
            body = file.getvalue()
        self.send_response(200)
        self.send_header("Content-Type", "text/html" if self.path == "/" else "image/png")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)


def test_words_are_read_in_pictures_that_come_late() -> None:
    """Neither a picture still on its way nor one that waits to be scrolled to is taken for one
    without words."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), Late)
    origin = serve_in_thread(server)

    async def one() -> Page:
        async with PageReader("rendered", private_origins=[origin]) as reader:
            obtained = await reader.read_address(
                f"{origin}/", ReadOptions(pixels=False, keyboard=False, zoom=False)
            )
        assert obtained.page is not None, obtained.problem
        return obtained.page

    evidence = asyncio.run(one()).evidence
    server.shutdown()
    assert "recognition" in evidence.kinds
    assert [" ".join(word.text for word in words) for words in evidence.words.values()] == [
        "Towpath closed today",
        "Towpath flooded today",
    ]


def test_pixels_of_a_page_that_moved_meanwhile_do_not_count() -> None:
    """Where something pushes the page down after it was read, its shot shows other places; the rest
    is gathered all the same."""
    text = (
        "<p style='background: linear-gradient(#000, #333); color: #fff'>Words on a gradient</p>"
        * 3
    )
    push = (
        "<script>setInterval(() => { const box = document.createElement('div'); box.style.height "
        "= '40px'; document.body.prepend(box) }, 20)</script>"
    )
    moved, still = read(f"{text}{push}").evidence, read(text).evidence
    assert (still.pixels is not None, "pixels" in still.kinds) == (True, True)
    assert (moved.pixels is None, "pixels" in moved.kinds) == (True, False)
    assert moved.trials is not None


def test_single_texts_that_moved_meanwhile_are_not_judged() -> None:
    """A text that something pushed down since the page was read stands over other pixels by then:
    nothing is said of it, and of the others all the same."""
    over = "style='background: linear-gradient(#000, #333); color: {}'"
    still = "".join(f"<p id=s{at} {over.format('#444')}>Still words</p>" for at in range(3))
    push = (
        "<script>let at = 0; setInterval(() => { late.style.marginTop = `${++at * 20}px` }, "
        "20)</script>"
    )
    page = read(f"{still}<p id=late {over.format('#444')}>Late words</p>{push}")
    assert page.evidence.pixels is not None
    assert tags(page, tuple(page.evidence.pixels.moved)) == ["late"]
    found = assess(page, Policy(only=("contrast/text-on-picture",))).findings
    assert [one.selector for one in found] == ["#s0", "#s1", "#s2"]


def test_control_that_is_pushed_away_while_it_is_looked_at_is_not_accused() -> None:
    """A message that comes above a control just after it took focus moves it out of the picture:
    that is no missing mark."""
    page = read(
        "<style>a:focus{outline:none} p:has(:focus){background:#c00}</style><div "
        "id=told></div><p><a id=a href=/a>Locks</a></p>"
        "<script>let byKey = false; document.onkeydown = () => { byKey = true; setTimeout(() "
        "=> { byKey = false }) };"
        "a.onfocus = () => { if (!byKey) setTimeout(() => { told.style.height = '400px' }); "
        "}</script>"
    )
    assert page.evidence.walk is not None
    assert page.evidence.walk.stops
    assert page.evidence.walk.unmarked == ()
