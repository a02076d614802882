"""What attrs compiled for the protocol's classes is kept between starts, and never trusted to be
there."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

_START = """
import builtins
import attr  # whose own few classes are made before anything can be kept
compiled = []
real = builtins.compile
def counted(source, filename, *rest, **named):
    if str(filename).startswith("<attrs generated"):
        compiled.append(filename)
    return real(source, filename, *rest, **named)
builtins.compile = counted
from plumrake.lsp.kept_code import code_is_kept
with code_is_kept():
    from lsprotocol import types
assert types.Position(1, 2) == types.Position(1, 2)
assert types.Position(1, 2) < types.Position(1, 3)
print(len(compiled))
"""


def _compiled(prefix: Path, **environment: str) -> int:
    """Return how many methods a start compiles, with Python's caches below a directory."""
    names = {**os.environ, "PYTHONPYCACHEPREFIX": str(prefix), **environment}
    if not environment:
        names.pop("PYTHONDONTWRITEBYTECODE", None)
    ran = subprocess.run(
        [sys.executable, "-c", _START], env=names, capture_output=True, text=True, check=True
    )
    return int(ran.stdout)


@pytest.fixture
def kept(tmp_path: Path) -> Path:
    """The file of a start that compiled everything."""
    assert _compiled(tmp_path) > 300
    (place,) = tmp_path.rglob("*.attrs")
    return place


def test_second_start_compiles_nothing_of_it(tmp_path: Path, kept: Path) -> None:
    assert _compiled(tmp_path) == 0
    assert oct(kept.stat().st_mode & 0o777) == "0o644"
    assert [path.name for path in kept.parent.iterdir() if kept.name in path.name] == [kept.name]


@pytest.mark.parametrize("spoilt", [b"", b"nonsense", b"cut"])
def test_what_was_kept_badly_is_made_anew(tmp_path: Path, kept: Path, spoilt: bytes) -> None:
    whole = kept.read_bytes()
    kept.write_bytes(whole[: len(whole) // 2] if spoilt == b"cut" else spoilt)
    assert _compiled(tmp_path) > 300
    assert _compiled(tmp_path) == 0


def test_nothing_is_written_where_python_may_not_write(tmp_path: Path) -> None:
    assert _compiled(tmp_path, PYTHONDONTWRITEBYTECODE="1") > 300
    assert not list(tmp_path.rglob("*.attrs"))
