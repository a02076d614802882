"""``plumrake colours`` and ``plumrake checks``: the core's knowledge, without reading any page."""

from __future__ import annotations

import json
from dataclasses import asdict

import click

from plumrake.cli.errors import Exit, fail
from plumrake.cli.terminal import echo
from plumrake.core.colours import NotAColour, contrast, parse, truncated
from plumrake.core.criteria import CRITERIA
from plumrake.core.questions.question import questions
from plumrake.core.registry import Check, catalogue
from plumrake.core.style.nearest import proposals


@click.command("colours")
@click.argument("text")
@click.argument("background")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def colours_command(text: str, background: str, as_json: bool) -> None:
    """Say the contrast of TEXT on BACKGROUND, what it passes, and the nearest colours that pass."""
    try:
        below = parse(background)
        above = parse(text).over(below)
    except NotAColour as error:
        fail(str(error), Exit.USAGE)
    ratio = contrast(above, below)
    limits = {"AA": 4.5, "AA large": 3.0, "AAA": 7.0, "AAA large": 4.5}
    offers = {
        name: proposals(above, below, limit) for name, limit in limits.items() if ratio < limit
    }
    if as_json:
        echo(
            json.dumps(
                {
                    "text": above.hex(),
                    "background": below.hex(),
                    "ratio": truncated(ratio),
                    "passes": {name: ratio >= limit for name, limit in limits.items()},
                    "proposals": {
                        name: [
                            {"change": o.change, "colour": o.colour, "ratio": truncated(o.ratio)}
                            for o in found
                        ]
                        for name, found in offers.items()
                    },
                },
                indent=2,
            )
        )
        return
    echo(f"{above.hex()} on {below.hex()}: {truncated(ratio):.2f}:1")
    for name, limit in limits.items():
        echo(f"  {name:<10}{limit:g}:1  {'passes' if ratio >= limit else 'fails'}")
        for offer in offers.get(name, []):
            echo(
                f"             nearest passing {offer.change} colour: {offer.colour} "
                f"({truncated(offer.ratio):.2f}:1)"
            )


@click.command("checks")
@click.argument("identifier", required=False, metavar="[ID]")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def checks_command(identifier: str | None, as_json: bool) -> None:
    """List the catalogue of checks, or show the help page of one."""
    known = catalogue()
    if identifier is None:
        if as_json:
            echo(
                json.dumps(
                    [_as_dict(check) for check in known.values()], indent=2, ensure_ascii=False
                )
            )
            return
        for check in known.values():
            echo(f"{check.id:<34}{check.weight.value:<10}{check.title}")
        return
    if identifier not in known:
        fail(f"no check is called '{identifier}'; 'plumrake checks' lists them", Exit.USAGE)
    check = known[identifier]
    echo(
        json.dumps(_as_dict(check), indent=2, ensure_ascii=False) if as_json else _help_page(check)
    )


@click.command("questions")
@click.argument("key", required=False, metavar="[KEY]")
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
def questions_command(key: str | None, as_json: bool) -> None:
    """List what only people can see on a page or a site, or show one question with what a fault
    is."""
    known = questions()
    if key is not None and key not in known:
        fail(f"no question is called '{key}'; 'plumrake questions' lists them", Exit.USAGE)
    chosen = [known[key]] if key is not None else [*known.values()]
    if as_json:
        said = [asdict(one) for one in chosen]
        echo(json.dumps(said if key is None else said[0], indent=2, ensure_ascii=False))
        return
    if key is None:
        for one in chosen:
            echo(f"{one.key:<22}{one.about:<6}{one.asks}")
        return
    [one] = chosen
    criteria = ", ".join(f"{number} {CRITERIA[number].name}" for number in one.criteria)
    echo(f"{one.asks}\n\n{one.why}\n")
    echo(f"Fine            {one.fine}")
    echo(f"A fault         {one.fault}")
    echo(f"Does not apply  {one.does_not_apply}")
    echo(f"\nWCAG 2.2: {criteria or 'no criterion at A or AA'}")


def _as_dict(check: Check) -> dict[str, object]:
    return {
        "id": check.id,
        "title": check.title,
        "weight": check.weight.value,
        "criteria": list(check.criteria),
        "needs": sorted(check.needs),
        "act_rule": check.act_rule,
        "parameters": dict(check.parameters),
        "summary": check.help.summary,
        "sections": dict(check.help.sections),
    }


def _help_page(check: Check) -> str:
    facts = [f"{check.id} · {check.weight.value}"]
    facts.append(
        f"WCAG {', '.join(check.criteria)}"
        if check.criteria
        else "good practice, beyond WCAG's criteria"
    )
    if check.act_rule:
        facts.append(f"ACT rule {check.act_rule}")
    sections = [f"{heading}\n\n{body}" for heading, body in check.help.sections.items()]
    if check.parameters:
        sections.append(
            "Parameters\n\n"
            + "\n".join(f"    {name} = {value!r}" for name, value in check.parameters.items())
        )
    return "\n\n".join([check.title, " · ".join(facts), check.help.summary, *sections]).replace(
        "``", "`"
    )
