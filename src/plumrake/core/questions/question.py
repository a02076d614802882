"""The questions of a review, from their files."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Final, Literal, get_args

from plumrake.core.criteria import CRITERIA

About = Literal["page", "site"]
Lapses = Literal["change", "half-year", "year"]
Evidence = Literal[
    "appearing",
    "controls",
    "decorative-pictures",
    "documents",
    "enlarged",
    "forms",
    "headings",
    "journeys",
    "links",
    "media",
    "motion",
    "names",
    "passages",
    "pictures",
    "prose",
    "reading-order",
    "repeated-parts",
    "sensory-words",
    "statement",
    "tab-path",
    "tables",
    "ways-in",
    "words-in-pictures",
]
_HEAD: Final = re.compile(r"\+\+\+\n(.*?)\n\+\+\+\n", re.DOTALL)
_SECTIONS: Final = ("Fine", "A fault", "Does not apply")


class BadQuestion(ValueError):
    """A question's file is not what it has to be; the message says which and why."""


@dataclass(frozen=True, slots=True)
class Question:
    """A question for people: its key, what it ``asks``, of a page or of the site, the criteria of
    WCAG that the answer tells about, the evidence that is shown, when an answer lapses, why it
    matters, and when the answer is which."""

    key: str
    asks: str
    about: About
    criteria: tuple[str, ...]
    evidence: Evidence
    lapses: Lapses
    why: str
    fine: str
    fault: str
    does_not_apply: str


@cache
def questions() -> Mapping[str, Question]:
    """Return all questions by key. Raises ``BadQuestion``."""
    folder = files("plumrake.core.questions").joinpath("asked")
    found = sorted(folder.iterdir(), key=lambda file: file.name)
    return {
        one.key: one for one in (_question(file) for file in found if file.name.endswith(".md"))
    }


def _question(file: Traversable) -> Question:
    return question_of(file.name.removesuffix(".md"), file.read_text(encoding="utf-8"))


def question_of(key: str, text: str) -> Question:
    """Return the question of a file. Raises ``BadQuestion``."""
    head = _HEAD.match(text)
    if head is None:
        raise BadQuestion(f"{key}: has to begin with +++, its fields, and +++")
    try:
        said = tomllib.loads(head.group(1))
    except tomllib.TOMLDecodeError as error:
        raise BadQuestion(f"{key}: {error}") from None
    why, *rest = re.split(r"^## ", text[head.end() :], flags=re.MULTILINE)
    sections = {
        title.strip(): body.strip() for title, _, body in (one.partition("\n") for one in rest)
    }
    if tuple(sections) != _SECTIONS or not all(sections.values()) or not why.strip():
        raise BadQuestion(f"{key}: say why, then {', '.join(_SECTIONS)}, each with words below it")
    for name, allowed in (("about", About), ("evidence", Evidence), ("lapses", Lapses)):
        if said.get(name) not in get_args(allowed):
            raise BadQuestion(f"{key}: '{name}' is one of {', '.join(get_args(allowed))}")
    unknown = [one for one in said.get("criteria", ()) if one not in CRITERIA]
    if unknown or not str(said.get("asks", "")).endswith("?"):
        raise BadQuestion(f"{key}: 'criteria' are WCAG's numbers, 'asks' is a question")
    return Question(
        key,
        said["asks"],
        said["about"],
        tuple(said["criteria"]),
        said["evidence"],
        said["lapses"],
        why.strip(),
        *(sections[name] for name in _SECTIONS),
    )
