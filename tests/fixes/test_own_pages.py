"""The console's own pages, read by Plum Rake itself in both themes, wide and narrow: no fault is
found in them.

Every page is read once, in one theme at one size, its neighbours in the list in the others. All
four readings of each take minutes more:
``PLUMRAKE_OWN_PAGES=all .venv/bin/pytest tests/fixes/test_own_pages.py``; part of a path instead
of ``all`` reads those pages alone, in all four.
"""

from __future__ import annotations

import asyncio
import os
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import psycopg
import pytest

from plumrake import models
from plumrake.actions.reading import PageResult, read_and_assess
from plumrake.core.journeys import JourneyState, states_of
from plumrake.core.policy import Policy
from plumrake.demo.seed import SITE
from plumrake.demo.site import answer_key, build_environment
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import Obtained, PageReader
from plumrake.net.fetch import Limits
from tests.conftest import PASSWORD, wait_for
from tests.trust import SLOWEST, Trust

TAKES_LONG = True

ASKED = os.environ.get("PLUMRAKE_OWN_PAGES", "")
WAYS = [("Light", "wide"), ("Dark", "narrow"), ("Light", "narrow"), ("Dark", "wide")]
NOT_ONLY_DOUBTFUL = Policy(without=(SLOWEST,))
"""All checks but the slowest, which reads the words in pictures and is never sure."""
MENDED = (
    "contrast/text",
    "headings/level-jump",
    "links/dead",
    "links/vague",
    "pictures/file-name-text",
    "tables/no-caption",
    "text/spelling",
)
DEAD_LINK = "/archive/night-walk/"
"""A page with a link that leads nowhere."""
VIEWPORTS = {"wide": (1280, 800), "narrow": (390, 844)}


def shown_pages() -> list[str]:
    """Return so many of the demo's pages that every view has something on it: those with the checks
    that are looked at, and some more."""
    first = {answer["check"]: answer["address"] for answer in reversed(answer_key("staging"))}
    others = [page.address for page in build_environment("staging") if page.answers][:8]
    return sorted(
        {
            "/",
            "/visit/gallery/",
            "/visit/access/",
            DEAD_LINK,
            *(first[check] for check in MENDED if check in first),
            *others,
        }
    )


@pytest.fixture(scope="module")
def places(trust: Trust) -> dict[str, str]:
    """The console's pages with something on each: path to what has to be there before it is
    read."""
    rake = trust.manager
    rake.sites.change(
        SITE,
        models.SiteChange(
            found_by="list",
            listed_paths=shown_pages(),
            policy={"follow-links": "in-sweeps", "without": [SLOWEST]},
        ),
        rake.sites.show(SITE).tag,
    )
    sweep = rake.sweeps.start(SITE, environment="staging")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "done"
    second = rake.sweeps.start(SITE, environment="staging")
    assert list(rake.sweeps.follow(second.id))[-1].kind == "done"
    causes = [one.key for one in rake.causes.list(SITE, sweep=sweep.id, outcome="failed")]
    fixes = rake.fixes.hand_out(
        SITE,
        sweep=sweep.id,
        causes=causes[:12],
        due_on=datetime.now(UTC).date() - timedelta(days=1),
    )
    rake.fixes.move_all(SITE, [fix.id for fix in fixes[:4]], "take", why="for today, @philippa")
    until = datetime.now(UTC).date() + timedelta(days=30)
    rake.decisions.waive(
        fixes[5].finding_id or 0, scope="cause", reason="replaced in spring", ends_on=until
    )
    doubtful = next(rake.findings.list(SITE, sweep=sweep.id, outcome="cantTell"))
    rake.decisions.judge(doubtful.id, "fine", "it is fine")
    of_kind = {
        check: next(rake.findings.list(SITE, sweep=sweep.id, check=check)).id for check in MENDED
    }
    shown = of_kind["pictures/file-name-text"]
    text = {"kind": "set-attribute", "attribute": "alt", "value": "Ice by the wharf"}
    drafted = rake.corrections.draft(SITE, shown, text).first
    assert drafted.state == "drafted", drafted.problem
    held = rake.gate.ask(SITE, "/visit/gallery/", lens="markup")
    release = rake.gate.ask_release(
        SITE, "spring", paths=["/visit/gallery/", "/visit/access/"], lens="markup"
    )
    wait_for(lambda: rake.gate.show_release(release.id).waiting == 0, 120, "the release to be read")
    put_items(trust)
    rake.people.add_member(SITE, "ned@harrowmere.example", "editor")
    rake.people.invite("daw@harrowmere.example", "Jack Daw", role="editor", site=SITE)
    site, page = f"/sites/{SITE}", f"/sites/{SITE}/page?path=/visit/gallery/&environment=staging"
    views = (
        "outline",
        "heard",
        "order",
        "links",
        "pictures",
        "colours",
        "names",
        "focus",
        "low-vision",
        "readings",
    )
    return {
        "/": "main .card",
        "/sites/new": "main form",
        site: ".tree li",
        f"{site}/causes": "main li",
        f"{site}/causes/{causes[0]}": ".timeline li",
        f"{site}/pages": "main li",
        page: ".mark",
        **{f"{page}&as={view}": ".page-view > *" for view in views},
        f"{page}&as=low-vision&look=enlarged": ".picture ~ .picture img",
        f"{site}/fixes": "main li",
        f"{site}/corrections": "main li",
        f"{site}/board": ".ticket",
        f"{site}/calendar": "main table",
        f"{site}/fixes/{fixes[0].id}": ".timeline li",
        f"{site}/findings": "main li",
        **{f"{site}/findings/{number}": "#mend-title" for number in of_kind.values()},
        f"{site}/findings/{doubtful.id}": "#question-title",
        f"{site}/sweeps": "main li",
        f"{site}/sweeps/{sweep.id}": "main h1",
        f"{site}/sweeps/compare?sweep={second.id}&against={sweep.id}&kind=still": "main table",
        f"{site}/decisions": "main table",
        f"{site}/people": (
            "main:has([aria-label^='Take out']) [aria-labelledby='invited-title'] td"
        ),
        f"{site}/policy": ".area",
        f"{site}/checks/links/vague": "#help-title",
        f"{site}/history": ".timeline li",
        f"{site}/gate": "main li",
        f"{site}/gate/ask": "main form",
        f"{site}/clearances/{held.id}": "main li",
        f"{site}/releases/{release.id}": "main li",
        f"{site}/pictures": "main li",
        f"{site}/colours": "main .pair",
        f"{site}/links": "main li",
        f"{site}/words": "main table",
        "/desk": "#notifications-title",
        "/me": "main .card",
        "/emails": "main .card",
        "/nowhere": "main h1",
        f"{site}/going-out": "main [data-row]",
        f"{site}/statement": "#versions-title",
        f"{site}/review?environment=staging": "main [data-row]",
        **{
            f"{site}/review/question?environment=staging&only={question}": "#your-answer"
            for question in ("picture-texts", "table-cells", "headings-tell", "same-names")
        },
        f"{site}/log": "main table",
    }


def put_items(trust: Trust) -> None:
    """Let the site have items of a content system that are not public yet, read and unread."""
    with psycopg.connect(trust.running.database) as connection:
        connection.execute(
            "INSERT INTO connection (site_id, environment, kind, settings) "
            "SELECT id, 'live', 'wordpress', '{}' FROM site ON CONFLICT (site_id, environment) "
            "DO UPDATE SET kind = 'wordpress'"
        )
        connection.execute(
            "INSERT INTO item (site_id, environment, number, kind, status, path, title, author, "
            "email, edit, changed_at, due_at) SELECT s.id, 'live', n::text, 'Post', "
            "CASE n WHEN 1 THEN 'future' ELSE 'draft' END, '/news/' || n || '/', 'News ' || n, "
            "'Ned Osier', 'ned@harrowmere.example', 'https://cms.example/' || n, now(), "
            "CASE n WHEN 1 THEN now() + interval '1 day' END FROM site s, generate_series(1, 3) n"
        )


def state(path: str, there: str, theme: str) -> JourneyState:
    """Return the state of the console that a manager sees at a path in a theme, who comes signed
    out and is asked to sign in; light is what it is in without being asked."""
    light = theme == "Light"
    steps: list[dict[str, Any]] = [
        {"go": path if light else "/me"},
        {"write": "philippa@harrowmere.example", "into": "E-mail address"},
        {"write": PASSWORD, "into": "Password"},
        {"click": "Sign in"},
        {"wait for": "Sign out"},
        *([] if light else [{"click": theme}, {"go": path}]),
        {"wait for": {"at": f"body:not(:has(.loading)) {there}"}},
        {"read": "it"},
    ]
    return states_of([{"name": f"{path} {theme}", "steps": steps}])[0]


@pytest.mark.parametrize(("theme", "size"), WAYS)
def test_own_pages_have_no_fault(
    trust: Trust, places: dict[str, str], theme: str, size: str
) -> None:
    """Every check, WCAG 2.2 AA, in a real browser: nothing is ``failed``."""
    origin, policy = trust.running.address, NOT_ONLY_DOUBTFUL
    wanted = [
        place
        for at, place in enumerate(places.items())
        if ASKED == "all" or ASKED in place[0]
        if ASKED or WAYS[at % len(WAYS)] == (theme, size)
    ]

    async def read_all() -> list[PageResult]:
        async with PageReader(
            "rendered", Limits(seconds=60), private_origins=[origin], tabs=2
        ) as reader:
            turn = asyncio.Semaphore(2)

            async def one(path: str, there: str) -> PageResult:
                async def obtain(options: ReadOptions) -> Obtained:
                    begins_at = path if theme == "Light" else "/me"
                    fetched = await reader.read_address(
                        origin + begins_at, replace(options, viewport=VIEWPORTS[size])
                    )
                    return replace(fetched, address=origin + path)

                async with turn:
                    return await read_and_assess(
                        obtain, policy, reader.runners, state=state(path, there, theme)
                    )

            signed_out = reader.read_address(
                f"{origin}/sign-in", ReadOptions(viewport=VIEWPORTS[size])
            )
            assert (await signed_out).problem is None
            return await asyncio.gather(*(one(path, there) for path, there in wanted))

    results = asyncio.run(read_all())
    assert [(one.address, one.problem) for one in results if one.problem is not None] == []
    assert all(one.elements > 20 for one in results)
    faults = [
        (
            f"{one.address.removeprefix(origin)}  {found.check}  {found.selector}  {found.says}  "
            f"{found.excerpt[:120]}  {found.facts.get('others', '')}"
        )
        for one in results
        for found in one.assessment.findings
        if found.outcome == "failed"
    ]
    assert not faults, "\n".join(faults)
