"""What an editor is offered while attributes and styles are written."""

from __future__ import annotations

import pytest

from plumrake.core.checks.forms.autocomplete import fault_of
from plumrake.core.semantics.aria import VALUES
from plumrake.core.vocabulary import ROLES
from plumrake.lsp.colours import colours_in, ratio_of
from plumrake.lsp.completion import completions, meanings


def offered(text: str) -> list[str]:
    """Return what is offered at ``|``."""
    offset = text.index("|")
    return [one.text for one in completions(text.replace("|", ""), offset)]


@pytest.mark.parametrize(
    ("text", "among", "not_among"),
    [
        ('<div role="na|">', "navigation", "main"),
        ("<div role='|'>", "button", "aria-label"),
        ("<div ar|>", "aria-label", "role"),
        ('<input autocomplete="shipping post|">', "postal-code", "tel"),
        ('<p lang="|">', "cy", "role"),
        ('<p aria-live="|">', "polite", "true"),
        ('<p id="hours">x</p><a aria-describedby="|">', "hours", "polite"),
    ],
)
def test_completions(text: str, among: str, not_among: str) -> None:
    assert among in offered(text)
    assert not_among not in offered(text)


@pytest.mark.parametrize("text", ["<p>role|", "ro|", '<p class="ro|">', "<p|", "", "|"])
def test_nothing_is_offered_elsewhere(text: str) -> None:
    assert offered(text if "|" in text else text + "|") == []


def test_what_is_completed_stands_behind_what_is_kept() -> None:
    [one] = completions('<input autocomplete="shipping postal-', 36)
    assert (one.text, one.start) == ("postal-code", 30)


def test_all_that_is_offered_is_allowed_and_known() -> None:
    """Roles, attributes and tokens are those of the checks."""
    assert set(meanings("role")) <= ROLES
    assert set(meanings("attribute")) - {"autocomplete", "lang", "role"} <= set(VALUES)
    tokens = meanings("autocomplete")
    assert [one for one in tokens if (fault_of(one, "hidden") or ("",))[0] == "unknown"] == []
    assert all(means.endswith((".", ":")) for means in tokens.values())


def test_colours_of_styles() -> None:
    text = (
        "<style>/* red */ p { color: #777; background: white; margin: 0 auto }\n"
        "a { border: 1px solid rgb(0 128 0 / 50%) }</style>\n"
        '<p style="color:navy" title="red">red</p>'
    )
    found = colours_in(text)
    assert [text[slice(*one.span)] for one in found] == [
        "#777",
        "white",
        "rgb(0 128 0 / 50%)",
        "navy",
    ]
    assert ratio_of(found[0]) == (
        "#777777 on #ffffff: 4.47:1, enough for large text only; other text needs 4.5:1 "
        "(WCAG 2.2, 1.4.3)."
    )
    assert ratio_of(found[1]) == ratio_of(found[0])
    assert ratio_of(found[3]) == "#000080: 16.0:1 with white, 1.31:1 with black."


@pytest.mark.parametrize(
    "text", ["<style>p{color:", "<style>", '<p style="color:#', "a{color:red}"]
)
def test_colours_of_what_is_broken_off(text: str) -> None:
    assert all(0 <= one.span[0] < one.span[1] <= len(text) for one in colours_in(text))
