"""Make the synchronous client from the asynchronous one.

``--check`` only tells whether it is up to date.
"""

import re
import sys
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "src/plumrake/client"
TITLE = (
    '"""The synchronous client, made by ``scripts/make_sync_client.py`` from ``_async.py``; '
    'do not edit."""'
)
WORDS = [
    (
        r"\bAsync(?!Iterator|Generator|Base|Iterable|Callable|Context)([A-Z]\w+)\b",
        r"\1",
    ),
    (r"\bAsyncIterator\b", "Iterator"),
    (r"\basync (def|with|for) ", r"\1 "),
    (r"\bawait ", ""),
    (r"asyncio\.sleep", "time.sleep"),
    (r"^import asyncio$", "import time"),
    (r"__aenter__", "__enter__"),
    (r"__aexit__", "__exit__"),
    (r"\baclose\b", "close"),
    (r"\baread\b", "read"),
    (r"\baiter_lines\b", "iter_lines"),
    (r"\baiter_bytes\b", "iter_bytes"),
]


def made() -> str:
    """Return the synchronous client's source."""
    _, _, text = (FOLDER / "_async.py").read_text().partition("\n")
    for pattern, replacement in WORDS:
        text = re.sub(pattern, replacement, text, flags=re.MULTILINE)
    return f"{TITLE}\n{text}"


if __name__ == "__main__":
    target = FOLDER / "_sync.py"
    if "--check" in sys.argv:
        sys.exit(
            0
            if target.read_text() == made()
            else "src/plumrake/client/_sync.py is out of date: run scripts/make_sync_client.py"
        )
    target.write_text(made())
