"""A frame has no title.

A frame holds another page. Its title says what is in it before anybody goes in.

## Who is hindered

People who listen to the page: "frame", and no way to know whether it holds a map, a film or an
advertisement.

## What an editor does

Fill in the title where the map, film or form is embedded.

## What a template developer does

Print ``title`` on every ``iframe``.

## Wrong

    <iframe src="/map.html"></iframe>

## Right

    <iframe src="/map.html" title="Map of the canal"></iframe>

## Left alone

Hidden frames.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="page/frame-untitled",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2", "2.4.1"),
    needs=Needs.TREE,
    act_rule="cae760",
    messages={"none": "The frame with {source} has no title."},
)
def frame_untitled(page: Page) -> Iterator[Flag]:
    """Yield every exposed ``iframe`` or ``frame`` with an empty accessible name."""
    for frame in page.every_exposed():
        if (
            frame.tag in ("iframe", "frame")
            and not page.name_of(frame)
            and page.explicit_role(frame) != "none"
        ):
            source = frame.get("src") or "content of its own"
            mend = Mend("set-attribute", "Say what the frame holds.", attribute="title")
            yield failed(
                frame,
                "none",
                source=shortened(source),
                facts={"source": frame.get("src")},
                mends=(mend,),
            )
