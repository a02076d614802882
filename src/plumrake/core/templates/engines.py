"""Templates whose marks stand between delimiters: Jinja, Django, Twig, Liquid, Handlebars, PHP."""

from __future__ import annotations

import re

from plumrake.core.templates.marks import Masking, Template

_MARK = re.compile(
    r"(?P<whole>\{%-?\s*(?P<name>comment|raw|verbatim)\b.*?\{%-?\s*end(?P=name)\b.*?%\})"
    r"|(?P<comment>\{#.*?#\}|\{\{~?!--.*?--~?\}\}|<%#.*?%>)"
    r"|(?P<prints>\{\{\{.*?\}\}\}|\{\{.*?\}\})"
    r"|(?P<statement>\{%.*?%\})"
    r"|(?P<code><\?(?:php\b|=).*?(?:\?>|\Z)|<%.*?%>)",
    re.DOTALL | re.IGNORECASE,
)
_HAS_MARK = re.compile(r"\{\{|\{%|<\?(?:php\b|=)|<%", re.IGNORECASE)
_SILENT = frozenset(
    "if elif elsif elseif else for empty unless case when set with assign capture load from import "
    "extends macro autoescape spaceless filter ifchanged regroup tablerow break continue do apply "
    "sandbox while switch default use namespace declare function class return".split()
)
"""Statements that print nothing themselves; those that begin with ``end`` as well."""
_OTHERWISE = frozenset("else elif elsif elseif empty when case default".split())
_WORD = re.compile(r"[A-Za-z_]+")
_ECHOES = re.compile(r"\b(?:echo|print|printf|the_\w+)\b|\?>.*<\?=")
_CODE_FRAME = re.compile(r"\A(?:<\?(?:php|=)?|<%[-=_]?)|(?:\?>|[-_]?%>)\Z", re.IGNORECASE)
_NOTES = re.compile(r"/\*.*?\*/|//[^\n]*|#[^\n]*", re.DOTALL)


def has_marks(text: str) -> bool:
    """Tell whether a text holds marks of such a template."""
    return _HAS_MARK.search(text) is not None


def masked(text: str) -> Template:
    """Return a template of such an engine."""
    masking = Masking(text)
    for found in _MARK.finditer(text):
        start, end = found.span()
        kind, mark = found.lastgroup, found.group()
        if kind == "name":
            kind = "whole"
        if kind == "whole" and found["name"].lower() != "comment":
            masking.fill(start, end)
            continue
        if kind in ("whole", "comment"):
            masking.blank(start, end)
            continue
        word, prints = _read(str(kind), mark)
        masking.has_alternatives |= word in _OTHERWISE
        if prints:
            masking.fill(start, end)
        else:
            masking.blank(start, end)
    return masking.done()


def _read(kind: str, mark: str) -> tuple[str, bool]:
    """Return a mark's first word, and whether it may print something."""
    if kind == "prints":
        inner = mark.strip("{}").lstrip("~- ")
        word = _first_word(inner.lstrip("#/^"))
        silent = inner[:1] in ("#", "/", "^", "!") and not inner.startswith("#>")
        if inner.startswith("^"):
            word = "else"
        return word if silent or word == "else" else "", not (silent or word == "else")
    if kind == "statement":
        word = _first_word(mark[2:-2].lstrip("-+~ \t\r\n"))
        return word, not (word in _SILENT or word.startswith("end") or not word)
    code = _CODE_FRAME.sub("", mark)
    code = _NOTES.sub("", code).strip(" \t\r\n}{;:")
    word = _first_word(code)
    if mark.startswith(("<?=", "<%=", "<%-")) or _ECHOES.search(code):
        return word, True
    is_call = re.fullmatch(r"[\w\\:>$-]+\(.*\);?", code, re.DOTALL) is not None
    return word, is_call and not (word in _SILENT or word.startswith("end"))


def _first_word(text: str) -> str:
    found = _WORD.match(text)
    return found.group().lower() if found is not None else ""
