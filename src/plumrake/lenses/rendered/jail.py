"""Running the browser as a user who may nothing, with its sandbox on, also where the service runs
as root."""

from __future__ import annotations

import os
import pwd
import shlex
import shutil
import subprocess
import tempfile
from dataclasses import dataclass
from pathlib import Path

_USERS = ("plumrake-browser", "nobody")
_BINARIES = ("chromium-headless-shell", "chromium", "chromium-browser", "google-chrome")

_WRAPPER = """#!/bin/sh
# Gives the browser's empty profile to {user} and starts the browser as that user.
# The debugging pipe is on fds 3 and 4: exec, no fork.
for word in "$@"; do
  case "$word" in --user-data-dir=*) chown -R {user} "${{word#--user-data-dir=}}" ;; esac
done
export HOME={home} XDG_CONFIG_HOME={home} XDG_CACHE_HOME={home} TMPDIR={home}
exec setpriv --reuid={uid} --regid={gid} --clear-groups --inh-caps=-all --no-new-privs \\
  -- {binary} "$@"
"""


@dataclass(frozen=True, slots=True)
class Launch:
    """What to start: the executable, whether Chromium's sandbox is on, the folder to remove
    afterwards, a notice or ``""``."""

    executable: str
    sandbox: bool
    folder: Path
    notice: str


def find_browser() -> str | None:
    """Return the path of the headless Chromium to use (``PLUMRAKE_BROWSER`` first), or None where
    there is none."""
    wanted = os.environ.get("PLUMRAKE_BROWSER")
    if wanted:
        return wanted if Path(wanted).is_file() else None
    return next((path for name in _BINARIES if (path := shutil.which(name))), None)


def prepare_launch(binary: str) -> Launch:
    """Return how to start ``binary`` with the fewest rights that this machine allows."""
    folder = Path(tempfile.mkdtemp(prefix="plumrake-browser-"))
    if os.geteuid() != 0:
        sandbox = _namespaces_work([])
        return Launch(binary, sandbox, folder, "" if sandbox else _NO_SANDBOX)
    user = _unprivileged_user()
    if user is None or shutil.which("setpriv") is None:
        return Launch(binary, False, folder, _NO_SANDBOX)
    home = folder / "home"
    home.mkdir()
    os.chown(folder, user.pw_uid, user.pw_gid)
    os.chown(home, user.pw_uid, user.pw_gid)
    wrapper = folder / "browser"
    wrapper.write_text(
        _WRAPPER.format(
            user=user.pw_name,
            uid=user.pw_uid,
            gid=user.pw_gid,
            home=shlex.quote(str(home)),
            binary=shlex.quote(binary),
        )
    )
    wrapper.chmod(0o755)
    drop = ["setpriv", f"--reuid={user.pw_uid}", f"--regid={user.pw_gid}", "--clear-groups", "--"]
    sandbox = _namespaces_work(drop)
    return Launch(str(wrapper), sandbox, folder, "" if sandbox else _NO_SANDBOX)


_NO_SANDBOX = (
    "the browser runs without its own sandbox: this machine allows no unprivileged user namespaces"
)


def _unprivileged_user() -> pwd.struct_passwd | None:
    for name in _USERS:
        try:
            return pwd.getpwnam(name)
        except KeyError:
            continue
    return None


def _namespaces_work(prefix: list[str]) -> bool:
    unshare = shutil.which("unshare")
    if unshare is None:
        return False
    return (
        subprocess.run(
            [*prefix, unshare, "-U", "true"], capture_output=True, check=False, cwd="/"
        ).returncode
        == 0
    )
