"""Style sheets: their text to rules, each with its layer and what it hangs on (CSS Cascade 5,
Conditional Rules 5, Nesting 1)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from tinycss2 import parse_blocks_contents, parse_rule_list, parse_stylesheet, serialize

from plumrake.core.overtaking import go_on
from plumrake.core.style.cascade.conditions import Screen, media_applies, supported
from plumrake.core.style.cascade.declarations import Declaration, declarations_of
from plumrake.core.style.cascade.kin import TooMuchStyle
from plumrake.core.style.cascade.selector_reader import BadSelector, parse_selectors
from plumrake.core.style.cascade.selectors import Selector

MOST_RULES, MOST_SELECTORS = 30_000, 100_000
_MOST_NESTED = 24

Layer = tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Rule:
    """A style rule: its selectors, what it declares, its layer (``()``: none), and why it is not
    sure that it applies (``""``: it does)."""

    selectors: tuple[Selector, ...]
    declarations: tuple[Declaration, ...]
    layer: Layer = ()
    doubt: str = ""


@dataclass(frozen=True, slots=True)
class Import:
    """An ``@import`` whose conditions hold: the address as written, its layer, and its doubt."""

    address: str
    layer: Layer = ()
    doubt: str = ""


@dataclass(frozen=True, slots=True)
class Layers:
    """Layers that are named in this order."""

    names: tuple[Layer, ...]


@dataclass(frozen=True, slots=True)
class Registered:
    """A custom property that ``@property`` registers: whether it inherits, and its initial value
    (None: it has none)."""

    name: str
    inherits: bool
    initial: str | None


Item = Rule | Import | Layers | Registered


@dataclass(frozen=True, slots=True)
class Sheet:
    """A style sheet's items in order."""

    items: tuple[Item, ...] = ()


@dataclass(frozen=True, slots=True)
class _Around:
    """What stands around a rule."""

    parents: Sequence[Selector] | None = None
    layer: Layer = ()
    doubt: str = ""
    depth: int = 0


@dataclass(slots=True)
class _Count:
    rules: int = 0
    selectors: int = 0
    nameless: int = field(default=0)


def parse_sheet(text: str, screen: Screen, *, name: str = "", is_quirky: bool = False) -> Sheet:
    """Return a style sheet as it applies on a screen; ``name`` tells its nameless layers from other
    sheets'. Raises ``TooMuchStyle``."""
    try:
        nodes = parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
        return Sheet(tuple(_Parser(screen, name, is_quirky=is_quirky).top(nodes)))
    except RecursionError:
        raise TooMuchStyle("a style sheet is nested too deep") from None


class _Parser:
    """Goes through one sheet."""

    def __init__(self, screen: Screen, name: str, *, is_quirky: bool) -> None:
        self._screen = screen
        self._name = name
        self._is_quirky = is_quirky
        self._count = _Count()

    def top(self, nodes: Iterable[Any]) -> Iterator[Item]:
        """Yield what a whole sheet holds; imports only where they may stand."""
        may_import = True
        for node in nodes:
            if node.type == "at-rule" and node.lower_at_keyword == "import":
                if may_import:
                    yield from self._import(node)
            elif node.type == "at-rule" and node.lower_at_keyword == "namespace":
                may_import = False
            elif node.type in ("at-rule", "qualified-rule"):
                is_statement = node.type == "at-rule" and (
                    node.lower_at_keyword == "charset"
                    or (node.lower_at_keyword == "layer" and node.content is None)
                )
                may_import &= is_statement
                yield from self._node(node, _Around())

    def _node(self, node: Any, around: _Around) -> Iterator[Item]:
        if around.depth > _MOST_NESTED:
            return
        if node.type == "qualified-rule":
            yield from self._rule(node, around)
        elif node.type == "at-rule":
            yield from self._at_rule(node, around)

    def _rule(self, node: Any, around: _Around) -> Iterator[Item]:
        go_on()
        self._count.rules += 1
        if self._count.rules > MOST_RULES:
            raise TooMuchStyle(f"a style sheet has more than {MOST_RULES:,} rules")
        nodes = parse_blocks_contents(node.content, skip_comments=True, skip_whitespace=True)
        if not _holds_something(nodes):
            return
        selectors: Sequence[Selector] | None = None
        for part in _parts(nodes):
            declared = tuple(declarations_of(part)) if isinstance(part, list) else ()
            if isinstance(part, list) and not declared:
                continue
            if selectors is None:
                selectors = self._selectors(node.prelude, around)
                if not selectors:
                    return
            if isinstance(part, list):
                yield Rule(tuple(selectors), declared, around.layer, around.doubt)
            else:
                inner = _Around(selectors, around.layer, around.doubt, around.depth + 1)
                yield from self._node(part, inner)

    def _selectors(self, prelude: Any, around: _Around) -> Sequence[Selector]:
        try:
            found = parse_selectors(prelude, around.parents, is_quirky=self._is_quirky)
        except BadSelector:
            return ()
        self._count.selectors += len(found)
        if self._count.selectors > MOST_SELECTORS:
            raise TooMuchStyle(f"a style sheet has more than {MOST_SELECTORS:,} selectors")
        return found

    def _at_rule(self, node: Any, around: _Around) -> Iterator[Item]:
        name, prelude = node.lower_at_keyword, serialize(node.prelude).strip()
        if name == "layer":
            yield from self._layer(node, prelude, around)
        elif name == "property" and node.content is not None:
            yield from _registered(prelude, node.content)
        elif name in ("media", "supports", "container", "scope") and node.content is not None:
            doubt = self._doubt(name, prelude)
            if doubt is not None:
                yield from self._within(
                    node, _Around(around.parents, around.layer, around.doubt or doubt, around.depth)
                )

    def _doubt(self, name: str, prelude: str) -> str | None:
        """Return why it is not sure that a condition holds, ``""`` where it is, None where it does
        not hold."""
        if name == "media":
            return "" if media_applies(prelude, self._screen) else None
        if name == "supports":
            answer = supported(prelude)
            return None if answer is False else "" if answer else "@supports"
        return f"@{name}"

    def _within(self, node: Any, around: _Around) -> Iterator[Item]:
        inner = _Around(around.parents, around.layer, around.doubt, around.depth + 1)
        if around.parents is None:
            for one in parse_rule_list(node.content, skip_comments=True, skip_whitespace=True):
                yield from self._node(one, inner)
            return
        nodes = parse_blocks_contents(node.content, skip_comments=True, skip_whitespace=True)
        for part in _parts(nodes):
            if not isinstance(part, list):
                yield from self._node(part, inner)
            elif declared := tuple(declarations_of(part)):
                yield Rule(tuple(around.parents), declared, around.layer, around.doubt)

    def _layer(self, node: Any, prelude: str, around: _Around) -> Iterator[Item]:
        names = [_path(one) for one in prelude.split(",") if one.strip()]
        if node.content is None:
            yield Layers(tuple((*around.layer, *one) for one in names))
            return
        layer = (*around.layer, *(names[0] if names else self._nameless()))
        yield Layers((layer,))
        yield from self._within(node, _Around(around.parents, layer, around.doubt, around.depth))

    def _nameless(self) -> Layer:
        self._count.nameless += 1
        return (f"{self._name} {self._count.nameless}",)

    def _import(self, node: Any) -> Iterator[Item]:
        tokens = [one for one in node.prelude if one.type not in ("whitespace", "comment")]
        if not tokens or (address := _address(tokens[0])) is None:
            return
        rest, layer, doubt = tokens[1:], Layer(), ""
        if rest and rest[0].type == "ident" and rest[0].lower_value == "layer":
            layer, rest = self._nameless(), rest[1:]
        elif rest and rest[0].type == "function" and rest[0].lower_name == "layer":
            layer, rest = _path(serialize(rest[0].arguments)), rest[1:]
        if rest and rest[0].type == "function" and rest[0].lower_name == "supports":
            condition = serialize(rest[0].arguments)
            answer = supported(
                condition if condition.lstrip().startswith("(") else f"({condition})"
            )
            if answer is False:
                return
            doubt, rest = "" if answer else "@supports", rest[1:]
        if not media_applies(" ".join(serialize([one]) for one in rest), self._screen):
            return
        if layer:
            yield Layers((layer,))
        yield Import(address, layer, doubt)


def _holds_something(nodes: Iterable[Any]) -> bool:
    return any(node.type in ("declaration", "at-rule", "qualified-rule") for node in nodes)


def _parts(nodes: Iterable[Any]) -> Iterator[list[Any] | Any]:
    """Yield runs of declarations as lists, and nested rules between them."""
    run: list[Any] = []
    for node in nodes:
        if node.type in ("at-rule", "qualified-rule"):
            if run:
                yield run
                run = []
            yield node
        else:
            run.append(node)
    if run:
        yield run


def _path(text: str) -> Layer:
    return tuple(part.strip() for part in text.strip().split("."))


def _address(token: Any) -> str | None:
    if token.type in ("string", "url"):
        return str(token.value)
    if token.type == "function" and token.lower_name in ("url", "src") and token.arguments:
        return str(getattr(token.arguments[0], "value", ""))
    return None


def _registered(name: str, content: Any) -> Iterator[Item]:
    inherits, initial = True, None
    for node in parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if node.type == "declaration" and node.lower_name == "inherits":
            inherits = serialize(node.value).strip().lower() != "false"
        elif node.type == "declaration" and node.lower_name == "initial-value":
            initial = str(serialize(node.value)).strip()
    if name.startswith("--"):
        yield Registered(name, inherits, initial)
