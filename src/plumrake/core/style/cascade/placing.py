"""What a computed style says of where an element lies, without a layout."""

from __future__ import annotations

import re
from collections.abc import Mapping

from plumrake.core.dom import Certainty, Style
from plumrake.core.style.cascade.computed import Computed

_FAR, _NEAR = 400.0, 32.0
"""So far away (CSS px) nothing is seen any more; so near it lies where it would lie anyhow."""
_NAMES = {
    "-webkit-text-fill-color" if name == "text_fill" else name.replace("_", "-"): name
    for name in Style._fields
}


def certainty_of(found: Computed) -> Certainty:
    """Return how sure an element's style is, and what of its place shows in it."""
    values = found.values
    place = {name: _px(values[name]) for name in _PLACED}
    doubts = frozenset(_NAMES[name] for name in found.doubts if name in _NAMES)
    why = next(iter(found.doubts.values()), "")
    is_open = not doubts.isdisjoint(("position", "float"))
    width, height = _room(values)
    return Certainty(
        doubts=doubts,
        why=why,
        is_away=_is_away(found, place),
        is_moved=is_open or _is_moved(found, place),
        is_beside=not is_open and _is_beside(values),
        is_wider=not is_open and _is_wider(found, place),
        floats=values["position"] in ("absolute", "fixed"),
        width=width,
        height=height,
    )


_SIDES = ("top", "right", "bottom", "left")
_MARGINS = tuple(f"margin-{side}" for side in _SIDES)
_PLACED = (*_SIDES, *_MARGINS, "width", "height", "max-height", "text-indent")


def _px(text: str) -> float | None:
    if text.endswith("px"):
        return float(text.removesuffix("px"))
    match = re.fullmatch(r"(-?[\d.]+)%", text)
    return float(match.group(1)) / 100 * 1000 if match else None


def _room(values: Mapping[str, str]) -> tuple[float | None, float | None]:
    """Return the width and the height that the box has at most, None where the style leaves them
    to what is in it, to what is around it, or to be scrolled."""
    if values["display"] in ("inline", "contents") or values["overflow-y"] != "visible":
        return None, None
    set_heights = [_set_px(values[name]) for name in ("height", "max-height")]
    return _set_px(values["width"]), min(
        (one for one in set_heights if one is not None), default=None
    )


def _set_px(text: str) -> float | None:
    return None if text.endswith("%") else _px(text)


def _is_away(found: Computed, place: dict[str, float | None]) -> bool:
    """Tell whether the element is put where nobody sees it, or made too small for it."""
    values = found.values
    if values["position"] in ("absolute", "fixed", "relative"):
        offsets = [place[side] for side in _SIDES]
        if any(one is not None and one <= -_FAR for one in offsets):
            return True
    if not _is_beside(values) and any(
        (place[f"margin-{side}"] or 0) <= -2 * _FAR for side in ("top", "left", "right")
    ):
        return True
    if (place["text-indent"] or 0) <= -_FAR:
        return True
    clips = values["overflow-x"] in ("hidden", "clip") or values["overflow-y"] in ("hidden", "clip")
    if clips and values["display"] != "inline":
        sides = [place["width"], place["height"], place["max-height"]]
        return any(one is not None and one <= 1 for one in sides)
    return values["font-size"] == "0px"


def _is_beside(values: Mapping[str, str]) -> bool:
    """Tell whether the element is a float that is drawn beside those before it, as columns are: by
    a share of the width that both have."""
    return values["float"] != "none" and any(
        values[margin].startswith("-") and values[margin].endswith("%")
        for margin in ("margin-left", "margin-right")
    )


def _is_moved(found: Computed, place: dict[str, float | None]) -> bool:
    """Tell whether it may lie elsewhere than in the box of its parent."""
    return _is_put(found, place) or any((place[margin] or 0) < -_NEAR for margin in _MARGINS)


def _is_wider(found: Computed, place: dict[str, float | None]) -> bool:
    """Tell whether it is drawn out over its parent's padding to both sides, and no more."""
    left, top, right, bottom = (
        place[f"margin-{side}"] or 0 for side in ("left", "top", "right", "bottom")
    )
    is_drawn_out = -_FAR < left < 0 and -_FAR < right < 0 and min(top, bottom) >= -_NEAR
    return is_drawn_out and found.values["float"] == "none" and not _is_put(found, place)


def _is_put(found: Computed, place: dict[str, float | None]) -> bool:
    """Tell whether it is taken out of its place by position or by a transform."""
    values = found.values
    position = values["position"]
    if position in ("absolute", "fixed"):
        return True
    if position == "relative" and any(abs(place[side] or 0) > _NEAR for side in _SIDES):
        return True
    return any(values[name] != "none" for name in ("transform", "translate"))
