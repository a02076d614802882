"""Sweeps of a made site with twelve templates: everything found, causes right, unchanged pages
kept, stopping, going on, changes."""

import os
import zipfile
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import psycopg
import pytest

from bench.made_site import MadePage, key_of, make_pages, sitemap, write_site
from plumrake import models
from plumrake.client import ChangedMeanwhile, ConflictError, NotValid, PlumRake
from plumrake.demo.server import make_server
from tests.conftest import Running, wait_for
from tests.put_back import wait_until_quiet
from tests.services import serve_in_thread

TAKES_LONG = True

COUNT = 60


@dataclass
class Made:
    """A made site on loopback: its files, its origin, its pages."""

    folder: Path
    origin: str
    pages: list[MadePage]


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Made]:
    folder = tmp_path_factory.mktemp("made")
    pages = make_pages(COUNT)
    write_site(folder, pages)
    server = make_server(folder, 0)
    origin = serve_in_thread(server)
    (folder / "sitemap.xml").write_text(sitemap(pages, origin))
    (folder / "robots.txt").write_text(
        f"User-agent: *\nDisallow: /share/\nSitemap: {origin}/sitemap.xml\n"
    )
    yield Made(folder, origin, pages)
    server.shutdown()


@pytest.fixture(scope="module")
def rake(running: Running, manager: PlumRake, made: Made) -> PlumRake:
    """A client, with a worker and the made site registered."""
    running.start("worker")
    by_the_clock = {
        "slug": "by-the-clock",
        "name": "By the clock",
        "found_by": "list",
        "listed_paths": ["/"],
        "schedule": "* * * * *",
    }
    manager.sites.add(
        models.NewSite.model_validate(
            {**by_the_clock, "live_address": f"{made.origin}/", "private_leave": True}
        )
    )
    manager.sites.add(
        models.NewSite(
            slug="made",
            name="Made Canal",
            live_address=f"{made.origin}/",
            found_by="sitemap",
            private_leave=True,
        )
    )
    return manager


def swept(rake: PlumRake, site: str = "made", **how: object) -> models.Sweep:
    """Sweep a site to its end."""
    sweep = rake.sweeps.start(site, **how)  # type: ignore[arg-type]
    last = list(rake.sweeps.follow(sweep.id))[-1]
    assert last.kind == "done", last
    return rake.sweeps.show(sweep.id)


@pytest.fixture(scope="module")
def first(rake: PlumRake) -> models.Sweep:
    """The first sweep of the made site."""
    return swept(rake)


def found(rake: PlumRake, sweep: int) -> Counter[tuple[str, ...]]:
    return Counter(
        (one.path, one.check, one.selector, one.says, one.place_key, one.cause)
        for one in rake.findings.list("made", sweep=sweep)
    )


def test_every_page_and_fault_is_found(rake: PlumRake, first: models.Sweep, made: Made) -> None:
    """All pages are read, all planted faults are found and nothing beside them; each template's
    fault is one cause with its reach."""
    assert (first.total, first.read, first.unreadable, first.unchanged) == (COUNT, COUNT, 0, 0)
    expected = key_of(made.pages)
    assert (
        Counter((one.path, one.check) for one in rake.findings.list("made", sweep=first.id))
        == expected.faults
    )
    causes = list(rake.causes.list("made", sweep=first.id, sort="reach"))
    assert Counter((one.check, one.pages, one.by_template) for one in causes) == expected.causes
    assert [one.pages for one in causes] == sorted((one.pages for one in causes), reverse=True)
    failed = Counter(
        one.weight for one in rake.findings.list("made", sweep=first.id, outcome="failed")
    )
    assert first.found == failed


def test_cause_shows_itself(rake: PlumRake, first: models.Sweep) -> None:
    """A cause has its places, pictures of some of them, and where it was first seen."""
    cause = next(rake.causes.list("made", check="contrast/text", by_template=True))
    assert rake.causes.show("made", cause.key) == cause
    places = list(rake.findings.list("made", cause=cause.key))
    assert len(places) == cause.places == cause.pages == COUNT // 12
    assert (cause.first_sweep, cause.zone) == (first.id, "content")
    assert cause.best in {place.id for place in places}
    assert 1 <= len(cause.pictures) <= 3
    picture = rake.request("GET", f"/api/v1/evidence/{cause.pictures[0]}")
    assert picture.headers["content-type"] == "image/webp"
    assert picture.content[8:12] == b"WEBP"
    cut = rake.request("GET", f"/api/v1/findings/{cause.best}/picture")
    assert cut.content[8:12] == b"WEBP"


def test_unchanged_pages_are_kept(rake: PlumRake, first: models.Sweep, made: Made) -> None:
    """A second sweep keeps every page and its findings, causes included; a fresh one reads them
    again and finds the same."""
    second = swept(rake)
    assert (second.read, second.unchanged, second.ready, second.base_id) == (
        COUNT,
        COUNT,
        first.ready,
        first.id,
    )
    assert found(rake, second.id) == found(rake, first.id)
    assert [one.key for one in rake.causes.list("made", sweep=second.id)] == [
        one.key for one in rake.causes.list("made", sweep=first.id)
    ]
    assert {one.first_sweep for one in rake.causes.list("made", sweep=second.id)} == {first.id}
    fresh = swept(rake, fresh=True)
    assert fresh.unchanged == 0
    assert found(rake, fresh.id) == found(rake, first.id)


def test_only_changed_pages_are_read(rake: PlumRake, first: models.Sweep, made: Made) -> None:
    """After a change of a few pages exactly those are read; a mended fault is gone, a new one new,
    one that comes back reopened."""
    before = swept(rake)
    slipped = next(page for page in made.pages if page.template.section == "articles")
    file = made.folder / slipped.path.strip("/") / "index.html"
    written = file.read_text()
    changed = written.replace('class="dateline"', 'class="when"')
    file.write_text(changed.replace("</main>", '<p><a href="/x/">click here</a></p></main>'))
    try:
        mended = swept(rake)
    finally:
        file.write_text(written)
    assert (mended.total - mended.unchanged, mended.base_id) == (1, before.id)
    changes = rake.sweeps.changes(mended.id)
    assert {
        (one.kind, one.weight): one.count for one in changes.figures if one.kind != "still"
    } == {
        ("gone", "obstacle"): 1,
        ("new", "obstacle"): 1,
    }
    assert [(one.path, one.check) for one in rake.sweeps.changed_findings(mended.id, "new")] == [
        (slipped.path, "links/vague")
    ]
    assert [(one.path, one.check) for one in rake.sweeps.changed_findings(mended.id, "gone")] == [
        (slipped.path, "contrast/text")
    ]
    narrower = next(one for one in changes.causes if one.kind == "narrower")
    assert (narrower.check, narrower.places_before - narrower.places_now) == ("contrast/text", 1)
    again = swept(rake)
    assert [
        (one.path, one.check) for one in rake.sweeps.changed_findings(again.id, "reopened")
    ] == [(slipped.path, "contrast/text")]
    against_first = rake.sweeps.changes(again.id, against=first.id)
    assert not [one for one in against_first.figures if one.kind != "still"]


def test_changed_only_believes_the_sitemap(rake: PlumRake, first: models.Sweep, made: Made) -> None:
    """A sweep of what changed does not ask for pages whose sitemap says that they are as before; of
    the others it does."""
    listed = made.folder / "sitemap.xml"
    written = listed.read_text()
    edited = [made.pages[12], made.pages[24]]
    files = [made.folder / page.path.strip("/") / "index.html" for page in edited]
    before = [file.read_text() for file in files]
    dated = written.replace("</loc>", "</loc><lastmod>2020-01-01</lastmod>")
    listed.write_text(
        dated.replace(
            f"{edited[0].path}</loc><lastmod>2020-01-01",
            f"{edited[0].path}</loc><lastmod>2099-01-01",
        )
    )
    try:
        for file, text in zip(files, before, strict=True):
            file.write_text(text.replace("</main>", '<p><a href="/x/">click here</a></p></main>'))
        sweep = swept(rake, changed=True)
        assert (sweep.scope, sweep.total - sweep.unchanged) == ("changed", 1)
        assert [one.path for one in rake.sweeps.changed_findings(sweep.id, "new")] == [
            edited[0].path
        ]
    finally:
        listed.write_text(written)
        for file, text in zip(files, before, strict=True):
            file.write_text(text)


def test_changed_style_sheet_reads_pages_anew(
    rake: PlumRake, first: models.Sweep, made: Made
) -> None:
    """A page whose style sheet changed is no unchanged page."""
    sheet = made.folder / "assets" / "made.css"
    written, at = sheet.read_text(), sheet.stat().st_mtime
    sheet.write_text(
        written.replace(".dateline { color: #9aa5a9 }", ".dateline { color: #10303a }")
    )
    os.utime(sheet, (at + 2, at + 2))  # modification times are told by the second
    try:
        mended = swept(rake, section="/articles/")
        assert (mended.unchanged, mended.total) == (0, COUNT // 12)
        assert not [
            one
            for one in rake.findings.list("made", sweep=mended.id)
            if one.check == "contrast/text" and "dateline" in one.excerpt
        ]
    finally:
        sheet.write_text(written)
        os.utime(sheet, (at, at))


def test_given_pages_and_sections(rake: PlumRake, first: models.Sweep, made: Made) -> None:
    """A sweep of given pages reads those alone and changes no figures of the site."""
    paths = [made.pages[20].path, made.pages[33].path]
    given = swept(rake, paths=paths, fresh=True)
    assert [one.path for one in rake.sweeps.readings(given.id)] == sorted(paths)
    assert rake.sites.show("made").figures[0].sweep_id != given.id


def test_stop_and_resume(rake: PlumRake, first: models.Sweep, made: Made, database: str) -> None:
    """A stopped sweep reads no further page, keeps what it has, and goes on to the same end."""
    paths = [page.path for page in made.pages]
    new = {
        "live_address": f"{made.origin}/",
        "found_by": "list",
        "listed_paths": paths,
        "private_leave": True,
        "parallel": 1,
    }
    rake.sites.add(models.NewSite(slug="stopped", name="Stopped", **new))  # type: ignore[arg-type]
    sweep = rake.sweeps.start("stopped")
    wait_for(lambda: rake.sweeps.show(sweep.id).read >= 8, 60, "the first batch")
    assert rake.sweeps.stop(sweep.id).state == "stopped"
    with pytest.raises(ConflictError):
        rake.sweeps.stop(sweep.id)
    with psycopg.connect(database) as connection:
        wait_until_quiet(connection, 120)
    assert 8 <= rake.sweeps.show(sweep.id).read < COUNT
    last = max(event.id for event in rake.sweeps.follow(sweep.id))
    rake.sweeps.resume(sweep.id)
    assert list(rake.sweeps.follow(sweep.id, after=last))[-1].kind == "done"
    assert "stopped" not in {event.kind for event in rake.sweeps.follow(sweep.id)}
    whole = Counter(
        (one.path, one.check, one.selector, one.cause) for one in rake.findings.list("stopped")
    )
    assert whole == Counter(
        (one.path, one.check, one.selector, one.cause)
        for one in rake.findings.list("made", sweep=first.id)
    )


def test_crawl_finds_what_the_sitemap_lists(rake: PlumRake, made: Made) -> None:
    """A crawl from the start page finds the linked pages and says from where; what robots.txt
    forbids is left alone."""
    rake.sites.add(
        models.NewSite(
            slug="crawled",
            name="Crawled",
            live_address=f"{made.origin}/",
            found_by="crawl",
            private_leave=True,
        )
    )
    sweep = swept(rake, "crawled", lens="markup")
    readings = {one.path: one for one in rake.sweeps.readings(sweep.id)}
    assert {f"/{page.template.section}/" for page in made.pages} <= set(readings)
    assert readings["/articles/"].linked_from == "/"
    assert "/share/" not in readings
    assert {one.found_by for one in readings.values()} == {"crawl"}


def test_pages_that_appear_and_vanish_are_told(
    rake: PlumRake, first: models.Sweep, made: Made
) -> None:
    """What changed names pages that only one of two sweeps has."""
    before = swept(rake)
    listed = made.folder / "sitemap.xml"
    written = listed.read_text()
    gone = made.pages[-1].path
    listed.write_text(written.replace(f"{made.origin}{gone}<", f"{made.origin}/<"))
    try:
        after = swept(rake)
        changes = rake.sweeps.changes(after.id, against=before.id)
        assert {(one.path, one.kind) for one in changes.pages} == {
            ("/", "appeared"),
            (gone, "vanished"),
        }
    finally:
        listed.write_text(written)


def test_views_over_the_site(rake: PlumRake, first: models.Sweep, made: Made) -> None:
    """Sections, pictures, colours, links and titles count what the pages hold."""
    sections = {one.path: one for one in rake.views.sections("made", sweep=first.id)}
    assert sum(one.pages for one in sections.values()) == COUNT
    assert sections["/articles/"].barriers + sections["/articles/"].obstacles >= COUNT // 12
    assert sections["/articles/"].has_more
    below = list(rake.views.sections("made", under="/articles/", sweep=first.id))
    assert sum(one.pages for one in below) == COUNT // 12
    pictures = list(rake.views.pictures("made", sweep=first.id))
    teasers = [one for one in pictures if "scene" in one.source]
    assert {one.source for one in pictures if len(one.key) != 64} == set()
    assert sum(one.without_text for one in teasers) == sum(one.uses for one in teasers) > 0
    assert [one.uses for one in pictures] == sorted((one.uses for one in pictures), reverse=True)
    uses = list(rake.views.picture_uses("made", teasers[0].key, sweep=first.id))
    assert len(uses) == teasers[0].uses
    pair = next(one for one in rake.views.colours("made", sweep=first.id) if one.text == "#9aa5a9")
    assert (pair.passes, pair.uses, pair.pages) == (False, COUNT // 12, COUNT // 12)
    more = list(rake.views.links("made", text="read more", sweep=first.id))
    assert sum(one.uses for one in more) == 3 * (COUNT // 12)
    assert max(one.pages for one in rake.views.titles("made", sweep=first.id)) == 1


def test_site_from_an_archive(
    rake: PlumRake, first: models.Sweep, made: Made, tmp_path: Path
) -> None:
    """A site whose pages come from a zip has the same faults; what is no archive is refused."""
    rake.sites.add(
        models.NewSite(
            slug="archived",
            name="Archived",
            live_address="http://archived.example/",
            found_by="archive",
        )
    )
    with pytest.raises(NotValid):
        rake.sites.give_archive("archived", "pages.zip", bytes(13_000_000))
    sweep = rake.sweeps.start("archived")
    assert list(rake.sweeps.follow(sweep.id))[-1].kind == "failed"
    file = tmp_path / "pages.zip"
    chosen = [page for page in made.pages if page.template.section in ("places", "articles")]
    with zipfile.ZipFile(file, "w") as packed:
        for one in [*(made.folder / "assets").iterdir(), *(made.folder / "media").iterdir()]:
            packed.write(one, one.relative_to(made.folder))
        for page in chosen:
            packed.write(
                made.folder / page.path.strip("/") / "index.html",
                f"{page.path.strip('/')}/index.html",
            )
    rake.sites.give_archive("archived", file.name, file.read_bytes())
    done = swept(rake, "archived")
    assert (done.read, done.unreadable) == (len(chosen), 0)
    found_there = Counter(
        (one.path.removesuffix("index.html"), one.check)
        for one in rake.findings.list("archived", sweep=done.id)
    )
    assert found_there == key_of(chosen).faults


def test_settings_of_a_site(rake: PlumRake) -> None:
    """Settings are checked, changed under their tag, and a policy takes effect in the next
    sweep."""
    site = rake.sites.show("made")
    changed = rake.sites.change(
        "made", models.SiteChange(policy={"without": ["links"], "leave-out": [".cards"]}), site.tag
    )
    assert changed.policy["without"] == ["links"]
    with pytest.raises(ChangedMeanwhile):
        rake.sites.change("made", models.SiteChange(name="Other"), site.tag)
    for wrong in ({"policy": {"colour": "red"}}, {"schedule": "every day"}):
        with pytest.raises(NotValid):
            rake.sites.change("made", models.SiteChange(**wrong))  # type: ignore[arg-type]
    sweep = swept(rake, section="/places/")
    assert not [
        one
        for one in rake.findings.list("made", sweep=sweep.id)
        if one.check.startswith("links/") or "teaser" in one.excerpt
    ]
    assert sum(one.left_out for one in rake.sweeps.readings(sweep.id)) == 3 * (COUNT // 12)
    rake.sites.change("made", models.SiteChange(policy={}))


def test_schedule_starts_sweeps(rake: PlumRake, made: Made) -> None:
    """A site with a schedule, registered at the beginning, is read when its time comes."""
    wait_for(lambda: list(rake.sweeps.list("by-the-clock")), 130, "the clock")
    rake.sites.drop("by-the-clock")
    assert "by-the-clock" not in {one.slug for one in rake.sites.list()}
