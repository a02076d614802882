"""The whole API asked with what its own document allows and with what it does not, for long: no
answer is an error of the service, and each is one that the document tells of.

``python -m bench.api [EXAMPLES]`` (default: 400 of each operation, about an hour).
"""

from __future__ import annotations

import os
import subprocess
import sys

_EXAMPLES = 400


def main(examples: int = _EXAMPLES) -> None:
    """Run the test of the schema with so many examples; it prints what it found."""
    words = ["-n", "2", "-q", "--tb=short", "--no-header", "tests/service/test_schema.py"]
    subprocess.run(
        [sys.executable, "-m", "pytest", *words],
        env={**os.environ, "PLUMRAKE_SCHEMA_EXAMPLES": str(examples)},
        check=False,
    )


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
