"""The code of the protocol's classes, kept between starts.

lsprotocol has hundreds of attrs classes, and attrs writes and compiles the methods of each at every
start: a fifth of what a start takes. Python itself keeps what it compiled beside the source; so
does this, in the same directory, under the same rules (``PYTHONDONTWRITEBYTECODE``,
``PYTHONPYCACHEPREFIX``, a directory that cannot be written to) and with the same trust.
"""

from __future__ import annotations

import contextlib
import gc
import importlib.util
import marshal
import os
import sys
import tempfile
from collections.abc import Iterator
from hashlib import blake2b
from pathlib import Path
from types import CodeType

_OF = "lsprotocol"


@contextlib.contextmanager
def code_is_kept() -> Iterator[None]:
    """Take what attrs would compile from what was kept, while the protocol's classes are loaded.

    What was not kept is compiled and kept. The garbage collector rests meanwhile: what is loaded
    stays.
    """
    import attr._make as makes

    place = _place()
    kept = _read(place)
    compiled: dict[bytes, bytes] = {}

    def from_kept(source: str, filename: str, mode: str) -> CodeType:
        key = blake2b(f"{mode}\0{filename}\0{source}".encode(), digest_size=16).digest()
        code = kept.get(key)
        if code is not None:
            return marshal.loads(code)  # type: ignore[no-any-return]  # noqa: S302
        fresh: CodeType = compile(source, filename, mode)
        compiled[key] = marshal.dumps(fresh)
        return fresh

    # attrs compiles in one place, by the builtin's name.
    makes.compile = from_kept  # type: ignore[attr-defined]
    was_enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        del makes.compile  # type: ignore[attr-defined]
        if was_enabled:
            gc.enable()
    if compiled and place is not None and not sys.dont_write_bytecode:
        _write(place, kept | compiled)


def _place() -> Path | None:
    """Return where the code is kept: beside the compiled source of the protocol's package."""
    spec = importlib.util.find_spec(_OF)
    if spec is None or spec.origin is None:
        return None
    try:
        beside = Path(importlib.util.cache_from_source(spec.origin))
    except NotImplementedError:
        return None
    return beside.with_suffix(".attrs")


def _read(place: Path | None) -> dict[bytes, bytes]:
    """Return the code that was kept by this Python, by the hash of its source."""
    if place is None:
        return {}
    try:
        written = place.read_bytes()
        if not written.startswith(importlib.util.MAGIC_NUMBER):
            return {}
        kept = marshal.loads(memoryview(written)[len(importlib.util.MAGIC_NUMBER) :])  # noqa: S302
    except (OSError, ValueError, EOFError, TypeError):
        return {}
    return kept if isinstance(kept, dict) else {}


def _write(place: Path, kept: dict[bytes, bytes]) -> None:
    """Keep code, whole or not at all: others may be starting at the same time."""
    with contextlib.suppress(OSError):
        descriptor, name = tempfile.mkstemp(dir=place.parent, prefix=place.name)
        try:
            with os.fdopen(descriptor, "wb") as file:
                os.fchmod(descriptor, 0o644)  # as Python does with what it compiled
                file.write(importlib.util.MAGIC_NUMBER + marshal.dumps(kept))
            Path(name).replace(place)
        except OSError:
            Path(name).unlink(missing_ok=True)
            raise
