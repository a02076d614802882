"""Hostile and half-typed texts for the language server, for ten minutes: nothing may crash or hang.

``python -m bench.half_typed [SECONDS]``: prefixes and mixtures of what the checks are tried on, in
every writing; the server is the real one. Says how many texts were told of, the slowest answer, and
its memory.
"""

from __future__ import annotations

import asyncio
import random
import re
import sys
import time
from pathlib import Path
from typing import get_args

import psutil

import plumrake.core.checks
from bench.lsp import started_server
from plumrake.core.templates.kinds import Writing

LANGUAGES: dict[Writing, str] = {
    "html": "html",
    "markdown": "markdown",
    "engine": "jinja",
    "vue": "vue",
    "svelte": "svelte",
    "jsx": "typescriptreact",
}
MARKS = ["{{ a }}", "{% if a %}", "{a}", "{...b}", "<A />", "<!--", "`", '"', "'", "<", "{", "}"]


def texts(chance: random.Random) -> list[str]:
    """Return the texts that prefixes are made of."""
    folder = Path(plumrake.core.checks.__file__).parent
    cases = [file.read_text(encoding="utf-8") for file in sorted(folder.glob("*/*.cases.html"))]
    parts = [part for case in cases for part in re.split(r"<!-- case: [^>]*-->", case)]
    chance.shuffle(parts)
    return parts


def typed(parts: list[str], chance: random.Random) -> str:
    """Return a text as somebody might have typed it by now."""
    text = "".join(chance.choices(parts, k=chance.choice((1, 1, 1, 3, 20))))
    for _ in range(chance.choice((0, 0, 1, 5))):
        at = chance.randrange(len(text) + 1)
        text = text[:at] + chance.choice(MARKS) + text[at:]
    if chance.random() < 0.005:
        text += "<p>" + "x " * 2_500_000
    return text[: chance.randrange(len(text) + 1)]


async def measure(seconds: float) -> None:
    """Type for so long; print what came of it."""
    assert set(LANGUAGES) == set(get_args(Writing))
    chance = random.Random(int(time.time()))
    parts = texts(chance)
    process, editor = await started_server()
    slowest, count, longest = 0.0, 0, 0
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        count += 1
        uri, text = f"file:///bench/{count}", typed(parts, chance)
        language = chance.choice([*LANGUAGES.values()])
        document = {"uri": uri, "languageId": language, "version": count, "text": text}
        begun = time.perf_counter()
        editor.send("textDocument/didOpen", {"textDocument": document})
        took = await editor.told(count) - begun
        if took > slowest:
            slowest, longest = took, len(text)
        editor.send("textDocument/didClose", {"textDocument": {"uri": uri}})
    memory = psutil.Process(process.pid).memory_info().rss / 2**20
    print(f"  {count:,} texts in {seconds:.0f} s, memory {memory:.0f} MiB")
    print(f"  the slowest took {slowest:.2f} s, for {longest:,} characters")
    process.terminate()
    await process.wait()


if __name__ == "__main__":
    asyncio.run(measure(float(sys.argv[1]) if len(sys.argv) > 1 else 600))
