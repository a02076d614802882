"""Writing files whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


def write_whole(path: Path, body: bytes) -> None:
    """Write a file so that it is there whole, old or new, at any moment, with the permissions that
    it has. Raises ``OSError``."""
    path = path.resolve()
    if not os.access(path, os.W_OK):
        raise PermissionError(13, "Permission denied")
    mode = path.stat().st_mode
    number, name = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
    try:
        with os.fdopen(number, "wb") as new:
            new.write(body)
            new.flush()
            os.fsync(new.fileno())
        Path(name).chmod(mode & 0o7777)
        if os.geteuid() == 0:
            os.chown(name, path.stat().st_uid, path.stat().st_gid)
        Path(name).replace(path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
