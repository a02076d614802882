"""Lengths, percentages and numbers (CSS Values and Units 4), calculations among them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from tinycss2 import parse_component_value_list

Tokens = Sequence[Any]
ABSOLUTE = {
    "px": 1.0,
    "pt": 96 / 72,
    "pc": 16.0,
    "in": 96.0,
    "cm": 96 / 2.54,
    "mm": 96 / 25.4,
    "q": 96 / 101.6,
}
"""Absolute units in CSS px."""
_OF_VIEWPORT = {
    f"{kind}{side}": side
    for kind in ("", "s", "l", "d")
    for side in ("vw", "vh", "vmin", "vmax", "vi", "vb")
}
UNKNOWN_UNITS = frozenset(
    "ex rex ch rch cap rcap ic ric lh rlh cqw cqh cqi cqb cqmin cqmax".split()
)
"""Units that hang on a font's shapes or on the layout."""
_MATH = frozenset(["calc", "min", "max", "clamp", "-webkit-calc"])
_OTHER_MATH = frozenset(
    "abs sign round mod rem sin cos tan asin acos atan atan2 pow sqrt hypot log exp calc-size "
    "anchor anchor-size random sibling-index sibling-count progress".split()
)
_ANGLES = {"deg": 1.0, "grad": 0.9, "turn": 360.0, "rad": 57.29577951308232}
_MOST_NESTED = 24


class NotANumber(ValueError):
    """The value is no length, percentage or number."""


class CannotTell(ValueError):
    """The value is one, but what it comes to hangs on what is not known; the message is why."""


@dataclass(frozen=True, slots=True)
class Sizes:
    """What relative lengths are measured by, in CSS px: the element's own font size (for a font
    size that of its parent), the root's, the viewport, and what percentages are of, where that is
    known."""

    font: float = 16.0
    root: float = 16.0
    width: float = 1280.0
    height: float = 800.0
    whole: float | None = None


class Amount(NamedTuple):
    """A sum of a length (CSS px), a percentage and a plain number; ``kind`` says which it is made
    of (``length``, ``percentage``, ``mixed``, ``number``, ``angle``)."""

    px: float = 0.0
    percent: float = 0.0
    number: float = 0.0
    kind: str = "number"

    def times(self, factor: float) -> Amount:
        """Return it so many times."""
        return Amount(self.px * factor, self.percent * factor, self.number * factor, self.kind)

    def plus(self, other: Amount) -> Amount:
        """Return the sum. Raises ``NotANumber`` where the kinds cannot be added."""
        kind = self.kind
        if kind != other.kind:
            if "number" in (kind, other.kind) or "angle" in (kind, other.kind):
                raise NotANumber
            kind = "mixed"
        return Amount(
            self.px + other.px, self.percent + other.percent, self.number + other.number, kind
        )

    def of(self, whole: float) -> float:
        """Return it in CSS px where a percentage is of ``whole``."""
        return self.px + self.percent / 100 * whole


def amount(text: str, sizes: Sizes) -> Amount:
    """Return what a value comes to. Raises ``NotANumber`` or ``CannotTell``."""
    tokens = _plain(parse_component_value_list(text))
    if len(tokens) != 1:
        raise NotANumber
    return amount_of(tokens[0], sizes)


def amount_of(token: Any, sizes: Sizes, names: dict[str, float] | None = None) -> Amount:
    """Return what one component value comes to; ``names`` are words that stand for numbers (the
    channels of a colour). Raises ``NotANumber`` or ``CannotTell``."""
    return _value(token, sizes, names or {}, 0)


def _plain(tokens: Tokens) -> list[Any]:
    return [one for one in tokens if one.type not in ("whitespace", "comment")]


def _value(token: Any, sizes: Sizes, names: dict[str, float], depth: int) -> Amount:
    if depth > _MOST_NESTED:
        raise NotANumber
    if token.type == "number":
        return Amount(number=token.value)
    if token.type == "percentage" and sizes.whole is not None:
        return Amount(px=token.value / 100 * sizes.whole, kind="length")
    if token.type == "percentage":
        return Amount(percent=token.value, kind="percentage")
    if token.type == "dimension":
        return _dimension(token.value, token.lower_unit, sizes)
    if token.type == "ident" and token.lower_value in names:
        return Amount(number=names[token.lower_value])
    if token.type == "() block":
        return _sum(token.content, sizes, names, depth + 1)
    if token.type != "function":
        raise NotANumber
    if token.lower_name in _OTHER_MATH:
        raise CannotTell(f"{token.lower_name}()")
    if token.lower_name not in _MATH:
        raise NotANumber
    if token.lower_name.endswith("calc"):
        return _sum(token.arguments, sizes, names, depth + 1)
    return _bounded(token.lower_name, token.arguments, sizes, names, depth)


def _dimension(value: float, unit: str, sizes: Sizes) -> Amount:
    if unit in ABSOLUTE:
        return Amount(px=value * ABSOLUTE[unit], kind="length")
    if unit in ("em", "rem"):
        return Amount(px=value * (sizes.font if unit == "em" else sizes.root), kind="length")
    if unit in _OF_VIEWPORT:
        side = {
            "vw": sizes.width,
            "vi": sizes.width,
            "vh": sizes.height,
            "vb": sizes.height,
            "vmin": min(sizes.width, sizes.height),
            "vmax": max(sizes.width, sizes.height),
        }[_OF_VIEWPORT[unit]]
        return Amount(px=value / 100 * side, kind="length")
    if unit in UNKNOWN_UNITS:
        raise CannotTell(f"the unit {unit}")
    if unit in _ANGLES:
        return Amount(number=value * _ANGLES[unit], kind="angle")
    raise NotANumber


def _bounded(
    name: str, arguments: Tokens, sizes: Sizes, names: dict[str, float], depth: int
) -> Amount:
    parts: list[list[Any]] = [[]]
    for token in arguments:
        if token.type == "literal" and token.value == ",":
            parts.append([])
        else:
            parts[-1].append(token)
    values = [_sum(part, sizes, names, depth + 1) for part in parts]
    kinds = {one.kind for one in values}
    if len(kinds) > 1 and not kinds <= {"length", "percentage", "mixed"}:
        raise NotANumber
    if len(kinds) > 1 or kinds == {"mixed"}:
        raise CannotTell(f"{name}() of percentages and lengths")

    def size(one: Amount) -> float:
        return one.px + one.percent + one.number

    if name == "clamp":
        if len(values) != 3:
            raise NotANumber
        return max(values[0], min(values[1], values[2], key=size), key=size)
    return (min if name == "min" else max)(values, key=size)


def _sum(tokens: Tokens, sizes: Sizes, names: dict[str, float], depth: int) -> Amount:
    """Read sums of products; white space stands around ``+`` and ``-``."""
    terms: list[tuple[float, list[Any]]] = [(1.0, [])]
    for token in _plain(tokens):
        if token.type == "literal" and token.value in "+-":
            terms.append((1.0 if token.value == "+" else -1.0, []))
        else:
            terms[-1][1].append(token)
    total: Amount | None = None
    for sign, term in terms:
        product = _product(term, sizes, names, depth).times(sign)
        total = product if total is None else total.plus(product)
    assert total is not None
    return total


def _product(tokens: list[Any], sizes: Sizes, names: dict[str, float], depth: int) -> Amount:
    if not tokens or len(tokens) % 2 == 0:
        raise NotANumber
    product = _value(tokens[0], sizes, names, depth)
    for sign, token in zip(tokens[1::2], tokens[2::2], strict=True):
        if sign.type != "literal" or sign.value not in "*/":
            raise NotANumber
        other = _value(token, sizes, names, depth)
        if sign.value == "/":
            if other.kind != "number" or other.number == 0:
                raise NotANumber
            product = product.times(1 / other.number)
        elif other.kind == "number":
            product = product.times(other.number)
        elif product.kind == "number":
            product = other.times(product.number)
        else:
            raise NotANumber
    return product
