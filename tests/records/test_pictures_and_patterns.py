"""Pictures that were asked for, and what was tried of a site's pages."""

from __future__ import annotations

from datetime import UTC, datetime

from plumrake.core.patterns import Part
from plumrake.records import page_pictures, patterns
from plumrake.records.page_pictures import PagePictureRow
from tests.records.conftest import Rows

EVER = datetime(2000, 1, 1, tzinfo=UTC)


async def test_a_picture_is_drawn_once_and_again_when_it_could_not_be_had(rows: Rows) -> None:
    reading = await rows.reading(await rows.sweep(await rows.site("trust")), "/")

    async def asked(kind: str = "whole", most: int = 5) -> bool:
        return await page_pictures.ask(rows.connection, reading, kind, most)

    async def later(minutes: int) -> None:
        age = "UPDATE page_picture SET asked_at = now() - make_interval(mins => %s)"
        await rows.run(age, minutes)

    assert await asked()
    assert not await asked()
    await later(11)  # its worker died, and its job with it
    assert await asked()
    failed = PagePictureRow("whole", "ready", None, "no browser", has_changed=False)
    await page_pictures.keep(rows.connection, reading, failed)
    assert not await asked()
    await later(2)
    assert await asked()
    drawn = PagePictureRow("whole", "ready", None, "", has_changed=True)
    await page_pictures.keep(rows.connection, reading, drawn)
    await later(60)
    assert not await asked()
    assert await page_pictures.picture_of(rows.connection, reading, "whole") == drawn


async def test_only_so_many_pictures_wait(rows: Rows) -> None:
    reading = await rows.reading(await rows.sweep(await rows.site("trust")), "/")
    for kind in ("whole", "narrow"):
        assert await page_pictures.ask(rows.connection, reading, kind, 2)
    assert not await page_pictures.ask(rows.connection, reading, "focus", 2)
    assert await page_pictures.picture_of(rows.connection, reading, "focus") is None
    assert await page_pictures.ask(rows.connection, reading, "focus", 3)


async def test_what_was_faulty_stays_so_for_a_day(rows: Rows) -> None:
    site = await rows.site("trust")

    async def known() -> dict[int, tuple[str, int]]:
        found = await patterns.known(rows.connection, site, "live", EVER)
        return {one.pattern: (one.path, one.faulty) for one in found}

    async def keep(path: str, **faulty: Part) -> None:
        numbered = {int(name.strip("p")): part for name, part in faulty.items()}
        await patterns.keep(rows.connection, site, "live", path, numbered)

    await keep("/a/", p1=Part(0), p2=Part.TEXT)
    await keep("/b/", p1=Part(0), p2=Part(0), p3=Part(0))
    assert await known() == {1: ("/a/", 0), 2: ("/a/", Part.TEXT), 3: ("/b/", 0)}
    await keep("/c/", p1=Part.KEYBOARD, p2=Part.NARROW)
    assert (await known())[2] == ("/c/", Part.TEXT | Part.NARROW)
    await rows.run("UPDATE tried_pattern SET tried_at = now() - interval '25 hours'")
    await keep("/d/", p2=Part(0))
    assert (await known())[2] == ("/d/", 0)
    await rows.run("UPDATE tried_pattern SET tried_at = now() - interval '31 days'")
    assert await known() == {}
    other = await patterns.known(rows.connection, site, "staging", EVER)
    assert other == []


async def test_pages_with_such_findings_before(rows: Rows) -> None:
    sweep = await rows.sweep(await rows.site("trust"))
    readings = {path: await rows.reading(sweep, path) for path in ("/a/", "/b/")}
    await rows.finding(readings["/a/"], "zoom/clipped", 1)
    await rows.finding(readings["/b/"], "links/vague", 2)
    pages = {
        path: (await rows.run("SELECT page_id FROM reading WHERE id = %s", one))[0][0]
        for path, one in readings.items()
    }
    asked = [*pages.values()]
    found = await patterns.faulty_before(rows.connection, sweep, asked, ["zoom/clipped"])
    assert found == {pages["/a/"]}
    assert await patterns.faulty_before(rows.connection, None, asked, ["zoom/clipped"]) == set()
