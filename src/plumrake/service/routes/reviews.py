"""Reviews: the questions that only people can answer, where they are asked, and the answers."""

from __future__ import annotations

from collections import Counter
from dataclasses import asdict
from typing import Annotated

from fastapi import APIRouter, Query, Request

from plumrake import models
from plumrake.actions import reviews as actions
from plumrake.actions.reviews import Asked, Given, NewFault, ShownQuestion
from plumrake.actions.ways import way_of
from plumrake.core.findings import Weight
from plumrake.core.questions.question import Question, questions
from plumrake.records import reviews, ways
from plumrake.records.reviews import SampledRow
from plumrake.records.sites import SiteRow
from plumrake.service.access import Database, Manager, SignedIn, Worker
from plumrake.service.idempotency import repeatable
from plumrake.service.paging import next_page
from plumrake.service.problems import not_found
from plumrake.service.routes.sites import Limit, site_or_404

router = APIRouter(tags=["reviews"])

_Page = Annotated[
    str | None, Query(pattern=r"^/", max_length=2000, description="Without: about the site.")
]


@router.get("/questions", operation_id="listQuestions")
async def list_questions(who: SignedIn) -> models.Listing[models.QuestionHelp]:
    """List the questions that only people can answer, with what a fault is."""
    return models.Listing(items=[_help(one) for one in questions().values()])


def _help(question: Question) -> models.QuestionHelp:
    return models.QuestionHelp.model_validate(question)


@router.get("/sites/{slug}/review", operation_id="showReview")
async def show_review(
    slug: str, who: SignedIn, database: Database, environment: models.Environment = "live"
) -> models.Review:
    """Show how far the review of a site is: the pages that people are asked about, and the
    questions."""
    site = await site_or_404(database, slug)
    review = await actions.review_of(database, site, environment, who.id)
    if review is None:
        return models.Review(
            environment=environment,
            sweep=None,
            asked=0,
            answered=0,
            lapsed=0,
            faults=0,
            pages=[],
            questions=[],
        )
    return models.Review(
        environment=environment,
        sweep=review.sweep.id,
        **_counts(review.asked),
        faults=_faults(review.asked),
        pages=[_page(page, review.asked) for page in review.pages],
        questions=[
            _count(question, review.asked)
            for question in questions().values()
            if any(one.question is question for one in review.asked)
        ],
    )


def _counts(asked: tuple[Asked, ...]) -> dict[str, int]:
    states = Counter(one.state for one in asked)
    return {"asked": len(asked), "answered": states["answered"], "lapsed": states["lapsed"]}


def _faults(asked: tuple[Asked, ...]) -> int:
    return sum(
        len(one.answer.faults)
        for one in asked
        if one.answer is not None and one.state == "answered"
    )


def _page(page: SampledRow, asked: tuple[Asked, ...]) -> models.ReviewPage:
    counts = _counts(tuple(one for one in asked if one.page is page))
    return models.ReviewPage(
        path=page.path,
        title=page.title or "",
        because=page.because,
        chosen=page.chosen,
        asked=page.asked,
        questions=counts["asked"],
        answered=counts["answered"],
        lapsed=counts["lapsed"],
    )


def _count(question: Question, asked: tuple[Asked, ...]) -> models.QuestionCount:
    of_it = tuple(one for one in asked if one.question is question)
    return models.QuestionCount(
        key=question.key,
        asks=question.asks,
        about=question.about,
        **_counts(of_it),
        faults=_faults(of_it),
    )


def _shaped(shown: ShownQuestion) -> models.AskedQuestion:
    asked = shown.asked
    page = asked.page
    return models.AskedQuestion(
        question=_help(asked.question),
        path=asked.path,
        title=(page.title if page is not None else None) or "",
        reading=page.reading if page is not None else None,
        state=asked.state,
        shown_key=asked.shown_key,
        rows=list(shown.rows),
        last=models.ReviewAnswer.model_validate(asked.answer) if asked.answer else None,
        changed=models.WhatChanged(**asdict(shown.changed)) if shown.changed else None,
        held_by=asked.held_by,
    )


@router.get("/sites/{slug}/review/question", operation_id="showQuestion")
async def show_question(
    slug: str,
    who: SignedIn,
    database: Database,
    question: Annotated[models.QuestionKey, Query()],
    path: _Page = None,
    environment: models.Environment = "live",
) -> models.AskedQuestion:
    """Show one question about a page or about the site, with what there is to see."""
    site = await site_or_404(database, slug)
    return _shaped(await actions.one_question(database, site, environment, who.id, path, question))


@router.post("/sites/{slug}/review/next", operation_id="nextQuestion")
async def next_question(
    slug: str, body: models.WantedQuestion, who: Worker, database: Database
) -> models.NextQuestion:
    """Give the next question that waits for an answer. For ten minutes nobody else is given it."""
    site = await site_or_404(database, slug)
    found = await actions.next_question(
        database,
        site,
        body.environment,
        who.id,
        path=body.path,
        question=body.question,
        behind=(body.behind_path, body.behind) if body.behind is not None else None,
    )
    review = await actions.review_of(database, site, body.environment, who.id)
    left = sum(
        one.state != "answered"
        for one in (review.asked if review is not None else ())
        if body.path in (None, one.path) and body.question in (None, one.question.key)
    )
    return models.NextQuestion(asked=_shaped(found) if found is not None else None, left=left)


@router.post("/sites/{slug}/review/answers", operation_id="answerQuestion", status_code=201)
@repeatable
async def answer_question(
    slug: str, body: models.NewReviewAnswer, who: Worker, database: Database
) -> models.ReviewAnswer:
    """Answer a question. Each fault is a finding at once, with place, cause and fix like any
    other; the answer lapses when the page has something else to show."""
    site = await site_or_404(database, slug)
    faults = [NewFault(Weight(one.weight), one.says, one.row) for one in body.faults]
    given = Given(body.answer, body.note, faults, body.shown_key, body.instead_of)
    made = await actions.answer_question(
        database, site, body.environment, body.path, body.question, given, who.id
    )
    return await _answer_or_404(database, site, body.environment, made)


async def _answer_or_404(
    database: Database, site: SiteRow, environment: models.Environment, answer_id: int
) -> models.ReviewAnswer:
    found = await reviews.answer_by_id(database, site.id, environment, answer_id)
    if found is None:
        raise not_found("answer", answer_id)
    return models.ReviewAnswer.model_validate(found)


@router.get("/sites/{slug}/review/answers", operation_id="listReviewAnswers")
async def list_answers(
    request: Request,
    slug: str,
    who: SignedIn,
    database: Database,
    environment: models.Environment = "live",
    in_force: bool = False,
    after: Annotated[int | None, Query(ge=1)] = None,
    limit: Limit = 50,
) -> models.Listing[models.ReviewAnswer]:
    """List what people answered, the newest first: all, or only what was not answered anew since
    (``in_force``)."""
    site = await site_or_404(database, slug)
    found = await reviews.answers(
        database, site.id, environment, in_force=in_force, before=after, limit=limit
    )
    return models.Listing(
        items=[models.ReviewAnswer.model_validate(one) for one in found],
        next=next_page(request, found, limit, lambda last: last.id),
    )


@router.delete(
    "/sites/{slug}/review/answers/{answer_id}", operation_id="takeBackAnswer", status_code=204
)
async def take_back_answer(
    slug: str,
    answer_id: int,
    who: Worker,
    database: Database,
    environment: models.Environment = "live",
) -> None:
    """Take an answer back: the question is open again, and its faults are gone."""
    site = await site_or_404(database, slug)
    await _answer_or_404(database, site, environment, answer_id)
    if not await actions.take_back(database, site, environment, answer_id, who.id):
        raise not_found("answer", answer_id)


@router.put("/sites/{slug}/review/pages", operation_id="chooseReviewPage", status_code=204)
async def choose_page(slug: str, body: models.ChosenPage, who: Manager, database: Database) -> None:
    """Take a page into the review, leave it out, or leave it as it is proposed."""
    site = await site_or_404(database, slug)
    if not await reviews.choose(
        database, site.id, body.environment, body.path, chosen=body.chosen, by_id=who.id
    ):
        raise not_found("page", body.path)


@router.get("/sites/{slug}/way", operation_id="showWay")
async def show_way(slug: str, who: SignedIn, database: Database) -> models.Way:
    """Show how far a site is on the way from registering it to the gate, with what is left of each
    step."""
    site = await site_or_404(database, slug)
    return models.Way(
        steps=[models.WayStep.model_validate(one) for one in await way_of(database, site)],
        put_away=await ways.is_put_away(database, site.id),
    )


@router.put("/sites/{slug}/way", operation_id="putWayAway", status_code=204)
async def put_way_away(slug: str, body: models.WayShown, who: Manager, database: Database) -> None:
    """Put the way away, or let it be seen again."""
    site = await site_or_404(database, slug)
    if body.put_away:
        await ways.put_away(database, site.id, who.id)
    else:
        await ways.show_again(database, site.id)
