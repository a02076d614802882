"""What a robots.txt allows (RFC 9309), and the sitemaps that it names.

Its text and its patterns are a stranger's: each line is looked at once, up to a stated length, and
matching never goes back.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from plumrake.core.addresses import resolved
from plumrake.path_patterns import MOST_LETTERS, MOST_STARS, matches

ROBOT = "plumrake"
"""The product token that rules for us are written under (RFC 9309, 2.2.1), in small letters."""
MOST_BYTES = 512_000
"""So much of a robots.txt is read (RFC 9309, 2.5)."""
_MOST_RULES = 1_000
_ANYWHERE = "http://robots.invalid"


@dataclass(frozen=True, slots=True)
class Rule:
    """A pattern of paths, in which ``*`` stands for anything, and whether they may be read."""

    pattern: str
    allows: bool


class Robots:
    """The rules of one robots.txt for our robot; those for every robot where it has none for us."""

    def __init__(self, text: str) -> None:
        self.sitemaps: list[str] = []
        ours: list[Rule] = []
        everybodys: list[Rule] = []
        has_ours = False
        names: list[str] = []
        begins = True
        for name, value in _fields(text):
            if name == "sitemap":
                self.sitemaps.append(value)
            elif name == "user-agent":
                names = [*names, value.lower()] if begins else [value.lower()]
                begins = True
                has_ours = has_ours or ROBOT in map(_token, names)
            elif name in ("allow", "disallow"):
                begins = False
                if (rule := _rule(value, allows=name == "allow")) is not None:
                    if ROBOT in map(_token, names):
                        ours.append(rule)
                    if "*" in names:
                        everybodys.append(rule)
        self._rules = (ours if has_ours else everybodys)[:_MOST_RULES]

    def allows(self, path: str) -> bool:
        """Tell whether a path, with its query, may be read: the longest pattern that matches
        decides, and of two as long the one that allows (RFC 9309, 2.2.2)."""
        plain = _plain(path)
        found = [rule for rule in self._rules if matches(rule.pattern, plain)]
        best = max(found, key=lambda rule: (len(rule.pattern), rule.allows), default=None)
        return best is None or best.allows


def _fields(text: str) -> Iterator[tuple[str, str]]:
    for line in text.removeprefix("\ufeff").splitlines():
        name, colon, value = line.partition("#")[0].partition(":")
        if colon:
            yield name.strip().lower(), value.strip()


def _token(name: str) -> str:
    """Return the product token of a robot's name, without version and comment."""
    return name.partition("/")[0].partition(" ")[0]


def _rule(written: str, *, allows: bool) -> Rule | None:
    """Return a rule; None for an empty one, which says nothing, and for what is no pattern."""
    pattern = "*".join(_star_pieces(written if written.startswith("/") else f"/{written}"))
    if not written or len(pattern) > MOST_LETTERS or pattern.count("*") > MOST_STARS:
        return None
    pattern = _plain(pattern)
    return Rule(pattern[:-1] if pattern.endswith("$") else f"{pattern}*", allows)


def _star_pieces(written: str) -> list[str]:
    """Return what stands between stars; several stars in a row are one."""
    pieces = written.split("*")
    inner = [piece for piece in pieces[1:-1] if piece]
    return [pieces[0], *inner, pieces[-1]] if len(pieces) > 1 else pieces


def _plain(path: str) -> str:
    """Return a path as it is compared: what need not be escaped is not (RFC 9309, 2.2.2)."""
    whole = resolved(_ANYWHERE, _ANYWHERE + path)
    return whole.removeprefix(_ANYWHERE) if whole is not None else path
