"""Plum Rake reads every page of a website before it is published and says what keeps people out.

Layers, each importing only those to its right::

    cli (served) -> client
    service, jobs, cli (embedded) -> actions -> lenses, discovery, records, reports -> core
"""

import sys

__version__ = "0.1.0"

# The command of httpx takes longer to load than all else of it; without that it does as where its
# own extra packages are not installed.
sys.modules.setdefault("httpx._main", None)  # type: ignore[arg-type]
