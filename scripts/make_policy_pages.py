"""Write the tables of fields in ``docs/policy.md`` and ``docs/gate.md``, from their definition."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from plumrake.core.policy_fields import FIELDS, GATE_FIELDS, FieldHelp

DOCS = Path(__file__).parent.parent / "docs"
PAGES = {DOCS / "policy.md": FIELDS, DOCS / "gate.md": GATE_FIELDS}
BETWEEN = re.compile(
    r"(<!-- fields: made by scripts/make_policy_pages.py -->\n).*?(<!-- end -->)", re.S
)


def table(fields: tuple[FieldHelp, ...]) -> str:
    """Return a table in Markdown with a row for each field."""
    rows = [
        f"| `{one.name}` | {one.says} | {', '.join(one.choices) or one.kind}"
        f" | {_said(one.default)} |\n"
        for one in fields
    ]
    return "| field | what it does | values | default |\n|---|---|---|---|\n" + "".join(rows)


def _said(default: object) -> str:
    if isinstance(default, tuple):
        return ", ".join(default)
    return str(default) if default else ""


def page_with(text: str, fields: tuple[FieldHelp, ...]) -> str:
    """Return a page with the table of the fields in its place."""
    return BETWEEN.sub(lambda found: found[1] + table(fields) + found[2], text)


if __name__ == "__main__":
    for page, fields in PAGES.items():
        now = page.read_text()
        made = page_with(now, fields)
        if "--check" in sys.argv and made != now:
            sys.exit(f"{page.name} is not what it is made from: run scripts/make_policy_pages.py")
        page.write_text(made)
