"""Sites with their figures, schedules and archives: each site's own, whatever others have."""

from __future__ import annotations

import io
import zipfile
from datetime import UTC, datetime, timedelta

import psycopg

from plumrake.actions.archives import keep_archive
from plumrake.records import sites
from tests.records.conftest import Rows

COUNTED = {
    "barriers": 2,
    "obstacles": 5,
    "frictions": 9,
    "doubtful": 3,
    "words": 40,
    "waived": 1,
    "left_out": 4,
    "unreadable_left_out": 1,
}


def new(slug: str, **values: object) -> sites.NewSite:
    """Return what is needed for a site."""
    usual = {
        "name": slug.title(),
        "live_address": f"https://{slug}.example/",
        "staging_address": None,
        "found_by": "both",
        "listed_paths": [],
        "private_leave": False,
        "policy": {},
    }
    return sites.NewSite(slug=slug, **{**usual, **values})  # type: ignore[arg-type]


async def test_sites_are_listed_by_name_and_known_by_their_short_name(rows: Rows) -> None:
    """A short name is one site's."""
    museum = await sites.add_site(rows.connection, new("museum"))
    trust = await sites.add_site(
        rows.connection, new("trust", name="A canal", policy={"level": "a"})
    )
    assert museum is not None
    assert trust is not None
    assert await sites.add_site(rows.connection, new("museum", name="Another")) is None
    assert [
        one.slug for one in await sites.sites_of(rows.connection, await rows.person("Ned"))
    ] == ["trust", "museum"]
    found = await sites.site_by_slug(rows.connection, "trust")
    assert found is not None
    assert (found.id, found.policy, found.most_pages) == (trust.id, {"level": "a"}, 20_000)
    assert await sites.site_by_slug(rows.connection, "Trust") is None
    assert (await sites.site_by_id(rows.connection, museum.id)).name == "Museum"


async def test_a_change_counts_only_for_who_saw_the_newest(rows: Rows) -> None:
    """The second of two who saw the same changes nothing; another site is not touched."""
    seen = await sites.add_site(rows.connection, new("trust"))
    await sites.add_site(rows.connection, new("museum"))
    assert seen is not None
    first = await sites.change_site(rows.connection, seen, new("trust", name="First", parallel=2))
    assert first is not None
    assert (first.name, first.parallel, first.slug) == ("First", 2, "trust")
    assert await sites.change_site(rows.connection, seen, new("trust", name="Second")) is None
    third = await sites.change_site(rows.connection, first, new("trust", name="Third"))
    assert third is not None
    assert [
        one.name for one in await sites.sites_of(rows.connection, await rows.person("Ned"))
    ] == ["Museum", "Third"]


async def test_figures_are_of_the_newest_whole_finished_sweep_of_each_environment(
    rows: Rows,
) -> None:
    """Neither one that runs, nor one of a section, nor one of given pages; pages that are left out
    are told apart; a site without one has none."""
    trust, museum = await rows.site("trust"), await rows.site("museum")
    await rows.site("empty")
    await rows.sweep(trust, total=50, ready=1)
    newest = await rows.sweep(
        trust, total=71, ready=40, unreadable=2, counted=COUNTED, finished_at=datetime.now(UTC)
    )
    staging = await rows.sweep(trust, "staging", total=70, ready=30)
    await rows.sweep(trust, total=71, ready=50, state="running")
    await rows.sweep(trust, total=9, ready=9, section="/visit/")
    await rows.sweep(trust, total=3, ready=3, scope="given")
    other = await rows.sweep(museum, total=5, ready=5)
    found = await sites.figures(rows.connection)
    assert [(one.site_id, one.environment, one.sweep_id) for one in found] == [
        (trust, "live", newest),
        (trust, "staging", staging),
        (museum, "live", other),
    ]
    live = found[0]
    assert (live.pages, live.left_out, live.ready, live.unreadable) == (67, 4, 40, 1)
    assert (live.barriers, live.obstacles, live.frictions) == (2, 5, 9)
    assert (live.doubtful, live.words, live.waived) == (3, 40, 1)
    assert (found[1].pages, found[1].barriers) == (70, 0)
    alone = await sites.figures(rows.connection, museum)
    assert [one.sweep_id for one in alone] == [other]


async def test_what_is_read_by_the_clock_is_held_by_one(rows: Rows, database: str) -> None:
    """While one worker looks at the schedules another finds none; a new pattern counts from now, a
    change of anything else leaves the clock alone."""
    planned = await sites.add_site(rows.connection, new("trust", schedule="0 4 * * *"))
    await sites.add_site(rows.connection, new("museum"))
    assert planned is not None
    async with await psycopg.AsyncConnection.connect(database) as holding:
        assert [one.slug for one in await sites.scheduled(holding)] == ["trust"]
        assert await sites.scheduled(rows.connection) == []
    assert [one.slug for one in await sites.scheduled(rows.connection)] == ["trust"]
    earlier = datetime.now(UTC) - timedelta(days=3)
    await sites.note_scheduled(rows.connection, planned.id, earlier)
    now = await sites.site_by_id(rows.connection, planned.id)
    renamed = await sites.change_site(
        rows.connection, now, new("trust", name="Renamed", schedule="0 4 * * *")
    )
    assert renamed is not None
    assert renamed.scheduled_at == earlier
    moved = await sites.change_site(rows.connection, renamed, new("trust", schedule="0 5 * * *"))
    assert moved is not None
    assert moved.scheduled_at > earlier + timedelta(days=2)


async def test_archives_are_each_sites_own(rows: Rows) -> None:
    """One takes the place of an older one; a site that goes takes its own along, and no other's."""
    trust, museum = await rows.site("trust"), await rows.site("museum")
    for site, known_by, name in (
        (trust, "hash of trust", "old.zip"),
        (trust, "second of trust", "new.zip"),
        (museum, "hash of museum", "all.zip"),
    ):
        row = await sites.keep_archive(rows.connection, site, known_by, name, b"PK")
        assert (row.archive, row.found_by) == (known_by, "archive")
    kept = await sites.archive(rows.connection, "second of trust")
    assert kept is not None
    assert (kept.name, bytes(kept.content)) == ("new.zip", b"PK")
    await sites.drop_site(rows.connection, trust)
    assert await sites.archive(rows.connection, "second of trust") is None
    assert await sites.archive(rows.connection, "hash of museum") is not None
    assert [
        one.slug for one in await sites.sites_of(rows.connection, await rows.person("Ned"))
    ] == ["museum"]


async def test_the_same_archive_of_two_sites_stays_with_the_one_that_is_left(rows: Rows) -> None:
    """Both may hand over the same content; one of them goes."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as packed:
        packed.writestr("index.html", "<!doctype html><title>Locks</title>")
    trust = await sites.add_site(rows.connection, new("trust"))
    museum = await sites.add_site(rows.connection, new("museum"))
    assert trust is not None
    assert museum is not None
    await keep_archive(rows.connection, trust, "site.zip", made.getvalue())
    left = await keep_archive(rows.connection, museum, "site.zip", made.getvalue())
    await sites.drop_site(rows.connection, trust.id)
    assert left.archive is not None
    assert await sites.archive(rows.connection, left.archive) is not None
