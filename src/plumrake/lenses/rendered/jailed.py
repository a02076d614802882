"""What the browser's wrapper runs before it becomes the browser: a program of its own, with nothing
but Python's standard library. ``jail.py`` writes the wrapper, and the words that it is called with.

It takes the network away but for one listening socket, which is handed to the worker: who connects
to it from inside talks to the guard. It sets limits, gives up its user, and shows the browser a
file system of programs and fonts, an empty ``/tmp`` and its profile.
"""

import array
import ctypes
import fcntl
import os
import pwd
import resource
import socket
import struct
import sys
from pathlib import Path

PORT = 3128
"""Where the guard listens inside the jail, whose network is its own."""
_NEW_USER, _NEW_NETWORK = 0x10000000, 0x40000000
_SET_FLAGS, _UP_AND_RUNNING = 0x8914, 0x41
_LIMITS = {
    resource.RLIMIT_CORE: 0,
    resource.RLIMIT_DATA: 4 * 2**30,  # of each process
    resource.RLIMIT_FSIZE: 2**29,
    resource.RLIMIT_NPROC: 4096,  # of the user, threads counted
}
_SHOWN = (
    "/usr",
    "/opt",
    "/etc/alternatives",
    "/etc/chromium",
    "/etc/chromium.d",
    "/etc/fonts",
    "/etc/group",
    "/etc/ld.so.cache",
    "/etc/localtime",
    "/etc/nsswitch.conf",
    "/etc/passwd",
    "/etc/ssl",
    "/var/cache/fontconfig",
)
_MAY_BE_LINKS = ("/bin", "/sbin", "/lib", "/lib64")
_TEMPORARY = "/tmp"  # noqa: S108 - the jail's own, empty
_ENVIRONMENT = {"PATH": "/usr/bin:/bin", "HOME": _TEMPORARY, "LANG": "C.UTF-8"}


def main(control: str, user: str, walls: str, binary: str, *arguments: str) -> None:
    """Become the browser. ``control`` is the worker's socket, or ``-`` to keep the network;
    ``user`` the one to become, or ``-``; ``walls`` is ``bwrap``, or ``-`` for none."""
    profile = next(
        (word.partition("=")[2] for word in arguments if word.startswith("--user-data-dir=")), ""
    )
    if control != "-":
        _leave_network(control)
    for limit, most in _LIMITS.items():
        _, hard = resource.getrlimit(limit)
        least = most if hard == resource.RLIM_INFINITY else min(most, hard)
        resource.setrlimit(limit, (least, least))
    command = [binary, *arguments]
    if user != "-":
        account = pwd.getpwnam(user)
        if profile:
            os.chown(profile, account.pw_uid, account.pw_gid)
        command = [
            *("setpriv", f"--reuid={account.pw_uid}", f"--regid={account.pw_gid}"),
            *("--clear-groups", "--inh-caps=-all", "--no-new-privs", "--", *command),
        ]
    if walls != "-":
        command = [walls, *_walls(profile, binary), "--", *command]
    environment = _ENVIRONMENT if walls != "-" or not profile else {**_ENVIRONMENT, "HOME": profile}
    os.execvpe(command[0], command, environment)  # noqa: S606 - it is to become the browser


def _leave_network(control: str) -> None:
    flags, uid, gid = _NEW_NETWORK, os.getuid(), os.getgid()
    if os.geteuid() != 0:
        flags |= _NEW_USER
    libc = ctypes.CDLL(None, use_errno=True)
    if libc.unshare(flags) != 0:
        raise OSError(ctypes.get_errno(), "this machine lets nobody have a network of their own")
    if flags & _NEW_USER:
        Path("/proc/self/setgroups").write_text("deny")
        Path("/proc/self/uid_map").write_text(f"{uid} {uid} 1")
        Path("/proc/self/gid_map").write_text(f"{gid} {gid} 1")
    with socket.socket() as any_socket:
        fcntl.ioctl(any_socket, _SET_FLAGS, struct.pack("16sh14x", b"lo", _UP_AND_RUNNING))
    with socket.socket() as listening, socket.socket(socket.AF_UNIX) as worker:
        listening.bind(("127.0.0.1", PORT))
        listening.listen(128)
        worker.connect(control)
        handed = array.array("i", [listening.fileno()])
        worker.sendmsg([b"!"], [(socket.SOL_SOCKET, socket.SCM_RIGHTS, handed)])


def _walls(profile: str, binary: str) -> list[str]:
    words = ["--unshare-pid", "--unshare-ipc", "--unshare-uts"]
    words += ["--die-with-parent", "--new-session"]
    for folder in ("/etc", "/var", "/var/cache"):  # made by root, to be passed through by another
        words += ["--perms", "0755", "--dir", folder]
    for place in _SHOWN:
        words += ["--ro-bind-try", place, place]
    for name in _MAY_BE_LINKS:
        if Path(name).is_symlink():
            words += ["--symlink", str(Path(name).readlink()), name]
        elif Path(name).exists():
            words += ["--ro-bind", name, name]
    if not binary.startswith(("/usr/", "/opt/", "/bin/")):
        folder = str(Path(binary).resolve().parent)
        words += ["--ro-bind", folder, folder]
    words += ["--proc", "/proc", "--dev", "/dev", "--perms", "1777", "--tmpfs", _TEMPORARY]
    return [*words, *(["--bind", profile, profile] if profile else []), "--chdir", "/"]


if __name__ == "__main__":
    main(*sys.argv[1:])
