"""Journeys taken in a real browser: other pages of the site, sent forms, and every way in which a
step can fail."""

import asyncio
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs

import pytest

from plumrake.core.journeys import states_of
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.lenses.rendered import journeys
from tests.services import serve_in_thread

START = """<!doctype html><html lang=en><title>Start</title><main><h1>Start</h1>
<form method=post action=/sent><label>Name <input name=name></label>
<label for=size>Size</label> <select id=size name=size><option>small<option>large</select><button>Send</button></form>
<a href=/next>Next page</a> <a href=/away>Away</a> <button>Twice</button><button>Twice</button>
<details><summary>More</summary><p id=more>Hidden words</p></details></main>"""  # noqa: E501


class Handler(BaseHTTPRequestHandler):
    """A page with a form, a page behind it, and a way out to another site."""

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def answer(self, body: str, status: int = 200, **headers: str) -> None:
        content = body.encode()
        self.send_response(status)
        for name, value in {
            "Content-Type": "text/html",
            "Content-Length": str(len(content)),
            **headers,
        }.items():
            self.send_header(name.replace("_", "-"), value)
        self.end_headers()
        self.wfile.write(content)

    def do_GET(self) -> None:
        if self.path == "/away":
            self.answer("", 302, Location="http://elsewhere.example/")
        elif self.path == "/next":
            self.answer(
                "<!doctype html><html lang=en><title>Next</title>\n<main><h1>Next</h1>\n<img "
                "src=/none.png></main>"
            )
        else:
            self.answer(START)

    def do_POST(self) -> None:
        sent = parse_qs(self.rfile.read(int(self.headers["Content-Length"])).decode())
        self.answer(
            "<!doctype html><html lang=en><title>Sent</title>\n<p "
            f"id=said>{sent['name'][0]}, {sent['size'][0]}"
        )


@pytest.fixture(scope="module")
def origin() -> Iterator[str]:
    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    yield serve_in_thread(server)
    server.shutdown()


def travelled(origin: str, *taken: list[dict[str, Any]]) -> list[Obtained]:
    """Take journeys one after the other in the same tab; return what was read at the end of
    each."""

    async def act() -> list[Obtained]:
        async with PageReader("rendered", private_origins=[origin], tabs=1) as reader:
            found = []
            for steps in taken:
                (state,) = states_of(
                    [{"name": "It", "steps": [{"go": "/"}, *steps, {"read": "End"}]}]
                )
                found.append(await reader.read_address(origin + "/", ReadOptions(state=state)))
            found.append(await reader.read_address(origin + "/"))
            return found

    return asyncio.run(act())


def test_steps_lead_to_other_pages_and_through_forms(origin: str) -> None:
    """A form is filled in and sent, a link is followed, something is opened; places are told by the
    HTML that came last."""
    fill = [{"write": "Ned Otter", "into": "Name"}, {"choose": "large", "in": "Size"}]
    sent, followed, opened, plain = travelled(
        origin,
        [*fill, {"press": "Tab"}, {"click": "Send"}, {"wait for": {"at": "#said"}}],
        [{"click": "Next page"}, {"wait for": "Next"}],
        [{"click": "More"}, {"wait for": "Hidden words"}],
    )
    assert sent.document is not None
    assert sent.page is not None
    said = next(one for one in sent.document.elements if one.get("id") == "said")
    assert sent.page.title == "Sent"
    assert (sent.document.position_of(said) or ())[0] == 2
    assert "Ned Otter, large" in sent.document.source
    assert followed.page is not None
    assert followed.page.title == "Next"
    assert opened.page is not None
    more = next(one for one in opened.page.elements if one.get("id") == "more")
    assert opened.page.document.elements[more.index].box is not None
    assert plain.page is not None
    assert plain.page.title == "Start"


def test_a_step_that_cannot_be_taken_is_named(origin: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """What is not there, what is meant by several things, and what leads to another site end the
    journey with the step's number."""
    monkeypatch.setattr(journeys, "_STEP_SECONDS", 2.0)
    missing, several, away, plain = travelled(
        origin,
        [{"click": "Nowhere"}],
        [{"click": "Twice"}],
        [{"click": "Away"}, {"wait for": "Elsewhere"}],
    )
    assert missing.problem is not None
    assert missing.problem.code == "journey-broken"
    assert missing.problem.says.startswith("step 2 (click “Nowhere”): nothing that is called so")
    assert several.problem is not None
    assert "step 2 (click “Twice”): several things are meant" in several.problem.says
    assert away.problem is not None
    assert away.problem.code == "leads-elsewhere"
    assert "http://elsewhere.example/" in away.problem.says
    assert plain.problem is None
