"""Windows of the console's tests."""

from tests.console.conftest import page, window  # noqa: F401
