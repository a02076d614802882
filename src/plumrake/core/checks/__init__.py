"""The catalogue's checks, one file each: ``<area>/<slug>.py`` with its cases beside it."""
