"""The accessibility statement as Markdown, to be edited, and as HTML."""

from __future__ import annotations

from functools import cache

from jinja2 import Environment, PackageLoader, StrictUndefined, select_autoescape
from markdown_it import MarkdownIt

from plumrake.core.criteria import CRITERIA, STANDARDS
from plumrake.core.criteria_de import GERMAN_NAMES
from plumrake.core.statement import StatementFacts, StatementLanguage

_TITLES: dict[StatementLanguage, str] = {
    "en": "Accessibility statement",
    "de": "Erklärung zur Barrierefreiheit",
}
_MONTHS_DE = (
    "Januar Februar März April Mai Juni Juli August September Oktober November Dezember".split()
)


def proposed_statement(facts: StatementFacts, language: StatementLanguage) -> str:
    """Return a statement's text as Markdown. What only the organisation knows stands in square
    brackets."""
    names = GERMAN_NAMES if language == "de" else {}
    return (
        _environment()
        .get_template(f"statement.{language}.md")
        .render(
            facts=facts,
            standard=STANDARDS[facts.standard],
            name_of=lambda number: names.get(number, CRITERIA[number].name),
        )
    )


def statement_page(title: str, body: str, language: StatementLanguage) -> str:
    """Return a statement (Markdown; HTML in it is text) as a page that needs no network."""
    inner = MarkdownIt("commonmark", {"html": False, "linkify": False}).render(body)
    return (
        _environment()
        .get_template("statement.html")
        .render(title=f"{_TITLES[language]}: {title}", inner=inner, language=language)
    )


@cache
def _environment() -> Environment:
    environment = Environment(
        loader=PackageLoader("plumrake.reports"),
        autoescape=select_autoescape(["html"]),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.filters["in_english"] = lambda day: f"{day.day} {day:%B %Y}"
    environment.filters["in_german"] = lambda day: (
        f"{day.day}. {_MONTHS_DE[day.month - 1]} {day.year}"
    )
    return environment
