"""A check's help page as Markdown, for what reads Markdown outside of the console."""

from __future__ import annotations

from collections.abc import Sequence

from plumrake.core.policy import OwnHelp
from plumrake.core.registry import Check


def help_text(check: Check, own: OwnHelp | None = None) -> str:
    """Return a check's help page below its title, the organisation's own help at its end."""
    parts = [check.help.summary]
    parts += [f"## {name}\n\n{text}" for name, text in check.help.sections.items()]
    if own is not None:
        parts.append(f"## Here\n\n{own.says} {own.link}".rstrip())
    return as_markdown("\n\n".join(part for part in parts if part))


def help_sections(check: Check, names: Sequence[str]) -> list[str]:
    """Return some sections of a check's help page, each as a paragraph that begins with its
    name."""
    sections = check.help.sections
    return [as_markdown(f"*{name}.* {sections[name]}") for name in names if name in sections]


def as_markdown(text: str) -> str:
    """Return the text of a docstring as Markdown: its code has one sign around it."""
    return text.replace("``", "`")
