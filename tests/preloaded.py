"""Services and workers of the tests, forked from a process that has all of Plum Rake loaded: half
of what starting one costs is loading it, and a whole run starts more than a hundred.

Each is a process of its own with its own environment, session and log, as if it had been started by
the command; only what is loaded before the fork is shared. ``tests/test_wheel.py`` starts the
command itself.
"""

from __future__ import annotations

import contextlib
import json
import os
import signal
import subprocess
import sys
import threading
import time
import traceback
import types
from collections.abc import Mapping
from dataclasses import dataclass, field
from importlib import import_module
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
_EVERY_SECONDS = 0.05


@dataclass
class Started:
    """A process that was forked, as ``subprocess.Popen`` shows one."""

    pid: int
    args: list[str]
    _by: Preloaded
    returncode: int | None = None

    def poll(self) -> int | None:
        """Return its exit status, None while it runs; less than 0 is the signal that ended it."""
        if self.returncode is None:
            self.returncode = self._by.ask({"status_of": self.pid})
        return self.returncode

    def wait(self, timeout: float | None = None) -> int:
        """Wait for its end. Raises ``subprocess.TimeoutExpired``."""
        end = time.monotonic() + timeout if timeout is not None else None
        while (status := self.poll()) is None:
            if end is not None and time.monotonic() > end:
                raise subprocess.TimeoutExpired(self.args, timeout or 0.0)
            time.sleep(_EVERY_SECONDS)
        return status

    def send_signal(self, number: int) -> None:
        """Send it a signal, unless it has ended."""
        if self.poll() is None:
            os.kill(self.pid, number)

    def terminate(self) -> None:
        """Ask it to end."""
        self.send_signal(signal.SIGTERM)

    def kill(self) -> None:
        """End it at once."""
        self.send_signal(signal.SIGKILL)


@dataclass
class Preloaded:
    """The process that is forked from. It ends with who started it."""

    _turn: threading.Lock = field(default_factory=threading.Lock)
    _process: subprocess.Popen[str] | None = None

    def start(self, part: str, environment: Mapping[str, str], log: Path) -> Started:
        """Start ``serve`` or ``worker``; what it says goes to the end of a log."""
        asked = {"start": part, "environment": dict(environment), "log": str(log)}
        return Started(self.ask(asked), ["plumrake", part], self)

    def ask(self, question: dict[str, Any]) -> Any:
        """Return what the process answers."""
        with self._turn:
            if self._process is None:
                self._process = subprocess.Popen(
                    [sys.executable, "-m", "tests.preloaded"],
                    cwd=ROOT,
                    stdin=subprocess.PIPE,
                    stdout=subprocess.PIPE,
                    text=True,
                )
            assert self._process.stdin is not None
            assert self._process.stdout is not None
            self._process.stdin.write(json.dumps(question) + "\n")
            self._process.stdin.flush()
            return json.loads(self._process.stdout.readline())


preloaded = Preloaded()


def _answer_all() -> None:
    """Fork, and tell how those ended that were forked, until nobody asks any more."""
    for module in ("uvicorn", "plumrake.service.app", "plumrake.jobs.worker"):
        import_module(module)
    assert threading.active_count() == 1, "what has threads cannot be forked"
    ended: dict[int, int] = {}
    for line in sys.stdin:
        asked = json.loads(line)
        if "start" in asked:
            answer: int | None = os.fork()
            if answer == 0:
                _be(asked["start"], asked["environment"], asked["log"])
        else:
            with contextlib.suppress(ChildProcessError):
                while (found := os.waitpid(-1, os.WNOHANG))[0]:
                    ended[found[0]] = os.waitstatus_to_exitcode(found[1])
            answer = ended.get(asked["status_of"])
        sys.stdout.write(f"{json.dumps(answer)}\n")
        sys.stdout.flush()


def _be(part: str, environment: dict[str, str], log: str) -> None:
    """Become a service or a worker; never return."""
    from multiprocessing import util

    from plumrake.cli.main import main

    status: int | str | None = 1
    try:
        os.setsid()
        nothing, end = os.open(os.devnull, os.O_RDONLY), os.open(log, os.O_WRONLY | os.O_APPEND)
        for old, new in ((nothing, 0), (end, 1), (end, 2)):
            os.dup2(old, new)
        os.environ.clear()
        os.environ.update(environment)
        sys.argv = ["plumrake", part]
        sys.modules["__main__"] = types.ModuleType("__main__")
        main()
    except SystemExit as end_of_it:
        status = end_of_it.code
    except BaseException:
        traceback.print_exc()
    with contextlib.suppress(Exception):
        util._exit_function()  # type: ignore[attr-defined]  # as ``multiprocessing`` ends a process that it has forked
        sys.stdout.flush()
        sys.stderr.flush()
    os._exit(status if isinstance(status, int) else int(status is not None))


if __name__ == "__main__":
    _answer_all()
