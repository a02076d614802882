"""Words: a site's own, the doubtful ones of a sweep, and what may have been meant."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions import words as actions
from plumrake.records import words
from plumrake.service.access import Database, SignedIn, WaitingReader, Worker
from plumrake.service.idempotency import repeatable
from plumrake.service.paging import next_page
from plumrake.service.problems import not_found
from plumrake.service.routes.sites import Limit, site_or_404
from plumrake.service.routes.sweeps import Chosen

router = APIRouter(tags=["words"])


@router.get("/sites/{slug}/words", operation_id="listWords")
async def list_words(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    after: Annotated[str, Query(max_length=60)] = "",
    limit: Limit = 200,
) -> models.Listing[models.SiteWord]:
    """List a site's own words in the order of the alphabet, with who added each."""
    site = await site_or_404(database, slug)
    found = await words.of_site(database, site.id, after=after, limit=limit)
    return models.Listing(
        items=[models.SiteWord.model_validate(one) for one in found],
        next=next_page(request, found, limit, lambda last: last.word.lower()),
        total=await words.count(database, site.id),
    )


@router.post("/sites/{slug}/words", operation_id="addWords", status_code=201)
@repeatable
async def add_words(
    slug: str, body: models.NewWords, who: Worker, database: Database
) -> models.WordsAdded:
    """Make words a site's own. What the newest sweeps found of them is judged fine at once."""
    site = await site_or_404(database, slug)
    return models.WordsAdded(added=await actions.add_words(database, site.id, body.words, who.id))


@router.delete("/sites/{slug}/words/{word}", operation_id="dropWord", status_code=204)
async def drop_word(slug: str, word: str, who: Worker, database: Database) -> None:
    """Let a word be doubtful again."""
    site = await site_or_404(database, slug)
    if not await actions.drop_word(database, site.id, word):
        raise not_found("word", word)


@router.get("/sites/{slug}/doubtful-words", operation_id="listDoubtfulWords")
async def list_doubtful_words(
    chosen: Chosen,
    database: Database,
    path: Annotated[str | None, Query(max_length=2000)] = None,
    limit: Limit = 200,
) -> models.Listing[models.DoubtfulWord]:
    """List the words of a sweep, or of one page of it, that are in no dictionary and that nobody
    has answered: those on most pages first."""
    found = (
        await words.doubtful(database, chosen.id, path=path, limit=limit)
        if chosen is not None
        else []
    )
    return models.Listing(items=[models.DoubtfulWord.model_validate(one) for one in found])


@router.get("/suggestions", operation_id="suggestWords")
async def suggest_words(
    word: Annotated[models.OneWord, Query()],
    who: WaitingReader,
    language: Annotated[models.Tag, Query()] = "en",
) -> models.Suggestions:
    """Say what may have been meant by a word; that takes a second or two."""
    return models.Suggestions(
        word=word, language=language, suggestions=await actions.suggest(word, language)
    )
