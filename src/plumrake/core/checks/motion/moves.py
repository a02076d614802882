"""Something moves and cannot be stopped.

What moves draws the eye away from the text beside it.

## Who is hindered

People who find it hard to concentrate, people whom motion makes sick, and people who read slowly:
what runs past is gone.

## What an editor does

Take moving pictures and running text away, or choose a film with controls.

## What a template developer does

Let animations end within 5 seconds, or offer a button that stops them; obey
``prefers-reduced-motion``.

## Wrong

    <marquee>Hallow Lock is closed.</marquee>

## Right

    <p>Hallow Lock is closed.</p>

## Left alone

Animations that end within 5 seconds, those that reduced motion stops, and films with controls.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, cant_tell, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_LONGEST = 5.0


@check(
    id="motion/moves",
    weight=Weight.OBSTACLE,
    criteria=("2.2.2",),
    needs=Needs.STYLE,
    styles="display animation_name animation_duration animation_iteration_count",
    act_rule="efbfc7",
    messages={
        "runs": "<{tag}> makes its text move for ever.",
        "animated": "An animation ({animation}) runs {duration}.",
        "film": "A film begins by itself and has no controls.",
        "picture": "The picture {file} moves.",
    },
    questions={
        "animated": "Does it distract from reading, and can it be stopped?",
        "film": "Does it go on for more than 5 seconds, and can it be stopped?",
        "picture": "Does it move for more than 5 seconds, and can it be stopped?",
    },
)
def moves(page: Page) -> Iterator[Flag]:
    """Yield ``marquee`` and ``blink``, long or endless animations, films without controls and
    moving GIFs that are seen."""
    for element in page.elements:
        if element.tag in ("marquee", "blink") and page.is_shown(element):
            mend = Mend("rename-element", "Let the text stand still.", to="div")
            yield failed(
                element, "runs", tag=element.tag, facts={"kind": element.tag}, mends=(mend,)
            )
        elif (
            element.tag == "video"
            and element.has("autoplay")
            and not element.has("controls")
            and page.is_seen(element)
        ):
            mend = Mend("set-attribute", "Let people stop it.", attribute="controls", value="")
            yield cant_tell(
                element,
                "film",
                facts={"kind": "video"},
                mends=(
                    mend,
                    Mend("remove-attribute", "Or let them start it.", attribute="autoplay"),
                ),
            )
        elif element.moves and page.is_seen(element):
            file = element.get("src").partition("?")[0].rpartition("/")[2]
            mend = Mend("advice", "Show a picture that stands still, or a film with controls.")
            yield cant_tell(
                element,
                "picture",
                file=shortened(file, 40),
                facts={"kind": "gif", "file": file},
                mends=(mend,),
            )
        elif (length := _animation(element)) is not None and page.is_seen(element):
            name = element.style.animation_name if element.style is not None else ""
            duration = "without end" if length == float("inf") else f"for {length:g} s"
            mend = Mend(
                "set-style",
                "Let it stand still; or let it end within 5 seconds, or offer a button to stop it.",
                property="animation",
                value="none",
            )
            facts = {
                "kind": "animation",
                "animation": name,
                "seconds": None if length == float("inf") else length,
            }
            yield cant_tell(
                element,
                "animated",
                animation=shortened(name, 40),
                duration=duration,
                facts=facts,
                mends=(mend,),
            )
    if not page.is_laid_out and any(map(_may_move, page.elements)):
        raise NotTested(Needs.LAYOUT)


def _may_move(element: Element) -> bool:
    """Tell whether it is a picture that may have several frames."""
    return element.tag == "img" and element.get("src").partition("?")[0].lower().endswith(".gif")


def _animation(element: Element) -> float | None:
    """Return how many seconds the element's longest animation runs, where that is over 5."""
    style = element.style
    if style is None or style.animation_name == "none":
        return None
    names, durations, counts, states = (
        [part.strip() for part in value.split(",")]
        for value in (
            style.animation_name,
            style.animation_duration,
            style.animation_iteration_count,
            style.animation_play_state,
        )
    )
    longest = 0.0
    for at, name in enumerate(names):
        count = counts[at % len(counts)]
        seconds = _seconds(durations[at % len(durations)])
        runs = states[at % len(states)] != "paused"
        if name != "none" and seconds > 0 and runs:
            longest = max(longest, float("inf") if count == "infinite" else seconds * float(count))
    return longest if longest > _LONGEST else None


def _seconds(duration: str) -> float:
    if duration.endswith("ms"):
        return float(duration[:-2]) / 1000
    return float(duration[:-1]) if duration.endswith("s") else 0.0
