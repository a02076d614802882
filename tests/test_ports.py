"""Ports for whatever is started on loopback."""

from __future__ import annotations

import random
import socket

from plumrake.demo.ports import free_port


def chosen() -> list[int]:
    """Return the ports that a process whose chance begins in one way finds free."""
    random.seed(1)
    return [free_port() for _ in range(3)]


def test_processes_that_begin_alike_do_not_choose_alike() -> None:
    """Each process of a test run has the same seed; two services on one port are none."""
    assert chosen() != chosen()


def test_nobody_listens_there() -> None:
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", free_port()))
        listener.listen()
        assert free_port() != listener.getsockname()[1]
