"""Causes: what many findings of a sweep have in common, so that it is mended once.

Two things make findings one cause. Either they stand on the same content (same check, same kind of
element with the same text or target: ``cause_key``), or a template prints the fault: then the
elements have the same build, and nearly all elements of that build, on several pages, have the
fault. An editor's fault stands in some places of a build; a template's in all of them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from plumrake.core.findings import WEIGHTS, Weight, digest

_LEAST_PAGES = 4
_NEARLY_ALL, _MOST = 0.9, 0.5


@dataclass(frozen=True, slots=True)
class Place:
    """A finding as gathering needs it: ``page`` is any number that tells pages apart, ``shape_key``
    may be ``""``."""

    finding: int
    page: int
    check: str
    weight: str
    zone: str
    structure: str
    shape_key: str
    cause_key: str
    visible: bool
    pictured: bool


@dataclass(frozen=True, slots=True)
class Cause:
    """One thing to mend: its places in the order given, the one that shows it best, and whether a
    template prints it."""

    key: str
    check: str
    weight: str
    zone: str
    by_template: bool
    places: tuple[int, ...]
    pages: int
    best: int


def gather(
    places: Sequence[Place], census: Mapping[str, int], known: frozenset[str] = frozenset()
) -> list[Cause]:
    """Return the causes of a sweep's findings, the widest reach first, then by weight and key.

    ``census`` says how many elements of each build the sweep's pages have, faulty or not. ``known``
    are the keys that an earlier sweep found: a template's fault that is partly mended stays the
    same cause as long as most of its places have it.
    """
    by_shape: dict[str, list[Place]] = {}
    for place in places:
        if place.shape_key:
            by_shape.setdefault(place.shape_key, []).append(place)
    printed = {shape for shape, members in by_shape.items() if _is_printed(members, census, known)}
    by_key: dict[str, list[Place]] = {}
    for place in places:
        by_key.setdefault(
            place.shape_key if place.shape_key in printed else place.cause_key, []
        ).append(place)
    causes = [_cause(key, members, by_template=key in printed) for key, members in by_key.items()]
    return sorted(
        causes,
        key=lambda cause: (
            -cause.pages,
            WEIGHTS.index(Weight(cause.weight)),
            cause.check,
            cause.key,
        ),
    )


def shape_key(check: str, message: str, structure: str, variety: tuple[str, ...]) -> str:
    """Return what a fault that a template prints is known by; ``""`` without a build."""
    return digest("shape", check, message, structure, *variety) if structure else ""


def _is_printed(members: list[Place], census: Mapping[str, int], known: frozenset[str]) -> bool:
    pages = len({place.page for place in members})
    if pages < _LEAST_PAGES and members[0].shape_key not in known:
        return False
    share = len(members) / max(census.get(members[0].structure, 0), len(members))
    return share >= (_MOST if members[0].shape_key in known else _NEARLY_ALL)


def _cause(key: str, members: list[Place], *, by_template: bool) -> Cause:
    best = min(
        members, key=lambda place: (not (place.visible and place.pictured), not place.visible)
    )
    return Cause(
        key=key,
        check=best.check,
        weight=min(
            (place.weight for place in members), key=lambda weight: WEIGHTS.index(Weight(weight))
        ),
        zone=best.zone,
        by_template=by_template,
        places=tuple(place.finding for place in members),
        pages=len({place.page for place in members}),
        best=best.finding,
    )
