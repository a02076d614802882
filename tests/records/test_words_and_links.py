"""Words of sites and what links lead to: counted, kept and forgotten among those of other sites and
sweeps."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from psycopg.types.json import Jsonb

from plumrake.core.evidence import LinkState
from plumrake.records import links, words
from tests.records.conftest import Rows

DOUBTFUL = {"outcome": "cantTell", "standing": "doubtful", "weight": "friction"}


async def doubt(rows: Rows, reading: int, ordinal: int, word: str, count: int = 1) -> int:
    """Put a doubtful word in."""
    facts = {"word": word, "language": "en-GB", "count": count}
    return await rows.finding(reading, "text/spelling", ordinal, facts=facts, **DOUBTFUL)


async def test_words_are_each_sites_own(rows: Rows) -> None:
    """Those that are there already, in whatever case, are not new; one that goes makes pages be
    read again."""
    ned = await rows.person("Ned")
    site, other = await rows.site("trust"), await rows.site("museum")
    assert await words.add(rows.connection, site, ["weir", "Gongoozler", "staunch"], ned) == 3
    assert await words.add(rows.connection, site, ["WEIR", "paddle"], ned) == 1
    assert await words.add(rows.connection, other, ["weir"], ned) == 1
    assert await words.count(rows.connection, site) == 4
    first = await words.of_site(rows.connection, site, limit=2)
    assert [(one.word, one.added_by) for one in first] == [("Gongoozler", "Ned"), ("paddle", "Ned")]
    rest = await words.of_site(rows.connection, site, after="paddle")
    assert [one.word for one in rest] == ["staunch", "weir"]
    assert await words.all_of(rows.connection, site) == ["weir", "Gongoozler", "staunch", "paddle"]
    assert await words.drop(rows.connection, site, "Weir")
    assert not await words.drop(rows.connection, site, "Weir")
    assert await words.all_of(rows.connection, other) == ["weir"]
    dropped = await rows.run("SELECT slug, words_dropped FROM site ORDER BY slug")
    assert dropped == [("museum", 0), ("trust", 1)]


async def test_doubtful_words_are_gathered_by_word(rows: Rows) -> None:
    """On most pages first; places are added up; what was answered is not among them; one page's
    can be asked for."""
    site = await rows.site("trust")
    sweep = await rows.sweep(site)
    home, visit = await rows.reading(sweep, "/"), await rows.reading(sweep, "/visit/")
    first = await doubt(rows, home, 1, "Gongoozler", 2)
    await doubt(rows, visit, 2, "gongoozler", 3)
    await doubt(rows, visit, 3, "staunch", 9)
    answered = await doubt(rows, visit, 4, "weir", 9)
    await rows.run("UPDATE finding SET standing = 'judged fine' WHERE id = %s", answered)
    await rows.finding(home, "links/vague", 5)
    elsewhere = await rows.sweep(await rows.site("museum"))
    await doubt(rows, await rows.reading(elsewhere, "/"), 1, "gongoozler")
    found = await words.doubtful(rows.connection, sweep)
    assert [(one.word.lower(), one.pages, one.places, one.language) for one in found] == [
        ("gongoozler", 2, 5, "en"),
        ("staunch", 1, 9, "en"),
    ]
    assert (found[0].finding, found[0].path) == (first, "/")
    on_page = await words.doubtful(rows.connection, sweep, path="/visit/")
    assert [one.word for one in on_page] == ["staunch", "gongoozler"]
    assert len(await words.doubtful(rows.connection, sweep, limit=1)) == 1


async def test_the_sites_words_are_fine_in_a_sweep_until_they_go(rows: Rows) -> None:
    """In any case and with 's; what a person judged stands."""
    ned = await rows.person("Ned")
    site = await rows.site("trust")
    sweep = await rows.sweep(site)
    reading = await rows.reading(sweep, "/")
    texts = ("Weir", "weir's", "weirs", "staunch", "weirder")
    ids = [await doubt(rows, reading, at, word) for at, word in enumerate(texts)]
    await words.add(rows.connection, site, ["weir"], ned)

    async def answers() -> list[str | None]:
        await words.apply(rows.connection, site, sweep)
        found = await rows.run("SELECT answer FROM finding WHERE id = any(%s) ORDER BY id", ids)
        return [answer for (answer,) in found]

    assert await answers() == ["fine", "fine", None, None, None]
    await words.drop(rows.connection, site, "weir")
    assert await answers() == [None, None, None, None, None]


async def inventory(rows: Rows, name: str, *addresses: str) -> str:
    """Put what a page links to in."""
    held = Jsonb([{"address": one} for one in addresses])
    await rows.run(
        "INSERT INTO inventory (hash, census, pictures, colours, links)"
        " VALUES (%s, '{}', '[]', '[]', %s)",
        name,
        held,
    )
    return name


async def linked(rows: Rows) -> tuple[int, int, int]:
    """Put a site in with a sweep of two pages that link to three addresses and one that is empty;
    return site, sweep and the second reading."""
    site = await rows.site("trust")
    sweep = await rows.sweep(site)
    one = await inventory(rows, "one", "https://a.example/", "https://b.example/")
    two = await inventory(rows, "two", "https://c.example/", "", "https://b.example/")
    await rows.reading(sweep, "/", inventory=one)
    return site, sweep, await rows.reading(sweep, "/visit/", inventory=two)


async def test_only_what_works_is_not_asked_again(rows: Rows) -> None:
    """Each address once; one that was dead is asked again, one that works only after a while."""
    site, sweep, reading = await linked(rows)
    hour = datetime.now(UTC) - timedelta(hours=1)

    async def to_ask(since: datetime = hour, limit: int = 9) -> list[str]:
        found = await links.addresses(rows.connection, site, sweep, since, limit)
        return [one[8] for one in found]

    assert await to_ask() == ["a", "b", "c"]
    assert await to_ask(limit=2) == ["a", "b"]
    await links.keep(
        rows.connection,
        site,
        {
            "https://a.example/": LinkState("works", "", 200, ("https://a.example/x",)),
            "https://b.example/": LinkState("dead", "answers 404", 404),
            "https://c.example/": LinkState("works", "", 200, (), fragment=False),
        },
    )
    assert await to_ask() == ["b", "c"]
    assert await to_ask(datetime.now(UTC) + timedelta(seconds=5)) == ["a", "b", "c"]
    assert [one[8:9] for one in await links.of_reading(rows.connection, reading)] == ["c", "", "b"]
    known = await links.of_page(rows.connection, reading)
    assert {one[8]: (row.state, row.says) for one, row in known.items()} == {
        "b": ("dead", "answers 404"),
        "c": ("no-part", "the page has no such part"),
    }


async def test_what_is_known_of_links_ages_by_what_they_lead_to(rows: Rows) -> None:
    """What works is believed for longer; a later answer takes the earlier one's place; addresses
    that no page has any more are forgotten, others are not."""
    site, sweep, _ = await linked(rows)
    other = await rows.site("museum")
    gone, here = "https://gone.example/", "https://a.example/"
    for at in (site, other):
        await links.keep(
            rows.connection, at, {here: LinkState("works"), gone: LinkState("dead", "no answer")}
        )
    now = datetime.now(UTC) + timedelta(seconds=5)
    day = now - timedelta(days=1)

    async def known(works_since: datetime, since: datetime) -> list[tuple[str, str]]:
        found = await links.known(
            rows.connection,
            site,
            [here, gone, "https://new.example/"],
            works_since=works_since,
            since=since,
        )
        return sorted((one.address, one.as_state.state) for one in found)

    assert await known(day, day) == [(here, "works"), (gone, "dead")]
    assert await known(day, now) == [(here, "works")]
    assert await known(now, day) == [(gone, "dead")]
    await links.keep(rows.connection, site, {here: LinkState("dead", "answers 410", 410)})
    assert await known(day, day) == [(here, "dead"), (gone, "dead")]
    await links.forget(rows.connection, site, sweep, now)
    assert await rows.run("SELECT site_id, address FROM link_state ORDER BY 1, 2") == [
        (site, here),
        (other, here),
        (other, gone),
    ]


async def test_one_round_of_links_at_a_time(rows: Rows) -> None:
    """A second one is not begun while the first goes on, unless that was lost; a sweep that
    followed its links counts as one."""
    ned = await rows.person("Ned")
    site, sweep, _ = await linked(rows)
    assert await links.last_round(rows.connection, site) is None
    assert await links.begin_link_check(rows.connection, site, sweep, ned)
    assert not await links.begin_link_check(rows.connection, site, sweep, ned)
    await links.count_sweep(rows.connection, sweep)
    under_way = await links.last_round(rows.connection, site)
    assert under_way is not None
    assert (under_way.total, under_way.ended_at, under_way.asked_by) == (0, None, "Ned")
    await rows.run("UPDATE link_check SET begun_at = now() - interval '2 hours'")
    assert await links.begin_link_check(rows.connection, site, sweep, None)
    await links.keep(
        rows.connection,
        site,
        {
            "https://a.example/": LinkState("works"),
            "https://b.example/": LinkState("dead"),
            "https://c.example/": LinkState("dead"),
        },
    )
    await links.count_link_check(rows.connection, site, 3, 3, ended=True)
    ended = await links.last_round(rows.connection, site)
    assert ended is not None
    assert (ended.total, ended.asked, ended.asked_by) == (3, 3, None)
    assert ended.ended_at is not None
    assert ended.states == {"works": 1, "dead": 2}
    newer = await rows.sweep(site)
    await rows.reading(newer, "/", inventory="one")
    await links.count_sweep(rows.connection, newer)
    followed = await links.last_round(rows.connection, site)
    assert followed is not None
    assert (followed.sweep_id, followed.total) == (newer, 2)
