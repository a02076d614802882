"""What is asked of pages in tests: the policy of ``plumrake.toml``, with what tests say over
it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from pathlib import Path
from typing import Any, TypeVar

from plumrake.core.policy import BadPolicy, Policy
from plumrake.policy_files import nearest_policy_file, policy_in

Value = TypeVar("Value")


@dataclass(frozen=True, slots=True)
class Settings:
    """What is said over the policy: ``scope`` and ``leave_out`` are CSS selectors, ``without`` the
    checks or areas that are off, each with the reason; ``wait_for`` is a selector that has to be
    there within ``seconds``. What is None or empty says nothing."""

    level: str | None = None
    standard: str | None = None
    hold: str | None = None
    scope: Sequence[str] | str = ()
    leave_out: Sequence[str] | str = ()
    without: Mapping[str, str] = field(default_factory=dict)
    wait_for: str | None = None
    seconds: float = 10.0

    def over(self, **said: Any) -> Settings:
        """Return the settings with what was ``said`` over them; checks that are off stay off.
        Raises ``TypeError`` for what is no setting."""
        known = {one.name for one in fields(self)}
        for name in said:
            if name not in known:
                raise TypeError(f"'{name}' is no setting; there are {', '.join(sorted(known))}")
        told = {name: value for name, value in said.items() if value}
        return replace(self, **{**told, "without": {**self.without, **told.get("without", {})}})

    def policy(self, base: Policy) -> Policy:
        """Return the policy that comes of a ``base``. Raises ``BadPolicy``."""
        for check, reason in self.without.items():
            if not str(reason).strip():
                raise BadPolicy(f"say why '{check}' is off: without={{'{check}': 'the reason'}}")
        said = {
            "level": self.level,
            "standard": self.standard,
            "hold": self.hold,
            "scope": _several(self.scope),
            "leave_out": (*base.leave_out, *_several(self.leave_out)) if self.leave_out else None,
            "without": (*base.without, *self.without) if self.without else None,
        }
        return base.changed(**{name: value for name, value in said.items() if value})


def _several(given: Sequence[str] | str) -> tuple[str, ...]:
    return (given,) if isinstance(given, str) else tuple(given)


def policy_of(file: Path | None, folder: Path) -> Policy:
    """Return the policy of a file, or of the nearest ``plumrake.toml`` in a folder or above it;
    the default where there is none. Raises ``BadPolicy``."""
    place = file or nearest_policy_file(folder)
    return policy_in(place) if place is not None else Policy()
