"""Texts for the picture of a finding: found around it, in its file and elsewhere on the site; and,
where somebody asks, said by the organisation's describer."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import urljoin, urlsplit

from plumrake.actions.fixes import Actor
from plumrake.actions.ports import Connect, Enqueue, ReaderFor
from plumrake.actions.site_sources import SourceSettings, site_sources
from plumrake.actions.sites import policy_of_site, private_origins
from plumrake.connectors.source_item import BadConnection
from plumrake.connectors.wordpress.connector import WordPressConnector
from plumrake.core.content_hash import hash_of
from plumrake.core.picture_texts import PictureContext, PictureText
from plumrake.core.registry import catalogue
from plumrake.lenses.assessor import Assessor
from plumrake.lenses.picture_files import MOST_BYTES
from plumrake.lenses.reader import PageReader, open_markup
from plumrake.lenses.runners import AssessorLost, Runner
from plumrake.net.exchange import Answer, ExchangeBounds, exchange
from plumrake.net.problems import Unreadable
from plumrake.outbound.describer import (
    Describer,
    DescriberFailed,
    DescriberQuestion,
    ask_describer,
)
from plumrake.records import connections, picture_texts, sites, sweeps
from plumrake.records.queries import Connection
from plumrake.records.sites import SiteRow
from plumrake.records.sweeps import FindingInFullRow

_BOUNDS = ExchangeBounds(15.0, MOST_BYTES)
_LONG = "pictures/long-text"


class NoDescriber(ValueError):
    """Nobody may be asked to describe this site's pictures."""

    code = "no-describer"


@dataclass(frozen=True, slots=True)
class _Picture:
    """The picture of a finding: what is around it, and its file."""

    context: PictureContext
    answer: Answer


async def ask_for_texts(connection: Connection, enqueue: Enqueue, finding_id: int) -> None:
    """Have texts for the picture of a finding looked for, unless they were a moment ago."""
    async with connection.transaction():
        if await picture_texts.ask_texts(connection, finding_id):
            given = {"finding_id": finding_id, "description_id": None}
            await enqueue(connection, "propose_texts", given)


async def ask_for_description(
    connection: Connection,
    enqueue: Enqueue,
    site: SiteRow,
    finding: FindingInFullRow,
    by: Actor,
    *,
    has_describer: bool,
) -> int:
    """Have the picture of a finding described; return the description's number. Raises
    ``NoDescriber``."""
    if not has_describer:
        raise NoDescriber(
            "no describer is set up; whoever runs the service names one in PLUMRAKE_DESCRIBER"
        )
    if policy_of_site(site).describer != "on-request":
        raise NoDescriber(
            f"the policy of '{site.slug}' sends no pictures to a describer; a manager may set "
            'describer = "on-request"'
        )
    assert by.id is not None
    async with connection.transaction():
        number = await picture_texts.ask_description(connection, site.id, finding.id, by.id)
        given = {"finding_id": finding.id, "description_id": number}
        await enqueue(connection, "propose_texts", given)
    return number


async def propose(
    connect: Connect,
    readers: ReaderFor,
    settings: SourceSettings,
    describer: Describer | None,
    finding_id: int,
    description_id: int | None,
) -> None:
    """Find texts for the picture of a finding, or have it described, and keep what came."""
    async with connect() as connection:
        finding = await sweeps.finding_by_id(connection, finding_id)
        if finding is None:
            return
        found = await sites.site_by_slug(connection, finding.site)
        assert found is not None
        row = await connections.connection_of(connection, found.id, finding.environment)
    desk = _TextDesk(connect, found, finding)
    items: list[PictureText] = []
    text = problem = ""
    try:
        async with (
            readers("markup", tuple(private_origins(found))) as reader,
            site_sources(connect, found, finding.environment, row, settings) as sources,
            reader.runners.lend() as runner,
        ):
            source = await sources.read(finding.path, reader)
            await open_markup(runner, source.fetched, source.fetched.address, reader.limits)
            picture = await desk.picture(reader, runner, source.fetched.address)
            if description_id is None:
                library = ""
                if isinstance(sources.connector, WordPressConnector):
                    known = await sources.connector.library_picture(picture.answer.address)
                    library = known.text if known is not None else ""
                items = await desk.texts(runner, picture, library)
            elif describer is not None:
                text = await desk.described(describer, picture, description_id)
    except (Unreadable, BadConnection, AssessorLost, DescriberFailed) as error:
        problem = str(error)
    async with connect() as connection:
        if description_id is not None:
            await picture_texts.end_description(connection, description_id, text, problem)
            return
        given = [{"text": one.text, "comes_from": one.comes_from} for one in items]
        await picture_texts.keep_texts(connection, finding_id, given, problem)


class _TextDesk:
    """Finds texts for the picture of one finding."""

    def __init__(self, connect: Connect, site: SiteRow, finding: FindingInFullRow) -> None:
        self._connect = connect
        self._finding = finding
        options = policy_of_site(site).options(catalogue()[_LONG])
        self._longest = int(options["longest"])

    async def picture(self, reader: PageReader, runner: Runner, address: str) -> _Picture:
        """Return the picture with its file. Raises ``Unreadable``, ``AssessorLost``."""
        line, column = self._finding.line, self._finding.column
        context = None
        if line is not None and column is not None:
            context = await runner.do(Assessor.picture_at, line, column)
        if context is None or not context.source:
            raise Unreadable(
                "no-source", "the picture is not on the page as it was found; read the page again"
            )
        at = urljoin(address, context.source)
        if urlsplit(at).scheme not in ("http", "https"):
            return _Picture(context, Answer(at, 200, "", {}))
        answer = await exchange(reader.client, "GET", at, _BOUNDS)
        return _Picture(context, answer)

    async def texts(self, runner: Runner, picture: _Picture, library: str) -> list[PictureText]:
        """Return the texts that are found, that of the media ``library`` among them. Raises
        ``AssessorLost``."""
        finding = self._finding
        assert finding.line is not None and finding.column is not None
        path = urlsplit(urljoin(finding.address, picture.context.link)).path
        async with self._connect() as connection:
            elsewhere = await picture_texts.texts_elsewhere(connection, finding.id)
            title = (
                await picture_texts.title_of(connection, finding.sweep_id, path)
                if picture.context.link
                else ""
            )
        body = picture.answer.body if picture.answer.is_success else b""
        return await runner.do(
            Assessor.picture_texts_at,
            finding.line,
            finding.column,
            {one.text: one.pages for one in elsewhere},
            body,
            [
                PictureText(text, comes_from)
                for text, comes_from in (
                    (library, "its text in the media library"),
                    (title, "the title of the page that its link leads to"),
                )
                if text
            ],
            self._longest,
        )

    async def described(self, describer: Describer, picture: _Picture, description_id: int) -> str:
        """Return what the describer says; what it is sent is kept before. Raises
        ``DescriberFailed``."""
        if not picture.answer.is_success or not picture.answer.body:
            raise DescriberFailed("the picture's file cannot be read")
        question = DescriberQuestion(
            picture.answer.body,
            picture.answer.kind,
            picture.context,
            self._finding.path,
            self._finding.title,
            self._longest,
        )
        async with self._connect() as connection:
            await picture_texts.tell_description(
                connection,
                description_id,
                hash_of(question.picture),
                len(question.picture),
                question.told(),
            )
        return await ask_describer(describer, question)
