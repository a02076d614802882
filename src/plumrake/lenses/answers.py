"""What a process that computes over a stranger's page may answer: data, and nothing that would be
done on taking it in.

A pickle may name whatever function it likes, to be called by who reads it. Should a page ever get
the better of the process that reads it, it is to get no further.
"""

from __future__ import annotations

import dataclasses
import io
import pickle
import pkgutil
from enum import Enum, Flag
from functools import lru_cache
from typing import Any

_OWN = "plumrake."
_PLAIN = frozenset(
    (
        "collections.Counter datetime.date datetime.datetime datetime.timezone datetime.timedelta"
    ).split()
)
"""What has no sign of its own in a pickle, as numbers, texts, lists and sets have."""


class UnknownKind(Exception):
    """An answer holds something that is no data of ours; the message says what."""


class _Answer(pickle.Unpickler):
    def find_class(self, module: str, name: str) -> Any:
        return _kind(module, name)


def _member(kind: Any, name: str) -> Enum:
    if not (_is_record(kind) and issubclass(kind, Enum)):
        raise UnknownKind("builtins.getattr")
    member: Enum = kind[name]
    return member


def _both(one: Any, other: Any) -> Any:
    if not (isinstance(one, Flag) and isinstance(other, Flag)):
        raise UnknownKind("operator.or_")
    return one | other


_OF_MEMBERS = {"builtins.getattr": _member, "_operator.or_": _both}
"""What Python 3.11 writes of enumerations before 3.11.4, and of flags: done for those alone."""


def _is_record(found: Any) -> bool:
    return (
        isinstance(found, type)
        and found.__module__.startswith(_OWN)
        and (dataclasses.is_dataclass(found) or issubclass(found, tuple | Enum))
    )


@lru_cache(512)
def _kind(module: str, name: str) -> Any:
    if (of_members := _OF_MEMBERS.get(f"{module}.{name}")) is not None:
        return of_members
    is_plain, is_own = f"{module}.{name}" in _PLAIN, module.startswith(_OWN)
    found = pkgutil.resolve_name(f"{module}:{name}") if is_plain or is_own else None
    if not is_plain and not _is_record(found):
        raise UnknownKind(f"{module}.{name}")
    return found


def loads(answer: bytes) -> Any:
    """Return the data that an answer is: plain values, and our own records and enumerations. Raises
    ``UnknownKind`` for anything else."""
    try:
        return _Answer(io.BytesIO(answer)).load()
    except UnknownKind:
        raise
    except Exception as error:  # whatever a broken pickle makes the library raise
        raise UnknownKind(f"no answer: {type(error).__name__}") from None
