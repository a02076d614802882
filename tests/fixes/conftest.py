"""A demo of each module's own."""

from tests.trust import trust  # noqa: F401
