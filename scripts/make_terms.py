"""Make the console's glossary from ``docs/words.md``, and the names of states from the models.

``--check`` only tells whether it is up to date.
"""

import json
import re
import sys
from collections.abc import Mapping
from pathlib import Path

from plumrake.core.findings import WRITTEN_KINDS
from plumrake.core.fixes import LIVE
from plumrake.core.shown_rows import CALLED_BY
from plumrake.core.vision import COLOUR_VISION
from plumrake.models.labels import (
    ANSWER_LABELS,
    CORRECTION_LABELS,
    ITEM_STATUS_LABELS,
    LABELS_AFTER,
    NOTIFICATION_LABELS,
    REPORT_FORM_LABELS,
    STATE_LABELS,
)

ROOT = Path(__file__).parent.parent
TARGET = ROOT / "console/src/terms.ts"
ROW = re.compile(r"^\| (?!word \|)([^|]+?) \| ([^|-][^|]*?) \|$", re.MULTILINE)
HEAD = "/** The words of the work, made by scripts/make_terms.py: do not edit. */\n"


def rows() -> list[tuple[str, str]]:
    """Return the words of the table and what each is, in its order."""
    return ROW.findall((ROOT / "docs/words.md").read_text(encoding="utf-8"))


def table(name: str, labels: Mapping[str, str]) -> str:
    """Return the source of a table of labels."""
    lines = "".join(f"  {_key(key)}: {json.dumps(says)},\n" for key, says in labels.items())
    return f"export const {name}: Record<string, string> = {{\n{lines}}};\n"


def _matrices() -> str:
    """Return the source of the matrices of colour vision, as SVG's feColorMatrix takes them."""
    lines = "".join(
        f"  {name}: {json.dumps(' '.join(' '.join(map(str, row)) + ' 0 0' for row in matrix))},\n"
        for name, matrix in COLOUR_VISION.items()
    ).replace('",', ' 0 0 0 1 0",')
    says = "/** Other colour vision, as matrices for linear RGB (Machado et al. 2009). */\n"
    return f"\n{says}export const COLOUR_VISION: Record<string, string> = {{\n{lines}}};\n"


def _key(key: str) -> str:
    return key if key.isidentifier() else json.dumps(key)


def made() -> str:
    """Return the glossary's source."""
    terms = "".join(
        f"  {json.dumps(word)}: {json.dumps(says, ensure_ascii=False)},\n" for word, says in rows()
    )
    live = json.dumps([state for state in STATE_LABELS if state in LIVE])
    body = f"export const TERMS = {{\n{terms}}} as const;\n"
    return (
        f"{HEAD}{body}export type Term = keyof typeof TERMS;\n\n"
        f"{table('STATE_LABELS', STATE_LABELS)}"
        f"{table('LABELS_AFTER', LABELS_AFTER)}"
        f"{table('CORRECTION_LABELS', CORRECTION_LABELS)}"
        f"{table('ITEM_STATUS_LABELS', ITEM_STATUS_LABELS)}"
        f"{table('ANSWER_LABELS', ANSWER_LABELS)}"
        f"{table('NOTIFICATION_LABELS', NOTIFICATION_LABELS)}"
        f"{table('REPORT_FORM_LABELS', REPORT_FORM_LABELS)}"
        f"{_matrices()}"
        f"\n/** The members that a row of evidence may be called by, the first that it has. */\n"
        f"export const CALLED_BY: readonly string[] = {json.dumps(CALLED_BY)};\n"
        f"\n/** The kinds of mends whose value a person writes. */\n"
        f"export const WRITTEN_KINDS: readonly string[] = {json.dumps(sorted(WRITTEN_KINDS))};\n"
        f"\n/** The states of fixes that somebody has still to do with. */\n"
        f"export const LIVE_STATES = {live} as const;\n"
    )


if __name__ == "__main__":
    if sys.argv[1:] == ["--check"]:
        if TARGET.read_text(encoding="utf-8") != made():
            sys.exit("console/src/terms.ts is not what it is made from: run scripts/make_terms.py")
    else:
        TARGET.write_text(made(), encoding="utf-8")
