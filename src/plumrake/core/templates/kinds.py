"""What a text is written in, told from the language that the editor says, or from its file."""

from __future__ import annotations

from typing import Final, Literal

from plumrake.core.templates import engines, jsx, single_files
from plumrake.core.templates.marks import Template

Writing = Literal["html", "markdown", "engine", "vue", "svelte", "jsx"]

_WRITINGS: Final[dict[str, Writing]] = {
    **dict.fromkeys(("html", "htm", "xhtml"), "html"),
    **dict.fromkeys(("markdown", "md"), "markdown"),
    **dict.fromkeys(
        "django-html django htmldjango jinja jinja2 jinja-html j2 htmljinja twig html-twig liquid "
        "handlebars html-handlebars hbs mustache php html-php phtml blade erb html-eex ejs".split(),
        "engine",
    ),
    "vue": "vue",
    "svelte": "svelte",
    **dict.fromkeys(
        "javascriptreact typescriptreact jsx tsx javascript.jsx typescript.tsx".split(), "jsx"
    ),
}
_PLAIN: Final = "html"


def writing_of(language: str, address: str) -> Writing:
    """Return what a text of a language (as editors name it) or of a file's name is written in; what
    is known by neither is HTML."""
    name = language.lower().replace(".", "-") if language not in _WRITINGS else language
    ending = address.lower().rpartition(".")[2]
    return _WRITINGS.get(name) or _WRITINGS.get(ending) or _PLAIN


def template_of(text: str, writing: Writing) -> Template | None:
    """Return the template that a text is; None for what is HTML or Markdown without any marks of an
    engine."""
    if writing == "vue":
        return single_files.vue(text)
    if writing == "svelte":
        return single_files.svelte(text)
    if writing == "jsx":
        return jsx.masked(text)
    if writing == "engine" or (writing == "html" and engines.has_marks(text)):
        return engines.masked(text)
    return None
