"""Giving up root: a worker reads what strangers send, and nothing it does needs root."""

from __future__ import annotations

import os
import pwd
import subprocess
import sys

from plumrake.lenses.rendered.jail import find_browser, kind_of

USER = "plumrake-worker"
_SECONDS = 60.0
_TRIAL = "import sys; from plumrake.jobs.privileges import can_work; sys.exit(not can_work())"


def give_up_root() -> str:
    """Become the user ``plumrake-worker`` where this process is root; call it before threads and
    processes are started. Return a sentence on why it stays root, else ``""``."""
    if os.geteuid() != 0:
        return ""
    try:
        account = pwd.getpwnam(USER)
    except KeyError:
        return f"the worker is root: there is no user '{USER}' that it could become"
    if not _can_work_as(account):
        return (
            f"the worker is root: the user '{USER}' cannot run {sys.executable}, or cannot keep "
            "the browser apart on this machine"
        )
    os.setgroups([])
    os.setgid(account.pw_gid)
    os.setuid(account.pw_uid)
    os.environ.update(_of(account))
    return ""


def can_work() -> bool:
    """Tell whether the browser, where there is one, is kept apart as well as can be."""
    browser = find_browser()
    return browser is None or not kind_of(browser).notice


def _can_work_as(account: pwd.struct_passwd) -> bool:
    try:
        tried = subprocess.run(
            [sys.executable, "-c", _TRIAL],
            user=account.pw_uid,
            group=account.pw_gid,
            extra_groups=[],
            env=os.environ | _of(account),
            cwd="/",
            capture_output=True,
            check=False,
            timeout=_SECONDS,
        )
    except (OSError, subprocess.TimeoutExpired):
        return False
    return tried.returncode == 0


def _of(account: pwd.struct_passwd) -> dict[str, str]:
    return {"HOME": "/nonexistent", "USER": account.pw_name, "LOGNAME": account.pw_name}
