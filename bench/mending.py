"""How long a mend takes from the answer to its effect: planned, carried out, the page read again
and compared.

``python -m bench.mending [PAGES]``: the first mend of up to so many pages of the demo site that
needs no text of a person's, by both lenses; beside it the bare reading of the same page.
"""

from __future__ import annotations

import asyncio
import statistics
import sys
import tempfile
import time
from pathlib import Path

from plumrake.actions.look import LookSettings, resolve_targets
from plumrake.actions.mended_files import MendedFile
from plumrake.actions.mending import MendingSession, mending
from plumrake.core.findings import Finding, Mend
from plumrake.core.mending.source_page import CannotMend
from plumrake.demo.site import write_environment

_PAGES = 24


def main() -> None:
    """Print the median and the slowest for each lens."""
    most = int(sys.argv[1]) if len(sys.argv) > 1 else _PAGES
    for lens in ("markup", "rendered"):
        with tempfile.TemporaryDirectory(prefix="plr-mend-") as folder:
            write_environment("live", Path(folder), "")
            asyncio.run(_measure(lens, folder, most))


async def _measure(lens: str, folder: str, most: int) -> None:
    spent: list[float] = []
    bare: list[float] = []
    async with mending(resolve_targets([folder]), LookSettings(lens)) as session:
        for file in session.files:
            if len(spent) >= most:
                break
            for finding in session.findings_of(file):
                mend = next(
                    (one for one in map(Mend.of, finding.mends) if not one.asks and one.to), None
                )
                if mend is not None and await _taken(session, file, finding, mend, spent):
                    start = time.monotonic()
                    await session.read_all_again()
                    bare.append(time.monotonic() - start)
                    session.back()
                    break
    median, slowest = statistics.median(spent), max(spent)
    print(
        f"{lens}: {len(spent)} mends, median {1000 * median:.0f} ms, slowest "
        f"{1000 * slowest:.0f} ms; {median / statistics.median(bare):.2f} x a bare reading"
    )


async def _taken(
    session: MendingSession, file: MendedFile, finding: Finding, mend: Mend, spent: list[float]
) -> bool:
    start = time.monotonic()
    try:
        await session.take(file, finding, mend)
    except CannotMend:
        return False
    spent.append(time.monotonic() - start)
    return True


if __name__ == "__main__":
    main()
