"""A small site of the tests' own whose sources may be written: live through the stand-in CMS,
staging as a folder."""

from __future__ import annotations

import base64
import secrets
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from PIL import Image

from plumrake import models
from plumrake.client import PlumRake
from plumrake.demo.cms import Trust as Pages
from plumrake.demo.cms import create_cms
from plumrake.demo.describer import create_describer
from plumrake.demo.ports import free_port
from plumrake.demo.server import make_server
from tests.conftest import PASSWORD, Running, wait_for
from tests.services import serve_app, serve_in_thread

SLUG = "yard"
FEW_BERTHS = 10
SECRET = "carry-it-over"
FRAME = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{title} of the yard</title></head><body>
<header><a href="/">Yard</a></header>
<main><h1>{title}</h1>
<article class="text">
{content}
</article></main>
<footer><img src="/seal.png" width="40" height="40"><p>The yard by the water.</p></footer>
</body></html>
"""
CONTENT = {
    "/": '<p>What is done here.</p>\n<p><img src="/a.jpg" WIDTH=320 height="180"></p>\n'
    '<p>More <a href="/cranes/">here</a> about cranes.</p>\n'
    '<h4>Hours <a href="/berths/1/">here</a></h4><p>From nine.</p>',
    "/cranes/": '<p>Two cranes.</p>\n<p><img src="/a.jpg" width=320 height=180></p>',
    "/kinds/": '<p lang="german">Guten Tag, liebe Leute am Wasser.</p>\n'
    "<table><tr><td>Boat<td>Fee<tr><td>Skiff<td>4<tr><td>Barge<td>9</table>\n"
    '<p style="color: #999; background: #fff">Closed on Mondays.</p>\n'
    '<form action="/"><input name="boat"><button>Ask</button></form>\n'
    '<p>See <a href="/cranes/">this page</a> for more.</p>\n'
    '<h4>Fees</h4>\n<p>By length.</p>\n<p><img src="/b.jpg" width="320" height="180"></p>',
}
"""Content by path; the pages of berths come to it."""


@dataclass
class Yard:
    """The running service, the folders of the site's files, the CMS, and people signed in."""

    running: Running
    folder: Path
    manager: PlumRake
    editor: PlumRake
    cms: Pages
    settings: dict[str, str]
    content: dict[str, str]

    def file(self, path: str, environment: str = "staging") -> Path:
        return self.folder / environment / path.strip("/") / "index.html"

    def write_files(self) -> None:
        """Let all files be as they were in the beginning."""
        for environment in ("live", "staging"):
            Image.new("RGB", (64, 36), "#3c6eb4").save(self.folder / environment / "a.jpg")
            for path, content in self.content.items():
                file = self.file(path, environment)
                file.parent.mkdir(parents=True, exist_ok=True)
                title = path.strip("/").replace("/", " ").title() or "Home"
                file.write_bytes(FRAME.format(title=title, content=content).encode())
        shutil.rmtree(self.cms.drafts, ignore_errors=True)
        self.cms.drafts.mkdir()

    def sweep(self, environment: models.Environment) -> None:
        """Read all pages of an environment by their markup."""
        sweep = self.manager.sweeps.start(SLUG, environment=environment, lens="markup")
        assert list(self.manager.sweeps.follow(sweep.id))[-1].kind == "done"

    def finding(self, check: str, path: str, environment: models.Environment = "staging") -> int:
        """Return the number of the first finding of a check in the content of a page."""
        found = self.manager.findings.list(SLUG, environment=environment, check=check, path=path)
        return min(one.id for one in found if one.path == path and "seal.png" not in one.excerpt)

    def settled(self, number: int, *states: str) -> models.CorrectionInFull:
        """Return a correction once it is in one of some states."""
        wait_for(
            lambda: self.manager.corrections.show(number).state in states,
            40,
            f"correction {number} to be {states}; {self.running.logs()}",
        )
        return self.manager.corrections.show(number)

    def text(self, words: str) -> dict[str, str]:
        """Return the mend that gives a picture a text."""
        return {"kind": "set-attribute", "attribute": "alt", "value": words}


@pytest.fixture(scope="module")
def yard(
    request: pytest.FixtureRequest, database: str, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[Yard]:
    """The yard, swept by its markup in both environments, with its sources connected; a module that
    wants more pages says so with ``BERTHS``."""
    content = CONTENT | {
        f"/berths/{number}/": f"<p>Berth {number} is let by the year.</p>"
        for number in range(getattr(request.module, "BERTHS", FEW_BERTHS))
    }
    folder = tmp_path_factory.mktemp("yard")
    servers, origins = [], {}
    for environment in ("live", "staging"):
        (folder / environment).mkdir()
        servers.append(make_server(folder / environment, 0))
        origins[environment] = serve_in_thread(servers[-1])
    running = Running(database, free_port(), folder)
    pages = Pages(
        folder / "live", folder / "drafts", running.address, SLUG, corrections_secret=SECRET
    )
    cms_address, describer = serve_app(create_cms(pages)), serve_app(create_describer(SECRET))
    settings = {
        "site_folders": str(folder),
        "describer": f"{describer}/",
        "describer_token": SECRET,
        "secrets_key": base64.urlsafe_b64encode(secrets.token_bytes(32)).decode(),
    }
    add_people(database)
    running.start("serve", **settings)
    running.wait_until_ready()
    running.start("worker", **settings)
    yard = Yard(
        running,
        folder,
        running.client(),
        running.client("ned@harrowmere.example"),
        pages,
        settings,
        content,
    )
    yard.write_files()
    rake = yard.manager
    rake.sites.add(
        models.NewSite(
            slug=SLUG,
            name="The Yard",
            live_address=f"{origins['live']}/",
            staging_address=f"{origins['staging']}/",
            found_by="list",
            listed_paths=list(content),
            private_leave=True,
            policy={
                "corrections": "write",
                "describer": "on-request",
                "without": ["text/spelling"],
            },
        )
    )
    staging = models.NewConnection(kind="folder", folder=str(folder / "staging"))
    rake.corrections.connect(SLUG, "staging", staging)
    cms = models.NewConnection(kind="stand-in", address=cms_address, secret=SECRET)
    rake.corrections.connect(SLUG, "live", cms)
    for environment in origins:
        yard.sweep(environment)
    yield yard
    for one in (yard.manager, yard.editor):
        one.close()
    running.stop()
    for files in servers:
        files.shutdown()


def add_people(database: str) -> None:
    """Put the demo's people into a database, who look after no site yet."""
    import asyncio
    from concurrent.futures import ThreadPoolExecutor

    import psycopg

    from plumrake.actions.people import add_person

    async def add() -> None:
        async with await psycopg.AsyncConnection.connect(database) as connection:
            for name, role in (("philippa", "manager"), ("ned", "editor"), ("imke", "reader")):
                address = f"{name}@harrowmere.example"
                await add_person(connection, address, name.title(), role, PASSWORD)

    with ThreadPoolExecutor(1) as elsewhere:
        elsewhere.submit(asyncio.run, add()).result()


@pytest.fixture(autouse=True)
def files_as_written(request: pytest.FixtureRequest) -> Iterator[None]:
    """Each test finds the files as they were in the beginning."""
    yield
    if "yard" in request.fixturenames:
        request.getfixturevalue("yard").write_files()
