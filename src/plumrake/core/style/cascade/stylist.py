"""Which rules of a set of style sheets an element meets, and what wins (CSS Cascade 5, 6).

One stylist serves all pages with the same sheets: what was matched for an element is kept by what
the element and its ancestors are made of.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from plumrake.core.dom import Element
from plumrake.core.style.cascade.comparisons import Comparison
from plumrake.core.style.cascade.computed import Won
from plumrake.core.style.cascade.declarations import Declaration
from plumrake.core.style.cascade.kin import Kin
from plumrake.core.style.cascade.pseudo_classes import PSEUDO_CLASSES, READ_WHOLE, Test
from plumrake.core.style.cascade.selectors import Selector
from plumrake.core.style.cascade.sheets import Layer, Layers, Registered, Rule, Sheet

_MOST_PATHS, _MOST_LETTERS = 20_000, 400
_ELEMENTS = ("before", "after", "placeholder")
"""The pseudo-elements that are asked for."""


@dataclass(frozen=True, slots=True)
class Placed:
    """A style sheet where it stands among a page's: the layer that it was imported into, and why it
    is not sure that it applies. A sheet of the browser's is for one ``namespace``."""

    sheet: Sheet
    layer: Layer = ()
    doubt: str = ""
    namespace: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class Entry:
    """One selector of a rule, and where it stands in the cascade."""

    selector: Selector
    declarations: tuple[Declaration, ...]
    doubt: str
    namespace: str
    normal: tuple[int, ...]
    important: tuple[int, ...]


Hit = tuple[Entry, str]
"""A rule that applies, and why that is not sure (``""``: it is)."""


@dataclass(slots=True, eq=False)
class Path:
    """An element by what it and its ancestors are made of: what it meets for certain, the rules
    that ask for more, the keys of all of them, and its children."""

    hits: tuple[Hit, ...] = ()
    others: tuple[Entry, ...] = ()
    keys: frozenset[str] = frozenset()
    children: dict[tuple[object, ...], Path] = field(default_factory=dict)


class Stylist:
    """Answers for one set of style sheets."""

    def __init__(self, sheets: Sequence[Placed]) -> None:
        self._buckets: dict[str, list[Entry]] = {}
        self._anywhere: list[Entry] = []
        self._classes: set[str] = set()
        self._ids: set[str] = set()
        self._attributes: set[str] = set()
        self._comparisons: dict[str, list[Comparison]] = {}
        self._holding: dict[tuple[str, str], tuple[int, ...]] = {}
        self.registered: dict[str, tuple[bool, str | None]] = {}
        self._top = Path()
        self._paths = 0
        self._keys_seen: dict[frozenset[str], frozenset[str]] = {}
        self._places: tuple[Test, ...] = ()
        ranks = _ranks(sheets)
        compared: set[Comparison] = set()
        count = 0
        for placed in sheets:
            for item in placed.sheet.items:
                if isinstance(item, Registered):
                    self.registered[item.name] = (item.inherits, item.initial)
                elif isinstance(item, Rule):
                    count += 1
                    rank = ranks[(*placed.layer, *item.layer)]
                    self._enter(item, placed, rank, count)
                    compared.update(*(one.compared for one in item.selectors))
        for comparison in compared:
            self._comparisons.setdefault(comparison.name, []).append(comparison)
        self._places = tuple(
            PSEUDO_CLASSES[name[1:]] for name in sorted(self._attributes) if name.startswith(":")
        )

    def _enter(self, rule: Rule, placed: Placed, rank: int, count: int) -> None:
        for selector in rule.selectors:
            if selector.pseudo_element and selector.pseudo_element not in _ELEMENTS:
                continue
            weight = (*selector.specificity, count)
            entry = Entry(
                selector,
                rule.declarations,
                placed.doubt or rule.doubt,
                placed.namespace,
                (0 if placed.namespace else 2, rank, *weight),
                (6 if placed.namespace else 4, -rank, *weight),
            )
            self._attributes |= selector.attributes
            for compound in selector.compounds:
                self._classes |= compound.classes
                self._ids |= compound.ids
            keys = selector.compounds[0].keys
            for key in keys:
                self._note(key)
                self._buckets.setdefault(key, []).append(entry)
            if not keys:
                self._anywhere.append(entry)
            for compound in selector.compounds[1:]:
                for key in compound.among:
                    self._note(key)

    def _note(self, key: str) -> None:
        if key.startswith("."):
            self._classes.add(key[1:])
        elif key.startswith("#"):
            self._ids.add(key[1:])

    def path(self, element: Element, above: Path | None, kin: Kin) -> Path:
        """Return an element's path below its parent's (None: it is the root)."""
        parent = above if above is not None else self._top
        made_of = self._made_of(element, kin)
        found = parent.children.get(made_of)
        if found is None:
            if self._paths > _MOST_PATHS:
                self._top, self._paths, self._keys_seen = Path(), 0, {}
            found = parent.children[made_of] = self._new_path(element, parent, kin)
            self._paths += 1
        return found

    def _made_of(self, element: Element, kin: Kin) -> tuple[object, ...]:
        own = element.attributes
        places = tuple(test(element, kin) for test in self._places)
        if not own:
            return (element.tag, element.namespace, places)
        looked_at = self._attributes.intersection(own)
        return (
            element.tag,
            element.namespace,
            places,
            own.get("id") if own.get("id") in self._ids else None,
            kin.classes(element) & self._classes if "class" in own else None,
            frozenset((one, self._said(one, own[one], kin)) for one in looked_at)
            if looked_at
            else None,
        )

    def _said(self, name: str, value: str, kin: Kin) -> str | tuple[int, ...]:
        """Return what the sheets' selectors make of an attribute's value: by number, those of their
        comparisons that hold."""
        if name in READ_WHOLE:
            return value
        comparisons = self._comparisons.get(name, ())
        if not comparisons:
            return ()
        found = self._holding.get((name, value))
        if found is None:
            if len(self._holding) > _MOST_PATHS:
                self._holding.clear()
            kin.spend(len(comparisons))
            found = tuple(at for at, one in enumerate(comparisons) if one.holds(value))
            if len(value) < _MOST_LETTERS:
                self._holding[name, value] = found
        return found

    def _new_path(self, element: Element, above: Path, kin: Kin) -> Path:
        hits: list[Hit] = []
        others: list[Entry] = []
        keys = self._keys(element, kin)
        for entry in self._candidates(element, keys):
            if not entry.selector.around <= above.keys:
                continue
            if not entry.selector.is_lineal:
                others.append(entry)
                continue
            answer = entry.selector.test(element, kin)
            if answer is not False:
                hits.append((entry, entry.doubt if answer else entry.doubt or _UNKNOWN))
        around = above.keys.union(keys)
        return Path(tuple(hits), tuple(others), self._keys_seen.setdefault(around, around))

    @staticmethod
    def _keys(element: Element, kin: Kin) -> list[str]:
        keys = [element.tag.lower(), *(f".{one}" for one in kin.classes(element))]
        if element.has("id"):
            own = element.get("id")
            keys.append(f"#{own.lower() if kin.is_quirky else own}")
        return keys

    def _candidates(self, element: Element, keys: Sequence[str]) -> Iterator[Entry]:
        seen: set[int] = set()
        for found in (*(self._buckets.get(key, ()) for key in keys), self._anywhere):
            for entry in found:
                if entry.namespace not in ("", element.namespace):
                    continue
                if id(entry) not in seen:
                    seen.add(id(entry))
                    yield entry

    @staticmethod
    def hits(element: Element, path: Path, kin: Kin) -> tuple[Hit, ...]:
        """Return the rules that an element meets, those of its pseudo-elements among them."""
        if not path.others:
            return path.hits
        more: list[Hit] = []
        for entry in path.others:
            answer = entry.selector.test(element, kin)
            if answer is not False:
                more.append((entry, entry.doubt if answer else entry.doubt or _UNKNOWN))
        return (*path.hits, *more)


_UNKNOWN = "a selector that cannot be told"


def winners(
    hits: Iterable[Hit],
    pseudo_element: str,
    hints: Sequence[Declaration] = (),
    inline: Sequence[Declaration] = (),
) -> Mapping[str, Won]:
    """Return what wins for each property (CSS Cascade 5, 6.1): the browser's sheet, hints, the
    author's, the ``style`` attribute; then what is important, layers the other way round."""
    ranked: list[tuple[tuple[int, ...], Declaration, str]] = []
    for entry, doubt in hits:
        if entry.selector.pseudo_element != pseudo_element:
            continue
        for at, one in enumerate(entry.declarations):
            place = entry.important if one.is_important else entry.normal
            ranked.append(((*place, at), one, doubt))
    ranked += [((1, at), one, "") for at, one in enumerate(hints)]
    ranked += [((5 if one.is_important else 3, at), one, "") for at, one in enumerate(inline)]
    ranked.sort(key=lambda one: one[0])
    won: dict[str, Won] = {}
    browsers: dict[str, Declaration] = {}
    for place, one, doubt in ranked:
        if place[0] == 0:
            browsers[one.name] = one
        if not doubt:
            won[one.name] = Won(one, browsers.get(one.name))
            continue
        before = won.get(one.name) or Won(None)
        if before.declaration is None or before.declaration.value != one.value:
            won[one.name] = Won(before.declaration, before.browsers, before.doubt or doubt)
    return won


def _ranks(sheets: Iterable[Placed]) -> dict[Layer, int]:
    """Return the rank of each layer: in the order in which they are named, what is nested before
    what it is nested in, what has no layer last (CSS Cascade 5, 6.4)."""
    order: dict[Layer, dict[str, None]] = {(): {}}

    def name(layer: Layer) -> None:
        for depth in range(len(layer)):
            order.setdefault(layer[:depth], {}).setdefault(layer[depth])
            order.setdefault(layer[: depth + 1], {})

    for placed in sheets:
        name(placed.layer)
        for item in placed.sheet.items:
            if isinstance(item, Layers):
                for one in item.names:
                    name((*placed.layer, *one))
            elif isinstance(item, Rule):
                name((*placed.layer, *item.layer))
    ranks: dict[Layer, int] = {}
    stack: list[tuple[Layer, bool]] = [((), False)]
    while stack:
        layer, done = stack.pop()
        if done:
            ranks[layer] = len(ranks)
            continue
        stack.append((layer, True))
        stack.extend(((*layer, inner), False) for inner in reversed(order[layer]))
    return ranks
