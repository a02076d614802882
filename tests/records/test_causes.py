"""Causes in the database: what gathering reads, what it keeps, the listings of them; and what
changed between two sweeps."""

from __future__ import annotations

from psycopg.types.json import Jsonb

from plumrake.core.causes import Cause
from plumrake.records import causes, changes
from plumrake.records.causes import CauseFilters
from plumrake.records.sweeps import SweepRow, sweep_by_id
from tests.records.conftest import Rows

ALL = CauseFilters()


async def swept(rows: Rows, number: int) -> SweepRow:
    found = await sweep_by_id(rows.connection, number)
    assert found is not None
    return found


def gathered(key: str, places: list[int], **values: object) -> Cause:
    """A cause as the core gathers it, of links on one page unless told otherwise."""
    usual: dict[str, object] = {
        "key": key,
        "check": "links/vague",
        "weight": "obstacle",
        "zone": "content",
        "by_template": False,
        "places": tuple(places),
        "pages": 1,
        "best": places[0],
    }
    return Cause(**{**usual, **values})  # type: ignore[arg-type]


async def listed(
    rows: Rows, sweep: int, filters: CauseFilters = ALL, sort: str = "reach"
) -> list[str]:
    """Return the keys of the causes that the filters let through, asked for one at a time."""
    keys: list[str] = []
    after: tuple[int, int] | None = None
    while True:
        got = await causes.causes_of(
            rows.connection, sweep, filters, sort=sort, after=after, limit=1
        )
        if not got:
            break
        keys.append(got[0].key)
        after = (got[0].rank, got[0].position)
    assert await causes.count_causes(rows.connection, sweep, filters) == len(keys)
    return keys


async def test_gathering_reads_places_and_the_census_of_one_sweep(rows: Rows) -> None:
    """Whether a place is pictured hangs on its box and its page's picture; builds without findings
    are not counted."""
    site = await rows.site("trust")
    sweep, other = await rows.sweep(site), await rows.sweep(site)
    await rows.evidence("shot")
    for number, (hash_, census) in enumerate(
        [("one", {"main>p": 3, "ul>li": 9}), ("two", {"main>p": 4})]
    ):
        await rows.inventory(hash_, census=census)
        reading = await rows.reading(
            sweep, f"/{number}/", inventory=hash_, picture="shot" if number else None
        )
        await rows.finding(reading, "links/vague", 9 - number, structure="main>p", box=[0, 0, 9, 9])
    await rows.finding(
        await rows.reading(other, "/0/", inventory="one"), "links/vague", 1, structure="ul>li"
    )
    places = await causes.places(rows.connection, sweep)
    assert [(one.cause_key, one.structure, one.pictured) for one in places] == [
        ("links/vague", "main>p", True),
        ("links/vague", "main>p", False),
    ]
    assert await causes.census(rows.connection, sweep) == {"main>p": 7}


async def test_causes_keep_since_when_they_are_known(rows: Rows) -> None:
    """Of an environment of its own; gathered anew they take the place of those before."""
    site = await rows.site("trust")
    first, staging, second = [
        await rows.sweep(site, environment=name) for name in ("live", "staging", "live")
    ]
    found = {
        sweep: [
            await rows.finding(await rows.reading(sweep, path), "links/vague", at)
            for at, path in enumerate(("/a/", "/b/"), 1)
        ]
        for sweep in (first, staging, second)
    }
    for sweep in (first, staging, second):
        await causes.keep_causes(
            rows.connection,
            await swept(rows, sweep),
            [gathered("footer", found[sweep], by_template=True, pages=2)],
        )
    news = found[second]
    await causes.keep_causes(
        rows.connection,
        await swept(rows, second),
        [gathered("footer", news[:1], by_template=True), gathered("fresh", news[1:])],
    )
    got = await causes.causes_of(rows.connection, second, ALL, limit=9)
    assert [(one.key, one.position, one.first_sweep, one.places) for one in got] == [
        ("footer", 1, first, 1),
        ("fresh", 2, second, 1),
    ]
    assert await causes.known_by_template(rows.connection, second) == {"footer"}
    assert await causes.known_by_template(rows.connection, None) == frozenset()
    stands = await rows.run("SELECT cause FROM finding WHERE sweep_id = %s ORDER BY id", second)
    assert stands == [("footer",), ("fresh",)]
    on_staging = await causes.cause_by_key(rows.connection, staging, "footer")
    assert on_staging is not None
    assert (on_staging.first_sweep, on_staging.places) == (staging, 2)
    assert await causes.cause_by_key(rows.connection, staging, "fresh") is None


async def test_what_was_gone_and_is_there_again_came_back(rows: Rows) -> None:
    """Not what is new, nor what was there all the time, nor what a page could not show between."""
    site = await rows.site("trust")
    oldest, base = await rows.sweep(site), await rows.sweep(site)
    newest = await rows.sweep(site, base_id=base)
    for sweep, keys in ((oldest, (1, 2)), (base, (2,)), (newest, (1, 2, 3))):
        reading = await rows.reading(sweep, "/a/")
        for key in keys:
            await rows.finding(reading, "links/vague", key)
    await rows.finding(await rows.reading(oldest, "/b/"), "links/vague", 4)
    await rows.reading(base, "/b/", status="unreadable")
    await rows.finding(await rows.reading(newest, "/b/"), "links/vague", 4)
    await causes.keep_causes(rows.connection, await swept(rows, newest), [])
    marked = await rows.run(
        "SELECT ordinal, reopened FROM finding WHERE sweep_id = %s ORDER BY ordinal", newest
    )
    assert marked == [(1, True), (2, False), (3, False), (4, False)]


async def test_up_to_three_places_of_a_cause_are_pictured(rows: Rows) -> None:
    """The best first of all; places without box, hidden ones, and pages without picture are passed
    over."""
    site = await rows.site("trust")
    sweep = await rows.sweep(site)
    await rows.evidence("shot")
    pictured = await rows.reading(sweep, "/a/", picture="shot")
    bare = await rows.reading(sweep, "/b/")
    box = [0, 0, 9, 9]
    at = [
        await rows.finding(pictured, "links/vague", ordinal, cause="c", box=box)
        for ordinal in range(1, 6)
    ]
    await rows.finding(pictured, "links/vague", 6, cause="c", box=box, visible=False)
    await rows.finding(pictured, "links/vague", 7, cause="c")
    await rows.finding(bare, "links/vague", 8, cause="c", box=box)
    await rows.cause(at[3], 1)
    places = await causes.places_to_picture(rows.connection, sweep)
    assert {one.finding for one in places} == {at[3], at[0], at[1]}
    for place in places:
        for picture in ("shot", "later"):
            hash_ = f"{picture} {place.finding}"
            await rows.evidence(hash_)
            await causes.keep_picture(rows.connection, sweep, place, hash_)
    [cause] = await causes.causes_of(rows.connection, sweep, ALL, limit=9)
    assert cause.pictures == [f"shot {at[3]}", f"shot {at[0]}", f"shot {at[1]}"]


async def test_causes_are_filtered_and_sorted_piece_by_piece(rows: Rows) -> None:
    """By each filter alone; the count agrees; a fix of another environment hands nothing out."""
    site = await rows.site("trust")
    sweep = await rows.sweep(site)
    reading = await rows.reading(sweep, "/a/")
    wide = await rows.finding(reading, "links/vague", 1, cause="wide")
    heavy = await rows.finding(
        reading, "pictures/no-text", 2, cause="heavy", weight="barrier", standing="waived"
    )
    unsure = await rows.finding(
        reading, "links/alike", 3, cause="unsure", weight="barrier", outcome="cantTell",
        standing="doubtful",
    )  # fmt: skip
    word = await rows.finding(
        reading, "text/spelling", 4, cause="word", weight="friction", outcome="cantTell",
        standing="doubtful",
    )  # fmt: skip
    await rows.cause(wide, 1, by_template=True, zone="footer", first_sweep=sweep - 1)
    for at, finding in enumerate((heavy, unsure, word), 2):
        await rows.cause(finding, at)
    await rows.fix(site, "wide", owner_id=await rows.person("Ned"))
    await rows.fix(site, "heavy", environment="staging")
    assert await listed(rows, sweep) == ["wide", "heavy", "unsure", "word"]
    assert await listed(rows, sweep, sort="weight") == ["heavy", "unsure", "wide", "word"]
    assert await listed(rows, sweep, sort="newest") == ["heavy", "unsure", "word", "wide"]
    wanted = {
        "check": (CauseFilters(check="links/vague"), ["wide"]),
        "area": (CauseFilters(check="links"), ["wide", "unsure"]),
        "weight": (CauseFilters(weight="barrier"), ["heavy", "unsure"]),
        "outcome": (CauseFilters(outcome="failed"), ["wide", "heavy"]),
        "zone": (CauseFilters(zone="footer"), ["wide"]),
        "of a template": (CauseFilters(by_template=True), ["wide"]),
        "of the content": (CauseFilters(by_template=False), ["heavy", "unsure", "word"]),
        "handed out": (CauseFilters(handed_out=True), ["wide"]),
        "not yet": (CauseFilters(handed_out=False), ["heavy", "unsure", "word"]),
        "words": (CauseFilters(words=True), ["word"]),
        "no words": (CauseFilters(words=False), ["wide", "heavy", "unsure"]),
        "counting": (CauseFilters(counting=["barrier", "obstacle"]), ["wide"]),
    }
    for name, (filters, expected) in wanted.items():
        assert await listed(rows, sweep, filters) == expected, name
    rows_of = {one.key: one for one in await causes.causes_of(rows.connection, sweep, ALL, limit=9)}
    assert (rows_of["wide"].fix_owner, rows_of["heavy"].fix_id) == ("Ned", None)
    assert (rows_of["heavy"].waived, rows_of["wide"].waived) == (1, 0)


async def two_sweeps(rows: Rows) -> tuple[int, int]:
    """Two sweeps of pages of which some came, went, or could be read by one of them alone."""
    site = await rows.site("trust")
    base, sweep = await rows.sweep(site), await rows.sweep(site)
    for number, faults in ((base, (1, 2, 3)), (sweep, (2, 4, 5))):
        reading = await rows.reading(
            number, "/both/", untested=Jsonb([{"check": "tables/no-headers", "why": "no style"}])
        )
        for fault in faults:
            await rows.finding(
                reading,
                "links/vague",
                fault,
                cause=f"cause {fault % 2}",
                weight="barrier" if fault == 5 else "obstacle",
                reopened=fault == 4,
                standing="waived" if fault == 3 else "counts",
            )
    old = (await rows.run("SELECT id FROM reading WHERE sweep_id = %s", base))[0][0]
    await rows.finding(old, "tables/no-headers", 9)
    for number, path, status in (
        (base, "/went/", "read"),
        (sweep, "/came/", "read"),
        (base, "/worse/", "read"),
        (sweep, "/worse/", "unreadable"),
        (base, "/better/", "unreadable"),
        (sweep, "/better/", "read"),
    ):
        reading = await rows.reading(number, path, status=status)
        if status == "read":
            await rows.finding(reading, "links/vague", 11 + reading)
    return sweep, base


async def test_changes_are_counted_on_pages_that_both_could_read(rows: Rows) -> None:
    """What the newer did not test is not gone; what is waived is not counted."""
    sweep, base = await two_sweeps(rows)
    got = await changes.figures(rows.connection, sweep, base)
    assert [(one.kind, one.weight, one.count) for one in got] == [
        ("gone", "obstacle", 1),
        ("new", "barrier", 1),
        ("reopened", "obstacle", 1),
        ("still", "obstacle", 1),
    ]


async def test_the_findings_of_each_change_are_those_that_were_counted(rows: Rows) -> None:
    """A piece at a time, by cause and by page too."""
    sweep, base = await two_sweeps(rows)

    async def of(kind: str, **wanted: object) -> list[int]:
        usual = {"cause": None, "path": None, "after": 0, "limit": 9}
        got = await changes.findings(rows.connection, sweep, base, kind, **{**usual, **wanted})  # type: ignore[arg-type]
        return [one.ordinal for one in got]

    assert [await of(kind) for kind in changes.KINDS] == [[5], [2], [1], [4]]
    assert await of("new", path="/both/", cause="cause 1") == [5]
    assert await of("new", path="/came/") == []
    assert await of("still", cause="cause 1") == []
    assert await of("still", after=2) == []


async def test_pages_that_came_and_went_are_told_apart(rows: Rows) -> None:
    """And those that only one of the sweeps could read."""
    sweep, base = await two_sweeps(rows)
    got = await changes.pages(rows.connection, sweep, base)
    assert [(one.path, one.kind) for one in got] == [
        ("/came/", "appeared"),
        ("/better/", "readable"),
        ("/worse/", "unreadable"),
        ("/went/", "vanished"),
    ]


async def test_causes_that_came_went_widened_and_narrowed(rows: Rows) -> None:
    """Those of the same reach are left out; where the older sweep has none, nothing is told."""
    site = await rows.site("trust")
    base, sweep = await rows.sweep(site), await rows.sweep(site)
    reach = {
        "went": (2, None),
        "came": (None, 3),
        "wider": (1, 4),
        "narrower": (5, 2),
        "same": (1, 1),
    }
    for at, number in enumerate((base, sweep)):
        reading = await rows.reading(number, "/a/")
        for position, (key, places) in enumerate(reach.items(), 1):
            if (there := places[at]) is not None:
                finding = await rows.finding(reading, "links/vague", position, cause=key)
                await rows.cause(finding, position, places=there, pages=there)
    got = await changes.causes(rows.connection, sweep, base)
    assert [(one.key, one.kind, one.places_before, one.places_now) for one in got] == [
        ("narrower", "narrower", 5, 2),
        ("wider", "wider", 1, 4),
        ("came", "new", 0, 3),
        ("went", "gone", 2, 0),
    ]
    await rows.run("DELETE FROM cause WHERE sweep_id = %s", base)
    assert await changes.causes(rows.connection, sweep, base) == []
