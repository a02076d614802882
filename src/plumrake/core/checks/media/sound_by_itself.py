"""Sound begins by itself.

Sound that begins before the visitor asks for it drowns the voice of a screen reader, and the person
cannot hear how to switch it off.

## Who is hindered

People who listen to the page, and people who cannot concentrate with sound around them.

## What an editor does

Switch off "start by itself": the visitor starts the film or recording.

## What a template developer does

Never print ``autoplay`` for media with sound.

## Wrong

    <audio src="/media/kettle.mp3" autoplay></audio>

## Right

    <audio src="/media/kettle.mp3" controls></audio>

## Left alone

Films and recordings that are ``muted``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.media.shared import played_file, player_facts, players
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="media/sound-by-itself",
    weight=Weight.BARRIER,
    criteria=("1.4.2",),
    needs=Needs.TREE,
    messages={"autoplay": "{file} begins to play with sound by itself."},
)
def sound_by_itself(page: Page) -> Iterator[Flag]:
    """Yield films that are exposed, and recordings, that begin with sound by themselves (WCAG
    1.4.2)."""
    for element in players(page, "video", "audio"):
        if not element.has("autoplay") or element.has("muted"):
            continue
        if element.tag == "video" and not page.is_exposed(element):
            continue
        mend = Mend(
            "remove-attribute",
            "Do not let it begin by itself: the visitor starts it.",
            attribute="autoplay",
        )
        yield failed(
            element,
            "autoplay",
            file=played_file(element),
            facts=player_facts(element),
            mends=(mend,),
        )
