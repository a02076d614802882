"""A demo of each module's own."""

from tests.trust import files_as_written, trust  # noqa: F401
