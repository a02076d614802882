"""The pytest plugin, run as its users run it: a little application, a real browser, tests of its
own."""

from __future__ import annotations

import json
import re
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest

pytest_plugins = ["pytester"]

CONFTEST = '''
import http.server, threading
import pytest
from playwright.sync_api import sync_playwright
from plumrake.lenses.rendered.browser import find_browser

PAGE = """<!doctype html><html lang="en"><head><title>Hire a boat</title></head><body>
<a href="#main">Skip to main content</a><main id="main"><h1>Hire a boat</h1>
<p>Boats for a day, from the lower basin. <a href="/fees/">Fees of all boats</a></p>
<button type="button" onclick="document.querySelector('#days').hidden = false">Choose a day</button>
<div id="days" hidden><img src="/week.png" width="300" height="200"><p>Monday or
<a href="/days/">here</a></p></div>
<div id="map"><iframe src="about:blank"></iframe></div>
</main></body></html>"""

class Handler(http.server.BaseHTTPRequestHandler):
    def do_GET(self):
        body = PAGE.encode()
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(body)
    def log_message(self, *args): pass

@pytest.fixture(scope="session")
def app():
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()

@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=find_browser(), args=["--no-sandbox"])
        yield browser
        browser.close()

@pytest.fixture
def page(browser, app):
    page = browser.new_page()
    page.goto(f"{app}/hire/")
    yield page
    page.close()
'''
HELD = """
def test_days(page, plumrake):
    page.get_by_role("button", name="Choose a day").click()
    reading = plumrake.read(page, name="Choosing a day", without={"text/spelling": "own words"})
    assert reading.is_ready
"""
OTHERS = """
import asyncio
import pytest
from plumrake.testing import CannotRead

def test_ready(page, plumrake):
    reading = plumrake.read(page, leave_out="#map")
    assert reading.is_ready, reading.says
    assert reading.says == f"{page.url} is ready."
    assert ("keyboard/trap", "keyboard") in reading.untested

def test_scope(page, plumrake):
    reading = plumrake.read(page, scope=["#map"])
    assert [one.check for one in reading.findings] == ["page/frame-untitled"]

def test_bad_input(page, plumrake):
    with pytest.raises(CannotRead, match="'#never' did not appear within 0.2 s"):
        plumrake.read(page, wait_for="#never", seconds=0.2)
    with pytest.raises(TypeError, match="'levels' is no setting; there are hold, leave_out, level"):
        plumrake.read(page, levels="aa")
    with pytest.raises(ValueError, match="say why 'links' is off"):
        plumrake.read(page, without={"links": ""})
    with pytest.raises(CannotRead, match="this page has no 'evaluate'"):
        plumrake.read(object.__new__(type("Other", (), {"url": "x", "content": lambda self: ""})))

def test_small_protocol(page, plumrake):
    class Other:
        url = page.url
        def evaluate(self, script, given=None):
            return page.evaluate(script, given)
        def content(self):
            return page.content()
    whole, other = plumrake.read(page), plumrake.read(Other())
    assert [one.place_key for one in whole.findings] == [one.place_key for one in other.findings]
    assert ("contrast/text-on-picture", "pixels") in other.untested
"""
ASYNC = """
import asyncio
from playwright.async_api import async_playwright
from plumrake.lenses.rendered.browser import find_browser
from plumrake.testing import CannotRead, Reader

def test_async(app, plumrake):
    async def go():
        async with async_playwright() as playwright:
            browser = await playwright.chromium.launch(
                executable_path=find_browser(), args=["--no-sandbox"])
            context = await browser.new_context()
            await Reader().prepare(context)
            page = await context.new_page()
            await page.goto(f"{app}/hire/")
            reading = await plumrake.read_async(page)
            try:
                plumrake.read(page)
            except CannotRead as error:
                assert "await plumrake.read_async(page)" in str(error)
            else:
                raise AssertionError("an async page was read without waiting")
            await browser.close()
            return reading
    assert [one.check for one in asyncio.run(go()).holding] == ["page/frame-untitled"]
"""


def test_a_held_page_fails_with_what_to_do(pytester: pytest.Pytester) -> None:
    """Place, fact and mend below the failure; JUnit properties; files beside the results."""
    pytester.makeconftest(CONFTEST)
    pytester.makepyfile(test_days=HELD)
    result = pytester.runpytest_subprocess(
        "-p", "no:randomly", "--plumrake-out", "read", "--junitxml", "junit.xml"
    )
    result.assert_outcomes(failed=1)
    said = result.stdout.str()
    assert re.search(r"/hire/#~choosing-a-day: \d places hold it\.", said)
    assert "The picture week.png has no text alternative. (pictures/no-text)" in said
    assert "  at #days > img" in said or "  at div#days > img" in said
    assert "→ Write what the picture tells the reader here." in said
    suite = ET.parse(pytester.path / "junit.xml")
    properties = {one.get("name"): one.get("value") for one in suite.iter("property")}
    assert properties["plumrake.1.holding"] == "3"
    html = Path(str(properties["plumrake.1.report"]))
    assert (pytester.path / html).read_text(encoding="utf-8").startswith("<!doctype html>")
    [kept] = (pytester.path / "read").glob("*.json")
    [page] = json.loads(kept.read_text(encoding="utf-8"))["pages"]
    assert page["address"].endswith("/hire/#~choosing-a-day")


def test_settings_scope_protocol_and_bad_input(pytester: pytest.Pytester) -> None:
    pytester.makeconftest(CONFTEST)
    pytester.makepyfile(test_others=OTHERS)
    pytester.runpytest_subprocess().assert_outcomes(passed=4)


def test_async_pages(pytester: pytest.Pytester) -> None:
    pytester.makeconftest(CONFTEST)
    pytester.makepyfile(test_async_page=ASYNC)
    pytester.runpytest_subprocess().assert_outcomes(passed=1)


def test_one_report_over_all_workers_and_a_baseline(pytester: pytest.Pytester) -> None:
    """Under pytest-xdist what all workers read comes into one report; what a baseline knows holds
    nothing."""
    pytester.makeconftest(
        CONFTEST
        + "\n@pytest.fixture(scope='session')\ndef plumrake_settings():\n"
        + "    from plumrake.testing import Settings\n"
        + "    return Settings(without={'links/vague': 'a decision of ours'})\n"
    )
    (pytester.path / "plumrake.toml").write_text('hold = "friction"\n', encoding="utf-8")
    pytester.makepyfile(test_days=HELD, test_again=HELD.replace("Choosing a day", "Again"))
    kept = pytester.runpytest_subprocess(
        "-n", "2", "--plumrake-baseline", "known.txt", "--plumrake-keep-baseline",
        "--plumrake-report", "report.json",
    )  # fmt: skip
    kept.assert_outcomes(passed=2)
    kept.stdout.fnmatch_lines(["*Plum Rake: 2 readings, 2 ready; *report.json"])
    report = json.loads((pytester.path / "report.json").read_text(encoding="utf-8"))
    names = {page["address"].partition("#~")[2] for page in report["pages"]}
    assert names == {"choosing-a-day", "again"}
    checks = {one["check"] for page in report["pages"] for one in page["findings"]}
    assert "links/vague" not in checks and "pictures/no-text" in checks
    known = (pytester.path / "known.txt").read_text(encoding="utf-8")
    assert known.count("pictures/no-text") == 2
    lines = [line for line in known.splitlines() if "page/frame-untitled" not in line]
    (pytester.path / "known.txt").write_text("\n".join(lines), encoding="utf-8")
    held = pytester.runpytest_subprocess("--plumrake-baseline", "known.txt")
    held.assert_outcomes(failed=2)
    assert "again: 1 place holds it." in held.stdout.str()
    assert "(page/frame-untitled)" in held.stdout.str()
    assert "(pictures/no-text)" not in held.stdout.str()


@pytest.mark.parametrize(
    ("options", "says"),
    [
        (["--plumrake-report", "x.doc"], "its ending is none of html, json"),
        (["--plumrake-keep-baseline"], "say which with --plumrake-baseline FILE"),
    ],
)
def test_bad_options_are_said_before_anything_runs(
    pytester: pytest.Pytester, options: list[str], says: str
) -> None:
    pytester.makepyfile("def test_nothing(): pass")
    result = pytester.runpytest_subprocess(*options)
    assert result.ret == pytest.ExitCode.USAGE_ERROR
    assert says in result.stderr.str() + result.stdout.str()


def test_a_broken_policy_is_one_clear_error(pytester: pytest.Pytester) -> None:
    pytester.makepyfile("def test_nothing(plumrake): pass")
    (pytester.path / "plumrake.toml").write_text("hold = 'much'\n", encoding="utf-8")
    result = pytester.runpytest_subprocess()
    assert "plumrake.toml': " in result.stdout.str() + result.stderr.str()


def test_the_plugin_costs_nothing_where_it_is_not_used(pytester: pytest.Pytester) -> None:
    """Nothing of the product is imported before a test asks."""
    pytester.makepyfile(
        "import sys\n"
        "def test_nothing():\n"
        "    assert 'plumrake.core' not in sys.modules\n"
        "    assert 'plumrake.testing.reading' not in sys.modules\n"
    )
    pytester.runpytest_subprocess().assert_outcomes(passed=1)
