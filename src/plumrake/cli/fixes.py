"""Commands about fixes: listing, handing out, moving, the desk, history."""

from __future__ import annotations

import sys
from datetime import date, datetime
from itertools import islice
from typing import Any, get_args

import click

from plumrake import models
from plumrake.cli.connection import served
from plumrake.cli.errors import Exit, fail, notice
from plumrake.cli.shared import (
    as_json_option,
    check_option,
    counted,
    environment_option,
    owner_choice,
    person_named,
    print_json,
    weight_option,
)
from plumrake.cli.terminal import echo
from plumrake.client import PlumRake, PlumRakeError
from plumrake.models.labels import correction_label, state_label

_STATES = list(get_args(models.FixState))
due_option = click.option(
    "--due",
    "due_on",
    type=click.DateTime(["%Y-%m-%d"]),
    metavar="DATE",
    help="By when, as 2026-12-24.",
)
why_option = click.option(
    "--why", default="", metavar="WORDS", help="Kept with the move; @name tells somebody."
)
to_option = click.option(
    "--to", "to_person", metavar="PERSON", help="E-mail address, or what stands before its @."
)
group_option = click.option("--to-group", metavar="GROUP", help="A group's name.")
author_option = click.option(
    "--to-author", is_flag=True, help="Whoever wrote the page, as its content system says."
)


@click.command("fixes")
@click.option("--site", metavar="SITE", help="Of this site; may be left out with --mine.")
@click.option("--mine", is_flag=True, help="What you have to mend, page by page.")
@click.option("--state", "states", multiple=True, type=click.Choice(_STATES), help="Repeatable.")
@click.option("--owner", metavar="PERSON", help="E-mail address, or what stands before its @.")
@click.option("--unowned", is_flag=True, default=None, help="That nobody has.")
@click.option("--late", is_flag=True, default=None, help="Whose day is over.")
@environment_option
@check_option
@weight_option
@click.option("--path", metavar="PATH", help="Pages whose path begins so.")
@click.option(
    "--sort", type=click.Choice(["reach", "due", "change"]), default="reach", show_default=True
)
@click.option("--most", type=int, default=200, show_default=True, help="Show so many.")
@as_json_option
@served
def fixes_command(
    rake: PlumRake,
    site: str | None,
    mine: bool,
    states: tuple[models.FixState, ...],
    owner: str | None,
    most: int,
    as_json: bool,
    **filters: Any,
) -> None:
    """List fixes: who promised to mend what, and how far it is."""
    if mine:
        _show_desk(rake, site, as_json=as_json)
        return
    if site is None:
        fail("say of which site with --site, or --mine for your own", Exit.USAGE)
    owner_id = person_named(rake, owner).id if owner is not None else None
    found = list(
        islice(rake.fixes.list(site, state=list(states) or None, owner=owner_id, **filters), most)
    )
    if as_json:
        print_json(found)
        return
    for fix in found:
        echo(_line(fix))
    echo(
        f"{counted(len(found), 'fix', 'fixes')}; 'plumrake fix show ID' shows one"
        if found
        else "no fix"
    )


def _show_desk(rake: PlumRake, site: str | None, *, as_json: bool) -> None:
    desk = rake.fixes.desk(site=site)
    if as_json:
        print_json(desk)
        return
    for page in desk.pages:
        echo(f"{page.site} {page.environment}  {page.path}")
        for fix in page.fixes:
            echo(f"  {_line(fix, with_owner=False)}")
    for back in desk.came_back:
        echo(
            f"{back.site}: {counted(back.corrections, 'correction')} of yours came back; "
            f"'plumrake corrections {back.site} --mine --state conflict'"
        )
    live = desk.open + desk.in_hand + desk.reopened
    echo(
        (
            f"{counted(live, 'fix', 'fixes')} to mend on {counted(len(desk.pages), 'page')}, "
            f"{desk.late} late, {desk.handed_in} handed in"
        )
        if desk.pages
        else "nothing is on your desk"
    )


def _line(fix: models.Fix, *, with_owner: bool = True) -> str:
    due = (
        f"  due {fix.due_on:%Y-%m-%d}{' LATE' if fix.late else ''}"
        if fix.due_on is not None
        else ""
    )
    owner = f"  {fix.owner or fix.group or 'nobody'}" if with_owner else ""
    where = (
        f"{fix.path}"
        if fix.pages == 1
        else f"{fix.path} and {counted(fix.pages - 1, 'other page')}"
    )
    return (
        f"{fix.id:>6}  {state_label(fix.state, fix.reopened_after):<11}  {fix.weight:<8}  "
        f"{fix.says}\n{'':>19}{where}{owner}{due}"
    )


@click.group("fix")
def fix_group() -> None:
    """One fix, or several: hand out, take, hand in, waive, and what happened."""


@fix_group.command("make")
@click.argument("site")
@click.argument("causes", nargs=-1)
@click.option(
    "--finding",
    "findings",
    type=int,
    multiple=True,
    metavar="NUMBER",
    help="Of one place; repeatable.",
)
@click.option(
    "--all",
    "everything",
    is_flag=True,
    help="Every sure fault that is not handed out yet and that the filters let through.",
)
@check_option
@weight_option
@click.option(
    "--template",
    "by_template",
    is_flag=True,
    default=None,
    help="With --all: only what a template prints.",
)
@to_option
@group_option
@author_option
@due_option
@why_option
@environment_option
@served
def make_fixes(
    rake: PlumRake,
    site: str,
    causes: tuple[str, ...],
    findings: tuple[int, ...],
    everything: bool,
    to_person: str | None,
    to_group: str | None,
    to_author: bool,
    due_on: datetime | None,
    why: str,
    environment: models.Environment | None,
    **filters: Any,
) -> None:
    """Hand out CAUSES of the newest sweep of SITE, or all that filters let through: to somebody, or
    each to whoever answers for its pages."""
    if everything:
        wanted = rake.causes.list(
            site, environment=environment, outcome="failed", handed_out=False, **filters
        )
        causes = tuple(dict.fromkeys([*causes, *(cause.key for cause in wanted)]))
        if not causes:
            echo("every such cause is handed out already")
            return
    elif any(filters.values()):
        fail("--check, --weight and --template choose among all: say --all too", Exit.USAGE)
    if not causes and not findings:
        fail(
            f"name at least one cause ('plumrake causes {site}' lists them) or --finding",
            Exit.USAGE,
        )
    owner = owner_choice(rake, to_person, to_group, author=to_author)
    made = rake.fixes.hand_out(
        site,
        causes=causes,
        findings=findings,
        environment=environment,
        owner=owner,
        due_on=due_on.date() if due_on else None,
        why=why,
    )
    for fix in made:
        echo(_line(fix))
    echo(f"{counted(len(made), 'fix', 'fixes')} handed out")


def _say_corrections(rake: PlumRake, fix: models.Fix) -> None:
    """Say how far the corrections are that were made for a fix."""
    found = rake.corrections.list(fix.site, environment=fix.environment, cause=fix.cause)
    states = [one.state for one in found if one.state != "taken_back"]
    if states:
        counts = [f"{states.count(one)} {correction_label(one)}" for one in dict.fromkeys(states)]
        shows = f"'plumrake corrections {fix.site} --cause {fix.cause}'"
        echo(f"  corrected  {', '.join(counts)}; {shows}")


@fix_group.command("show")
@click.argument("number", type=int)
@click.option("--places", is_flag=True, help="Every place too.")
@as_json_option
@served
def show_fix(rake: PlumRake, number: int, places: bool, as_json: bool) -> None:
    """Show a fix with all that happened to it."""
    fix = rake.fixes.show(number)
    if as_json:
        print_json(fix)
        return
    echo(f"fix {fix.id}: {fix.says}\n")
    echo(
        f"  check    {fix.check} "
        f"({fix.weight}){', printed by a template' if fix.by_template else ''}"
    )
    echo(
        f"  where    {fix.site} {fix.environment}, {fix.path}; "
        f"{counted(fix.places, 'place')} on {counted(fix.pages, 'page')}"
    )
    echo(f"  state    {state_label(fix.state, fix.reopened_after)}{_came_back(fix)}")
    due = f", by {fix.due_on:%Y-%m-%d}" if fix.due_on else ""
    late = " LATE" if fix.late else ""
    echo(f"  owner    {fix.owner or fix.group or 'nobody'}{due}{late}")
    if fix.where:
        echo(f"  block    {fix.where}")
    if fix.edit:
        echo(f"  edit     {fix.edit}")
    for link in fix.links:
        echo(f"  link     {link}")
    if fix.proposal is not None:
        echo(f"  proposal {fix.proposal.get('says', fix.proposal)}")
    _say_corrections(rake, fix)
    for event in fix.events:
        change = (
            f"{state_label(event.before)} → {state_label(event.after, event.before)}"
            if event.before != event.after and event.before
            else ""
        )
        says = ": ".join(part for part in (change, event.why) if part)
        echo(
            f"  {event.at:%Y-%m-%d %H:%M}  {event.by or event.actor}  "
            f"{event.move.replace('_', ' ')}{f'  {says}' if says else ''}"
        )
    if places:
        for place in rake.fixes.places(number):
            echo(f"  {'there' if place.there else 'gone '}  {place.path}  {place.selector or ''}")
    if fix.moves:
        echo(f"  you can  {', '.join(move.replace('_', '-') for move in fix.moves)}")


def _came_back(fix: models.Fix) -> str:
    return f", found again {counted(fix.times_reopened, 'time')}" if fix.times_reopened else ""


def _move(
    rake: PlumRake, numbers: tuple[int, ...], move: models.FixMoveName, why: str, **rest: Any
) -> None:
    """Move fixes one by one; say what became of each, and end with status 4 or 2 where one was
    refused."""
    status = Exit.DONE
    for number in numbers:
        try:
            moved = rake.fixes.move(rake.fixes.show(number), move, why=why, **rest)
        except PlumRakeError as error:
            notice(f"fix {number}: {error}")
            status = Exit.REFUSED if error.status in (401, 403) else Exit.USAGE
            continue
        proof = (
            f"; sweep {moved.proof_sweep} reads its pages again"
            if move == "hand_in" and moved.proof_sweep
            else ""
        )
        echo(
            f"fix {number} is {state_label(moved.state, moved.reopened_after)}, "
            f"{moved.owner or moved.group or 'nobody'}'s{proof}"
        )
    if status != Exit.DONE:
        sys.exit(status)


_numbers = click.argument("numbers", type=int, nargs=-1, required=True, metavar="ID...")


@fix_group.command("take")
@_numbers
@why_option
@served
def take(rake: PlumRake, numbers: tuple[int, ...], why: str) -> None:
    """Take fixes in hand: they are yours."""
    _move(rake, numbers, "take", why)


@fix_group.command("put-back")
@_numbers
@why_option
@served
def put_back(rake: PlumRake, numbers: tuple[int, ...], why: str) -> None:
    """Put fixes back that you have in hand."""
    _move(rake, numbers, "put_back", why)


@fix_group.command("hand-in")
@_numbers
@why_option
@served
def hand_in(rake: PlumRake, numbers: tuple[int, ...], why: str) -> None:
    """Say that fixes are mended; their pages are read again at once."""
    _move(rake, numbers, "hand_in", why)


@fix_group.command("withdraw")
@_numbers
@why_option
@served
def withdraw(rake: PlumRake, numbers: tuple[int, ...], why: str) -> None:
    """Take a hand-in back: there is still something to mend."""
    _move(rake, numbers, "withdraw", why)


@fix_group.command("assign")
@_numbers
@to_option
@group_option
@author_option
@due_option
@why_option
@served
def assign(
    rake: PlumRake,
    numbers: tuple[int, ...],
    to_person: str | None,
    to_group: str | None,
    to_author: bool,
    due_on: datetime | None,
    why: str,
) -> None:
    """Hand fixes to somebody else, or to nobody."""
    owner = owner_choice(rake, to_person, to_group, author=to_author) or models.OwnerChoice()
    _move(
        rake, numbers, "assign", why, owner=owner, **({"due_on": due_on.date()} if due_on else {})
    )


@fix_group.command("note")
@_numbers
@click.argument("words")
@click.option(
    "--link", "links", multiple=True, metavar="ADDRESS", help="Something to look at; repeatable."
)
@served
def note(rake: PlumRake, numbers: tuple[int, ...], words: str, links: tuple[str, ...]) -> None:
    """Write WORDS to fixes; @name tells somebody at once."""
    _move(rake, numbers, "note", words, links=list(links))


@fix_group.command("due")
@_numbers
@click.argument("day", type=click.DateTime(["%Y-%m-%d"]), metavar="DATE")
@why_option
@served
def due(rake: PlumRake, numbers: tuple[int, ...], day: datetime, why: str) -> None:
    """Say by when fixes are to be mended, as 2026-12-24."""
    _move(rake, numbers, "due", why, due_on=day.date())


@fix_group.command("waive")
@_numbers
@click.option("--reason", required=True, metavar="WORDS")
@click.option(
    "--until",
    "ends_on",
    type=click.DateTime(["%Y-%m-%d"]),
    required=True,
    metavar="DATE",
    help="The last day, as 2026-12-24.",
)
@served
def waive(rake: PlumRake, numbers: tuple[int, ...], reason: str, ends_on: datetime) -> None:
    """Accept what fixes are about until a day; then they are open again."""
    for number in numbers:
        fix = rake.fixes.show(number)
        if fix.finding_id is None:
            fail(
                f"fix {number} has no finding that could be waived; sweep the site first",
                Exit.USAGE,
            )
        scope = "place" if fix.place_key is not None else "cause"
        waiver = rake.decisions.waive(
            fix.finding_id, scope=scope, reason=reason, ends_on=ends_on.date()
        )
        echo(
            f"fix {number} is waived until {waiver.ends_on:%Y-%m-%d} (waiver {waiver.id}, "
            f"{counted(waiver.covers, 'finding')})"
        )


@click.command("history")
@click.argument("site")
@click.option("--cause", metavar="KEY", help="Of one cause.")
@click.option("--path", metavar="PATH", help="Of one page.")
@click.option("--person", metavar="PERSON", help="What one person did.")
@click.option("--most", type=int, default=100, show_default=True, help="Show so many.")
@as_json_option
@served
def history_command(
    rake: PlumRake,
    site: str,
    cause: str | None,
    path: str | None,
    person: str | None,
    most: int,
    as_json: bool,
) -> None:
    """Say who did what with the fixes of SITE, the newest first."""
    who = person_named(rake, person).id if person is not None else None
    found = list(islice(rake.fixes.history(site, cause=cause, path=path, person=who), most))
    if as_json:
        print_json(found)
        return
    for event in found:
        change = (
            f" → {state_label(event.after, event.before)}" if event.before != event.after else ""
        )
        echo(
            f"{event.at:%Y-%m-%d %H:%M}  {event.by or event.actor}: "
            f"{event.move.replace('_', ' ')}{change}  (fix {event.fix_id}, {event.path})"
        )
        echo(f"{'':>18}{event.why or event.says}")
    if not found:
        echo("nothing happened yet")


@click.command("judge")
@click.argument("finding", type=int)
@click.argument("answer", type=click.Choice(["fault", "fine"]))
@click.option("--note", required=True, metavar="WORDS", help="Why; kept with the answer.")
@served
def judge_command(rake: PlumRake, finding: int, answer: str, note: str) -> None:
    """Answer a doubtful FINDING: it is a fault, or it is fine."""
    judgement = rake.decisions.judge(finding, answer, note)
    echo(
        f"{judgement.check} on {judgement.path} is judged {judgement.answer}; it lapses when "
        "the place changes"
    )


@click.command("judgements")
@click.argument("site")
@click.option("--lapsed", is_flag=True, default=None, help="Only those to be answered again.")
@as_json_option
@served
def judgements_command(rake: PlumRake, site: str, lapsed: bool | None, as_json: bool) -> None:
    """List what people answered to doubtful findings of SITE."""
    found = list(rake.decisions.judgements(site, lapsed=lapsed))
    if as_json:
        print_json(found)
        return
    for one in found:
        state = f"  LAPSED {one.lapsed_at:%Y-%m-%d}" if one.lapsed_at is not None else ""
        echo(
            f"{one.id:>6}  {one.answer:<6}  {one.check}  "
            f"{one.path}{state}\n{'':>16}{one.says}\n{'':>16}{one.judged_by}: {one.note}"
        )
    if not found:
        echo("no judgement")


@click.command("waivers")
@click.argument("site")
@click.option("--in-force", is_flag=True, default=None, help="Only those that are not over.")
@click.option("--csv", "as_csv", is_flag=True, help="Print CSV (RFC 4180).")
@click.option("--end", "ends", type=int, metavar="NUMBER", help="End this one now.")
@as_json_option
@served
def waivers_command(
    rake: PlumRake, site: str, in_force: bool | None, as_csv: bool, ends: int | None, as_json: bool
) -> None:
    """List what was accepted on SITE: reason, reach, who, until when."""
    if ends is not None:
        rake.decisions.end_waiver(site, ends)
        echo(f"waiver {ends} is over; what it covered counts again")
        return
    if as_csv:
        echo(rake.decisions.waivers_as_csv(site), nl=False)
        return
    found = list(rake.decisions.waivers(site, in_force=in_force))
    if as_json:
        print_json(found)
        return
    for one in found:
        over = (
            f"over since {one.ended_at:%Y-%m-%d}"
            if one.ended_at is not None
            else f"until {one.ends_on:%Y-%m-%d}{_over(one.ends_on)}"
        )
        reach = {
            "place": f"one place on {one.path}",
            "page": f"on {one.path}",
            "cause": "wherever it occurs",
            "check": f"on {one.pattern}",
        }
        echo(
            f"{one.id:>6}  {one.check}  {reach[one.scope]}, {over}; covers "
            f"{counted(one.covers, 'finding')}"
        )
        echo(f"{'':>8}{one.says}\n{'':>8}{one.granted_by}: {one.reason}")
    if not found:
        echo("no waiver")


def _over(day: date) -> str:
    return " (over)" if day < date.today() else ""
