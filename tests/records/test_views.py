"""The views over all pages of a sweep, and what is new on a site for those who watch it."""

from __future__ import annotations

from typing import Any

import psycopg

from plumrake.records import views
from plumrake.records.live import Watch
from plumrake.records.sweeps import SweepRow, sweep_by_id
from tests.records.conftest import Rows


async def row_of(rows: Rows, sweep: int) -> SweepRow:
    found = await sweep_by_id(rows.connection, sweep)
    assert found is not None
    return found


async def test_sections_add_up_one_step_below_a_path(rows: Rows) -> None:
    """Pages of the step itself stand for themselves; pages that are left out are not counted."""
    sweep = await rows.sweep(await rows.site("trust"))
    made = {
        path: await rows.reading(sweep, path, **values)
        for path, values in {
            "/": {},
            "/news/": {"ready": False},
            "/news/2027/a/": {"ready": False},
            "/news/2027/b/": {"status": "unreadable", "ready": False},
            "/newsletter/": {},
            "/hidden/": {"left_out_page": True},
        }.items()
    }
    for at, (path, weight, standing) in enumerate(
        (
            ("/news/", "barrier", "counts"),
            ("/news/2027/a/", "barrier", "counts"),
            ("/news/2027/a/", "obstacle", "waived"),
            ("/news/2027/a/", "friction", "counts"),
            ("/hidden/", "barrier", "counts"),
        )
    ):
        await rows.finding(made[path], "links/vague", at, weight=weight, standing=standing)

    async def below(path: str) -> list[tuple[str, int, int, int, int, int, int, bool]]:
        return [
            (
                one.path,
                one.pages,
                one.ready,
                one.unreadable,
                one.barriers,
                one.obstacles,
                one.frictions,
                one.has_more,
            )
            for one in await views.sections(rows.connection, sweep, path)
        ]

    assert await below("/") == [
        ("/", 1, 1, 0, 0, 0, 0, False),
        ("/news/", 3, 0, 1, 2, 0, 1, True),
        ("/newsletter/", 1, 1, 0, 0, 0, 0, False),
    ]
    assert await below("/news/") == [
        ("/news/", 1, 0, 0, 1, 0, 0, False),
        ("/news/2027/", 2, 0, 1, 1, 0, 1, True),
    ]
    assert await below("/fees/") == []


def picture(name: str, **values: Any) -> dict[str, Any]:
    """A picture as an inventory has it."""
    usual = {"name": name, "file": "boat.jpg", "source": "/boat.jpg", "selector": "img"}
    return {**usual, **values}


async def test_pictures_are_one_by_the_content_of_their_file(rows: Rows) -> None:
    """Wherever it lies; a picture of several texts contradicts itself; of one page's picture a
    part can be cut."""
    sweep = await rows.sweep(await rows.site("trust"))
    await rows.evidence("shot")
    await rows.inventory(
        "first",
        pictures=[
            picture("A boat", hash="h1", box=[0, 0, 9, 9]),
            picture("", source="/x.svg", file="x.svg", selector="p > img"),
            picture("", hash="", source=""),
        ],
    )
    await rows.inventory(
        "second",
        pictures=[
            picture("A barge", hash="h1", source="/copy.jpg", file="copy.jpg", box=[1, 1, 2, 2]),
            picture("", hash="h2", source="/dot.png", file="dot.png", decorative=True),
        ],
    )
    first = await rows.reading(sweep, "/a/", inventory="first", picture="shot")
    await rows.reading(sweep, "/b/", inventory="second")
    await rows.reading(sweep, "/c/")

    async def listed(**wanted: Any) -> list[views.PictureFileRow]:
        usual = {"contradictory": False, "without_text": False, "after": None, "limit": 9}
        return await views.pictures(rows.connection, sweep, **{**usual, **wanted})

    boat, dot, cross = await listed()
    assert (boat.key, boat.uses, boat.pages, boat.texts, boat.contradictory) == (
        "h1",
        2,
        2,
        ["A barge", "A boat"],
        True,
    )
    assert boat.cut == {"reading": first, "box": [0, 0, 9, 9]}
    assert (dot.key, dot.as_decorative, dot.without_text, dot.cut) == ("h2", 1, 0, None)
    assert (cross.key, cross.as_decorative, cross.without_text) == ("/x.svg", 0, 1)
    assert [one.key for one in await listed(contradictory=True)] == ["h1"]
    assert [one.key for one in await listed(without_text=True)] == ["/x.svg"]
    assert [one.key for one in await listed(after=(2, "h1"), limit=1)] == ["h2"]
    uses = await views.picture_uses(rows.connection, sweep, "h1")
    assert [(one.path, one.text, one.cut is not None) for one in uses] == [
        ("/a/", "A boat", True),
        ("/b/", "A barge", False),
    ]
    await rows.finding(first, "pictures/no-text", 1, selector="p > img", cause="cross")
    await rows.finding(first, "pictures/filler-text", 2, selector="img", cause="boat")
    await rows.finding(first, "pictures/large", 3, selector="img", standing="waived", cause="w")
    await rows.finding(first, "links/vague", 4, selector="img", cause="link")
    assert await views.picture_causes(rows.connection, sweep, "h1") == ["boat"]
    assert await views.picture_causes(rows.connection, sweep, "/x.svg") == ["cross"]


async def test_colour_pairs_that_fail_stand_first(rows: Rows) -> None:
    """A pair passes where all its uses do; the ratio is its lowest, what is required its
    highest."""
    sweep = await rows.sweep(await rows.site("trust"))
    pale = {"text": "#999", "background": "#fff", "ratio": 2.8, "required": 4.5, "uses": 3}
    large = {**pale, "required": 3.0, "uses": 1}
    plain = {"text": "#000", "background": "#fff", "ratio": 21, "required": 4.5, "uses": 90}
    await rows.inventory("one", colours=[{**pale, "passes": False}, {**plain, "passes": True}])
    await rows.inventory("two", colours=[{**large, "passes": False}])
    await rows.reading(sweep, "/b/", inventory="one")
    await rows.reading(sweep, "/a/", inventory="two")
    first, second = await views.colours(rows.connection, sweep)
    assert (first.text, first.passes, first.uses, first.pages, first.required) == (
        "#999",
        False,
        4,
        2,
        4.5,
    )
    assert (first.first_path, second.text, second.passes, second.uses) == ("/a/", "#000", True, 90)
    assert len(await views.colours(rows.connection, sweep, limit=1)) == 1


async def test_links_are_one_by_text_and_target(rows: Rows) -> None:
    """With what each was found to lead to on this site; found by text whatever the case, and by
    target as written or resolved."""
    site, other = await rows.site("trust"), await rows.site("mill")
    sweep = await rows.sweep(site)
    fees = {"name": "Fees", "target": "../fees/", "address": "https://x.example/fees/"}
    await rows.inventory("one", links=[fees, {**fees, "target": "/fees/"}])
    await rows.inventory(
        "two", links=[fees, {"name": "fees", "target": "mailto:a@x.example", "address": None}]
    )
    await rows.reading(sweep, "/b/", inventory="one")
    await rows.reading(sweep, "/a/", inventory="two")
    for where, state in ((site, "dead"), (other, "works")):
        await rows.run(
            "INSERT INTO link_state (site_id, address, state, says, status, chain)"
            " VALUES (%s, %s, %s, 'says', 404, '{}')",
            where,
            fees["address"],
            state,
        )

    async def listed(**wanted: Any) -> list[tuple[str, str, int, int, str | None]]:
        usual = {"text": None, "target": None, "states": None, "after": None, "limit": 9}
        got = await views.links(rows.connection, await row_of(rows, sweep), **{**usual, **wanted})
        return [(one.text, one.address, one.uses, one.pages, one.state) for one in got]

    wide = ("Fees", "https://x.example/fees/", 3, 2, "dead")
    mail = ("fees", "mailto:a@x.example", 1, 1, None)
    assert await listed() == [wide, mail]
    assert await listed(after=(3, *wide[:2])) == [mail]
    assert await listed(text="FEES") == [wide, mail]
    assert await listed(target="https://x.example/fees/") == [wide]
    assert await listed(target="mailto:a@x.example") == [mail]
    assert await listed(states=["dead"]) == [wide]
    assert await listed(states=["works"]) == []


async def test_titles_that_pages_share_stand_first(rows: Rows) -> None:
    """With the pages that have them; pages that could not be read have none."""
    sweep = await rows.sweep(await rows.site("trust"))
    for path, title in (("/b/", "News"), ("/a/", "News"), ("/c/", "Fees"), ("/d/", "Boats")):
        await rows.reading(sweep, path, title=title)
    await rows.reading(sweep, "/e/", title="News", status="unreadable")
    got = await views.titles(rows.connection, sweep, after=None, limit=9)
    assert [(one.title, one.pages, one.paths) for one in got] == [
        ("News", 2, ["/a/", "/b/"]),
        ("Fees", 1, ["/c/"]),
        ("Boats", 1, ["/d/"]),
    ]
    rest = await views.titles(rows.connection, sweep, after=(1, "Fees"), limit=9)
    assert [one.title for one in rest] == ["Boats"]


async def test_who_watches_sees_each_new_thing_once(rows: Rows, database: str) -> None:
    """From when they came on, of their site alone; an event whose transaction ends late too; and
    whether what they have not seen became more."""
    site, other = await rows.site("trust"), await rows.site("mill")
    ned, ruth = await rows.person("Ned"), await rows.person("Ruth")
    fix, far = await rows.fix(site, "a"), await rows.fix(other, "a")
    sweep = await rows.sweep(site)
    await rows.event(fix)
    watch = Watch(site, ned)
    await watch.begin(rows.connection)
    assert watch.unread == 0
    assert await watch.look(rows.connection) == ([], [], False)
    moved = await rows.event(fix)
    await rows.event(far)
    await rows.add(
        "sweep_event", sweep_id=sweep, kind="page", data={"read": 3, "unreadable": 1, "total": 9}
    )
    moves, steps, more = await watch.look(rows.connection)
    assert [one.id for one in moves] == [moved]
    assert [(one.kind, one.read, one.total) for one in steps] == [("page", 4, 9)]
    assert not more
    async with await psycopg.AsyncConnection.connect(database) as other_connection:
        late = await Rows(other_connection).event(fix)
        quick = await rows.event(fix)
        await rows.add("notification", person_id=ned, kind="handed-out", fix_id=fix)
        await rows.add("notification", person_id=ruth, kind="handed-out", fix_id=fix)
        moves, steps, more = await watch.look(rows.connection)
        assert ([one.id for one in moves], steps, more, watch.unread) == ([quick], [], True, 1)
    assert [one.id for one in (await watch.look(rows.connection))[0]] == [late]
    assert await watch.look(rows.connection) == ([], [], False)
