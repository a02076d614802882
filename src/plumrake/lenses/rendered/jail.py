"""Starting the browser with as few rights as the machine allows.

A user who may nothing, a network in which there is nobody but the guard, a file system without the
service's files, an environment without its settings, limits of memory and processes, and Chromium's
own sandbox.
"""

from __future__ import annotations

import array
import asyncio
import os
import pwd
import shlex
import shutil
import socket
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from pathlib import Path

_USERS = ("plumrake-browser", "nobody")
_BINARIES = ("chromium-headless-shell", "chromium", "chromium-browser", "google-chrome")
_SECONDS = 20.0
NONE = "-"
"""Stands for a user or walls where there are none."""


@dataclass(frozen=True, slots=True)
class Kind:
    """How the browser is kept: the user it becomes, what builds the walls around it, whether its
    network is its own, whether Chromium's sandbox is on."""

    user: str
    walls: str
    has_own_network: bool
    has_sandbox: bool

    @property
    def notice(self) -> str:
        """A sentence on what is less safe than it could be, else ``""``."""
        missing = [
            says
            for holds, says in (
                (self.has_own_network, "it shares the machine's network"),
                (self.walls != NONE, "it sees the machine's files (Debian's 'bubblewrap' helps)"),
                (self.has_sandbox, "its own sandbox is off"),
                (self.user != NONE or os.geteuid() != 0, "it runs as root"),
            )
            if not holds
        ]
        return f"the browser is not fully kept apart: {'; '.join(missing)}" if missing else ""


class Jail:
    """Where one browser is started: the wrapper to start instead of it, in a folder that is the
    worker's alone. Use ``listener`` once for each start."""

    def __init__(self, binary: str) -> None:
        self.kind = kind_of(binary)
        self.folder = Path(tempfile.mkdtemp(prefix="plumrake-jail-"))
        self._control = self.folder / "control"
        self._server: socket.socket | None = None
        if self.kind.has_own_network:
            self._server = socket.socket(socket.AF_UNIX)
            self._server.bind(str(self._control))
            self._server.listen(1)
            self._server.setblocking(False)
        control = str(self._control) if self.kind.has_own_network else NONE
        wrapper = self.folder / "browser"
        words = [*_program(self.folder), control, self.kind.user, self.kind.walls, binary]
        wrapper.write_text(f'#!/bin/sh\nexec {shlex.join(words)} "$@"\n')
        wrapper.chmod(0o700)
        self.executable = str(wrapper)

    async def listener(self) -> socket.socket:
        """Return the socket on which the browser that is being started will look for its proxy.
        Raises ``TimeoutError``."""
        assert self._server is not None, "only a jail with a network of its own hands one out"
        loop = asyncio.get_running_loop()
        async with asyncio.timeout(_SECONDS):
            connection, _ = await loop.sock_accept(self._server)
            with connection:
                return await asyncio.to_thread(_handed, connection)

    def close(self) -> None:
        """Remove the folder."""
        if self._server is not None:
            self._server.close()
        shutil.rmtree(self.folder, ignore_errors=True)


def find_browser() -> str | None:
    """Return the path of the headless Chromium to use (``PLUMRAKE_BROWSER`` first), or None where
    there is none."""
    wanted = os.environ.get("PLUMRAKE_BROWSER")
    if wanted:
        return wanted if Path(wanted).is_file() else None
    return next((path for name in _BINARIES if (path := shutil.which(name))), None)


def _handed(connection: socket.socket) -> socket.socket:
    connection.settimeout(_SECONDS)
    _, ancillary, _, _ = connection.recvmsg(1, socket.CMSG_SPACE(array.array("i").itemsize))
    numbers = array.array("i")
    for _, _, data in ancillary:
        numbers.frombytes(data[: numbers.itemsize])
    listening = socket.socket(fileno=numbers[0])
    listening.setblocking(False)
    return listening


def _program(folder: Path) -> list[str]:
    """Return the words that start ``jailed.py`` from a folder of its own, with nothing of the
    service's environment or packages in it."""
    file = folder / "jailed.py"
    file.write_text(files(__package__).joinpath("jailed.py").read_text(encoding="utf-8"))
    return [sys.executable, "-I", "-S", str(file)]


@cache
def kind_of(binary: str) -> Kind:
    """Return the strictest kind that works on this machine, by trying."""
    user = _unprivileged_user() if os.geteuid() == 0 else NONE
    walls = shutil.which("bwrap") or NONE
    sandbox = _sandbox_works(user)
    for one in dict.fromkeys((walls, NONE)):
        for network in (True, False):
            if _works(user, one, own_network=network):
                return Kind(user, one, network, sandbox)
    return Kind(NONE, NONE, has_own_network=False, has_sandbox=False)


def _works(user: str, walls: str, *, own_network: bool) -> bool:
    with tempfile.TemporaryDirectory(prefix="plumrake-jail-") as name:
        folder = Path(name)
        with socket.socket(socket.AF_UNIX) as server:
            server.bind(str(folder / "control"))
            server.listen(1)
            control = str(folder / "control") if own_network else NONE
            return _runs([*_program(folder), control, user, walls, "/bin/true"])


def _sandbox_works(user: str) -> bool:
    """Tell whether the browser's user may make namespaces, which Chromium's sandbox is made of."""
    if user == NONE and os.geteuid() == 0:
        return False
    with tempfile.TemporaryDirectory(prefix="plumrake-jail-") as name:
        words = [*_program(Path(name)), NONE, user, NONE]
        return _runs([*words, shutil.which("unshare") or "unshare", "-U", "true"])


def _runs(words: Sequence[str]) -> bool:
    try:
        tried = subprocess.run(words, capture_output=True, check=False, cwd="/", timeout=_SECONDS)
    except (OSError, subprocess.TimeoutExpired):
        return False
    return tried.returncode == 0


def _unprivileged_user() -> str:
    if shutil.which("setpriv") is None:
        return NONE
    for name in _USERS:
        try:
            return pwd.getpwnam(name).pw_name
        except KeyError:
            continue
    return NONE
