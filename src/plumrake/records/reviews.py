"""Reviews: what there is to show for questions to people, the pages they are asked about, and what
they answered."""

from __future__ import annotations

import hashlib
import json
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from plumrake.core.questions.evidence import Shown
from plumrake.core.questions.question import Evidence
from plumrake.core.shown_rows import Row
from plumrake.records.queries import Connection, load, number, one, row_or_none, rows, run

_QUERIES = load("reviews")
_MOST_MENUS = 40
_ALL = 2**31 - 1


@dataclass(frozen=True, slots=True)
class ToReviewRow:
    """A page of a sweep as the sample is chosen from."""

    page: int
    path: str
    builds: list[str]
    kinds: list[str]


@dataclass(frozen=True, slots=True)
class SiteLinkRow:
    """Links of one text to one address over a site."""

    text: str
    address: str
    pages: int
    first_path: str


@dataclass(frozen=True, slots=True)
class MenusRow:
    """Pages that show the same menus: how many, the first, and what it has to show."""

    pages: int
    first_path: str
    shown: str


@dataclass(frozen=True, slots=True)
class SampledRow:
    """A page that people are asked about (``asked``), or that a person left out, with the reasons
    and the keys of what it showed last."""

    page_id: int
    path: str
    because: list[str]
    chosen: bool | None
    asked: bool
    reading: int | None
    title: str | None
    shown: str | None
    keys: dict[str, str] | None


@dataclass(frozen=True, slots=True)
class SiteShownRow:
    """What a site has to show by a sweep, and through which lens it was read."""

    sweep: int
    lens: str
    shown: str | None
    keys: dict[str, str] | None


@dataclass(frozen=True, slots=True)
class AnswerRow:
    """An answer to a question about a page, or about the site (without a path), and on what it was
    given."""

    id: int
    environment: str
    page_id: int | None
    path: str | None
    question: str
    kind: str
    answer: str
    note: str
    lens: str
    shown: str | None
    shown_key: str
    answered_by: str
    answered_at: datetime
    lapsed_at: datetime | None
    ended_at: datetime | None
    ended_by: str | None
    faults: list[dict[str, Any]]


@dataclass(frozen=True, slots=True)
class NewAnswer:
    """What it takes to keep an answer."""

    site_id: int
    environment: str
    page_id: int | None
    question: str
    kind: str
    answer: str
    note: str
    lens: str
    shown: str | None
    shown_key: str
    answered_by: int


@dataclass(frozen=True, slots=True)
class SeenFaultRow:
    """A fault that somebody saw, and on which page of a sweep."""

    path: str
    question: str
    weight: str
    says: str
    place: dict[str, Any]


@dataclass(frozen=True, slots=True)
class SeenOnRow:
    """A reading with the places on which people saw something."""

    reading: int
    path: str
    keys: list[str]


@dataclass(frozen=True, slots=True)
class HeldRow:
    """A question that somebody else is looking at."""

    page_id: int | None
    question: str
    person: str


@dataclass(frozen=True, slots=True)
class _Content:
    content: bytes


async def store_shown(connection: Connection, shown: Mapping[Evidence, Shown]) -> str:
    """Keep what there is to show; return what it is known by."""
    there = {kind: one_kind for kind, one_kind in sorted(shown.items()) if one_kind.rows}
    content = json.dumps(
        {kind: one_kind.rows for kind, one_kind in there.items()}, ensure_ascii=False
    ).encode("utf-8", "replace")
    known_by = hashlib.sha256(content).hexdigest()
    await run(
        connection,
        _QUERIES["store_shown"],
        hash=known_by,
        keys=Jsonb({kind: one_kind.key for kind, one_kind in there.items()}),
        content=zlib.compress(content, 6),
    )
    return known_by


async def shown_by(connection: Connection, known_by: str | None) -> dict[str, list[Row]]:
    """Return what there was to show, by kind of evidence; nothing where it is not kept any more."""
    if known_by is None:
        return {}
    found = await row_or_none(connection, _QUERIES["shown"], _Content, hash=known_by)
    return json.loads(zlib.decompress(found.content)) if found is not None else {}


async def pages_to_review(connection: Connection, sweep_id: int) -> list[ToReviewRow]:
    """Return the pages of a sweep as the sample is chosen from."""
    return await rows(connection, _QUERIES["to_review"], ToReviewRow, sweep_id=sweep_id)


async def links_of_site(connection: Connection, sweep_id: int) -> list[SiteLinkRow]:
    """Return the links of a sweep's pages by text and address."""
    return await rows(connection, _QUERIES["site_links"], SiteLinkRow, sweep_id=sweep_id)


async def menus_of_site(connection: Connection, sweep_id: int) -> list[MenusRow]:
    """Return the pages of a sweep by the menus that they show, the most first."""
    return await rows(connection, _QUERIES["menus"], MenusRow, sweep_id=sweep_id, most=_MOST_MENUS)


async def keep_site_shown(
    connection: Connection, sweep_id: int, shown: Mapping[Evidence, Shown]
) -> None:
    """Keep what a site has to show by a sweep."""
    known_by = await store_shown(connection, shown)
    await run(connection, _QUERIES["keep_site_shown"], sweep_id=sweep_id, hash=known_by)


async def propose(
    connection: Connection,
    site_id: int,
    environment: str,
    proposed: Mapping[int, Sequence[str]],
) -> None:
    """Propose pages to ask people about, with the reasons; what a person decided stays."""
    of = {"site_id": site_id, "environment": environment}
    await run(connection, _QUERIES["no_longer_proposed"], pages=list(proposed), **of)
    await run(connection, _QUERIES["drop_undecided"], **of)
    given = [{"page": page, "because": [*because]} for page, because in proposed.items()]
    await run(connection, _QUERIES["propose"], proposed=Jsonb(given), **of)


async def choose(
    connection: Connection,
    site_id: int,
    environment: str,
    path: str,
    *,
    chosen: bool | None,
    by_id: int,
) -> bool:
    """Take a page into the sample, leave it out, or (None) leave it as proposed; False where it was
    never read."""
    of = {"site_id": site_id, "environment": environment}
    made = await run(connection, _QUERIES["choose"], path=path, chosen=chosen, by_id=by_id, **of)
    await run(connection, _QUERIES["drop_undecided"], **of)
    return made == 1


async def sample(
    connection: Connection, site_id: int, environment: str, lens: str, path: str | None = None
) -> list[SampledRow]:
    """Return the pages that people are asked about, and those that a person left out."""
    return await rows(
        connection,
        _QUERIES["sample"],
        SampledRow,
        site_id=site_id,
        environment=environment,
        lens=lens,
        path=path,
    )


async def site_shown(connection: Connection, sweep_id: int) -> SiteShownRow:
    """Return what a site has to show by a sweep."""
    return await one(connection, _QUERIES["sweep_shown"], SiteShownRow, sweep_id=sweep_id)


async def answers(
    connection: Connection,
    site_id: int,
    environment: str,
    *,
    in_force: bool = True,
    before: int | None = None,
    limit: int = _ALL,
) -> list[AnswerRow]:
    """Return the answers, the newest first: those in force (lapsed ones among them), or all."""
    return await rows(
        connection,
        _QUERIES["answers"],
        AnswerRow,
        site_id=site_id,
        environment=environment,
        id=None,
        in_force=in_force,
        before=before,
        limit=limit,
    )


async def answer_by_id(
    connection: Connection, site_id: int, environment: str, answer_id: int
) -> AnswerRow | None:
    """Return an answer, or None."""
    values = {"in_force": False, "before": None, "limit": 1}
    return await row_or_none(
        connection,
        _QUERIES["answers"],
        AnswerRow,
        site_id=site_id,
        environment=environment,
        id=answer_id,
        **values,
    )


async def lock_question(
    connection: Connection, site_id: int, environment: str, page_id: int | None, question: str
) -> None:
    """Let nobody else answer a question until the transaction ends."""
    of = f"{site_id}/{environment}/{page_id or 0}/{question}"
    await connection.execute(_QUERIES["lock_question"], {"of": of})


async def add_answer(
    connection: Connection, new: NewAnswer, faults: Sequence[Mapping[str, Any]]
) -> int:
    """Keep an answer with what is wrong by it; return its number."""
    values = {name: getattr(new, name) for name in NewAnswer.__slots__}
    answer_id = await number(connection, _QUERIES["add_answer"], **values)
    given = [{**fault, "position": position} for position, fault in enumerate(faults, 1)]
    await run(connection, _QUERIES["add_faults"], id=answer_id, faults=Jsonb(given))
    return answer_id


async def end_answer(connection: Connection, answer_id: int, by_id: int) -> bool:
    """End an answer; False where it was over already."""
    return await run(connection, _QUERIES["end_answer"], id=answer_id, by_id=by_id) == 1


async def lapse(
    connection: Connection, site_id: int, environment: str, sweep_id: int, *, is_whole: bool
) -> None:
    """Let the answers lapse whose evidence a sweep shows otherwise, and those hold again whose
    evidence it shows as it was."""
    of = {"site_id": site_id, "environment": environment, "sweep_id": sweep_id}
    await run(connection, _QUERIES["lapse_pages"], **of)
    if is_whole:
        await run(connection, _QUERIES["lapse_site"], **of)


async def seen_faults(
    connection: Connection,
    site_id: int,
    environment: str,
    sweep_id: int,
    answer_id: int | None = None,
) -> list[SeenFaultRow]:
    """Return what people saw on the pages of a sweep, by all answers that hold or by one."""
    return await rows(
        connection,
        _QUERIES["seen_faults"],
        SeenFaultRow,
        site_id=site_id,
        environment=environment,
        sweep_id=sweep_id,
        id=answer_id,
    )


async def readings_with(
    connection: Connection, sweep_id: int, check: str, paths: Sequence[str]
) -> list[SeenOnRow]:
    """Return the readings of a sweep that have findings of what people saw, or that are of some
    paths."""
    values = {"sweep_id": sweep_id, "check": check, "paths": list(paths)}
    return await rows(connection, _QUERIES["readings_with"], SeenOnRow, **values)


async def forget_seen(
    connection: Connection, reading_id: int, check: str, keys: Sequence[str]
) -> None:
    """Forget the findings of what people saw on a page, but for some places."""
    values = {"reading_id": reading_id, "check": check, "keys": list(keys)}
    await run(connection, _QUERIES["forget_seen"], **values)


async def hold(
    connection: Connection,
    site_id: int,
    environment: str,
    page_id: int | None,
    question: str,
    person_id: int,
    seconds: int,
) -> bool:
    """Let a person alone look at a question, and at no other; False where somebody else does."""
    of = {"site_id": site_id, "environment": environment, "person_id": person_id}
    await run(connection, _QUERIES["let_go"], **of)
    values = {"page_id": page_id, "question": question, "seconds": seconds}
    return await run(connection, _QUERIES["hold"], **of, **values) == 1


async def let_go(connection: Connection, site_id: int, environment: str, person_id: int) -> None:
    """A person looks at no question any more."""
    of = {"site_id": site_id, "environment": environment, "person_id": person_id}
    await run(connection, _QUERIES["let_go"], **of)


async def held_by_others(
    connection: Connection, site_id: int, environment: str, person_id: int
) -> list[HeldRow]:
    """Return the questions that others are looking at."""
    of = {"site_id": site_id, "environment": environment, "person_id": person_id}
    return await rows(connection, _QUERIES["held"], HeldRow, **of)
