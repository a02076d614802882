"""Plum Rake reads every page of a website before it is published and says what keeps people out.

Layers, each importing only those to its right::

    cli (served) -> client
    service, jobs, cli (embedded) -> actions -> lenses, discovery, records, reports -> core
"""

__version__ = "0.1.0"
