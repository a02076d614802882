"""Connectors: each knows one kind of system that the sources of pages are kept in; all else of the
product knows only the interface in ``source_item``."""
