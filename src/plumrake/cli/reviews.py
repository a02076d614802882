"""``plumrake review``: the questions that only people can answer, and their answers."""

from __future__ import annotations

from typing import get_args

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail
from plumrake.cli.shared import as_json_option, counted, live_option, print_json
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake

_page_option = click.option(
    "--page", "path", metavar="PATH", help="About this page. Default: about the site."
)
_SHOWN = 25


@click.group("review")
def review_group() -> None:
    """Questions that only people can answer, on a sample of a site's pages."""


@review_group.command("show")
@click.argument("site")
@live_option
@as_json_option
@served
def show_review(rake: PlumRake, site: str, environment: models.Environment, as_json: bool) -> None:
    """Show how far the review of SITE is: its pages, and its questions."""
    review = rake.reviews.show(site, environment)
    if as_json:
        print_json(review)
        return
    if review.sweep is None:
        echo(
            f"{site} has no finished sweep of its {environment} pages; "
            f"'plumrake sweep start {site}' reads them"
        )
        return
    again = f", {review.lapsed} to answer again" if review.lapsed else ""
    echo(
        f"{review.answered} of {counted(review.asked, 'question')} answered{again}; "
        f"{counted(review.faults, 'fault')} seen\n"
    )
    for page in review.pages:
        state = f"{page.answered}/{page.questions}" if page.asked else "left out"
        why = "; ".join(page.because) or "taken in"
        echo(f"{state:<9} {page.path:<34} {why}")
    echo("")
    for one in review.questions:
        seen = f"  {counted(one.faults, 'fault')}" if one.faults else ""
        echo(f"{f'{one.answered}/{one.asked}':<9} {one.key:<22} {one.asks}{seen}")


@review_group.command("question")
@click.argument("site")
@click.argument("question")
@_page_option
@live_option
@as_json_option
@served
def show_question(
    rake: PlumRake,
    site: str,
    question: str,
    path: str | None,
    environment: models.Environment,
    as_json: bool,
) -> None:
    """Show QUESTION with what there is to see, numbered from 0."""
    asked = rake.reviews.question(site, question, path=path, environment=environment)
    if as_json:
        print_json(asked)
        return
    echo(f"{asked.question.asks}\n{path or 'the site'}: {asked.state}\n")
    for number, row in enumerate(asked.rows[:_SHOWN]):
        said = "; ".join(
            f"{name} {value}"
            for name, value in row.items()
            if value not in ("", None, []) and name not in ("selector", "box", "hash")
        )
        echo(f"{number:>4}  {said}")
    if len(asked.rows) > _SHOWN:
        echo(f"      and {len(asked.rows) - _SHOWN} more; --json lists them")
    if asked.changed is not None:
        echo("\nsince it was answered:")
        for sign, words in (("+", asked.changed.more), ("-", asked.changed.less)):
            for word in words:
                echo(f"   {sign}  {word}")
    if asked.last is not None:
        last = asked.last
        echo(
            f"\n{last.answered_by} answered on {last.answered_at:%Y-%m-%d}: {last.answer}"
            + (f", {last.note}" if last.note else "")
        )


@review_group.command("answer")
@click.argument("site")
@click.argument("question")
@click.argument("answer", type=click.Choice(get_args(models.AnswerName)))
@_page_option
@click.option("--note", default="", help="What was looked at, or why.")
@click.option(
    "--fault",
    "faults",
    multiple=True,
    metavar="[ROW:]TEXT",
    help="What is wrong, and the number of the row that shows it. May be given several times.",
)
@click.option(
    "--weight",
    type=click.Choice(["barrier", "obstacle", "friction"]),
    default="obstacle",
    show_default=True,
    help="How heavy the faults are.",
)
@live_option
@as_json_option
@served
def answer_question(
    rake: PlumRake,
    site: str,
    question: str,
    answer: models.AnswerName,
    path: str | None,
    note: str,
    faults: tuple[str, ...],
    weight: models.WeightName,
    environment: models.Environment,
    as_json: bool,
) -> None:
    """Answer QUESTION. Faults are findings at once."""
    if bool(faults) != (answer == "fault"):
        fail("say what is wrong with --fault, once for each fault, and only then", Exit.USAGE)
    asked = rake.reviews.question(site, question, path=path, environment=environment)
    made = rake.reviews.answer(
        site,
        models.NewReviewAnswer(
            environment=environment,
            path=path,
            question=question,
            answer=answer,
            note=note,
            faults=[_fault(one, weight) for one in faults],
            shown_key=asked.shown_key,
            instead_of=asked.last.id if asked.last is not None else None,
        ),
    )
    if as_json:
        print_json(made)
        return
    seen = f"; {counted(len(made.faults), 'fault')} to mend" if made.faults else ""
    echo(f"answer {made.id} to '{question}' about {path or 'the site'}: {made.answer}{seen}")


def _fault(written: str, weight: models.WeightName) -> models.FaultSeen:
    number, colon, says = written.partition(":")
    if colon and number.isdigit():
        return models.FaultSeen(says=says, weight=weight, row=int(number))
    return models.FaultSeen(says=written, weight=weight)


@review_group.command("answers")
@click.argument("site")
@click.option("--all", "everything", is_flag=True, help="Those that were replaced too.")
@live_option
@as_json_option
@served
def list_answers(
    rake: PlumRake, site: str, everything: bool, environment: models.Environment, as_json: bool
) -> None:
    """List who answered what, when, and on what, the newest first."""
    found = list(rake.reviews.answers(site, environment=environment, in_force=not everything))
    if as_json:
        print_json(found)
        return
    for one in found:
        state = "ended" if one.ended_at else "lapsed" if one.lapsed_at else ""
        echo(
            f"{one.id:>6}  {one.answered_at:%Y-%m-%d}  {one.answered_by:<20} {one.question:<22}"
            f"{one.path or 'the site':<30} {one.answer} {state}".rstrip()
        )
        for fault in one.faults:
            echo(f"        {fault.weight}: {fault.says}")
    if not found:
        echo(f"nobody has answered anything about {site} yet")


@review_group.command("take-back")
@click.argument("site")
@click.argument("answer", type=int)
@live_option
@served
def take_back(rake: PlumRake, site: str, answer: int, environment: models.Environment) -> None:
    """Take ANSWER back: its question is open again, and its faults are gone."""
    rake.reviews.take_back(site, answer, environment)
    echo(f"answer {answer} is taken back; its question is open again")


@review_group.command("page")
@click.argument("site")
@click.argument("path")
@click.argument("decision", type=click.Choice(["in", "out", "as-proposed"]))
@live_option
@served
def choose_page(
    rake: PlumRake, site: str, path: str, decision: str, environment: models.Environment
) -> None:
    """Take the page at PATH into the review, leave it out, or leave it as it is proposed."""
    chosen = {"in": True, "out": False}.get(decision)
    rake.reviews.choose(site, models.ChosenPage(environment=environment, path=path, chosen=chosen))
    words = {"in": "is asked about", "out": "is left out"}
    echo(f"{path} {words.get(decision, 'is as it is proposed')}")
