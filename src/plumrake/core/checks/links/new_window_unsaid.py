"""A link opens another window and does not say so.

In a new window "Back" does nothing, and who does not see the windows may not notice that there is
another one.

## Who is hindered

People who listen to the page, people with magnification, and people who find their way back by
"Back" alone.

## What an editor does

Let the link open in the same window. Where another window is needed, say so in the link: "(opens
in a new window)".

## What a template developer does

Do not print ``target="_blank"``, or add the words to the link's name with it, for instance as the
text of an icon.

## Wrong

    <a href="/map" target="_blank">Map of the canal</a>

## Right

    <a href="/map" target="_blank">Map of the canal (opens in a new window)</a>

## Left alone

Links into a frame of the page.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.links.shared import target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import holds_phrase, listed, normalised, shortened


@check(
    id="links/new-window-unsaid",
    weight=Weight.FRICTION,
    criteria=("2.4.4",),
    needs=Needs.TREE,
    messages={"unsaid": "The link “{name}” opens in another window and does not say so."},
)
def new_window_unsaid(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every link to a window of its own whose name does not say so."""
    base = next(
        (
            element.get("target")
            for element in page.elements
            if element.tag == "base" and element.has("target")
        ),
        "",
    )
    frames = {
        element.get("name").casefold()
        for element in page.elements
        if element.tag in ("iframe", "frame") and element.get("name")
    }
    for link in page.exposed(role="link"):
        window = (link.get("target") if link.has("target") else base).strip().casefold()
        if not link.has("href") or window in ("", "_self", "_parent", "_top") or window in frames:
            continue
        name = page.name_of(link)
        language = page.language_of(link)
        said = listed("new_window", language, options["words"]) | listed("new_window", "en", {})
        if not name or any(holds_phrase(normalised(name), phrase) for phrase in said):
            continue
        yield failed(
            link,
            "unsaid",
            name=shortened(name),
            facts={"name": name, "window": window, "target": target_of(link)},
            mends=(
                Mend("remove-attribute", "Let it open in the same window.", attribute="target")
                if link.has("target") and base.strip().casefold() in ("", "_self")
                else Mend(
                    "set-attribute",
                    "Let it open in the same window.",
                    attribute="target",
                    value="_self",
                ),
                Mend("advice", "Or say in the link that it opens in another window."),
            ),
        )
