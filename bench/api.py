"""The whole API asked with what its own document allows and with what it does not, for long: no
answer is an error of the service, and each is one that the document tells of.

``python -m bench.api [MINUTES]`` (default: 60). Rounds of 25 requests of each operation, each round
other ones, until the time is over; what was found is told after each. Exit status: 1 where
something was.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time

_EXAMPLES = 25


def main(minutes: float = 60) -> None:
    """Ask in rounds and print what each found."""
    end = time.monotonic() + minutes * 60
    rounds = failed = 0
    while time.monotonic() < end:
        words = ["-n", "2", "-q", "--tb=short", "--no-header", "tests/service/test_schema.py"]
        done = subprocess.run(
            [sys.executable, "-m", "pytest", *words],
            env={**os.environ, "PLUMRAKE_SCHEMA_EXAMPLES": str(_EXAMPLES)},
            check=False,
        )
        rounds += 1
        failed += done.returncode != 0
        print(f"round {rounds}: {'something was found' if done.returncode else 'nothing'}")
    print(f"{rounds} rounds of {_EXAMPLES} requests of each operation, {failed} found something")
    sys.exit(bool(failed))


if __name__ == "__main__":
    main(*map(float, sys.argv[1:]))
