"""Reading pages in the tests of whoever builds them.

A test brings a page to some state in its own browser and hands it over; what is found there is what
``plumrake look`` and a sweep find. The pytest plugin gives the fixture ``plumrake``::

    def test_hire(page, plumrake):
        page.goto("http://localhost:8000/hire/")
        page.get_by_role("button", name="Choose a day").click()
        reading = plumrake.read(page, name="Choosing a day", scope="main")
        assert reading.is_ready

Playwright's pages fit as they are, sync (``read``) and async (``read_async``); of others ``Page``
says what is needed.
"""

from plumrake.testing.pages import AsyncPage, CannotRead, Page
from plumrake.testing.reading import Reader, Reading
from plumrake.testing.settings import Settings

__all__ = ["AsyncPage", "CannotRead", "Page", "Reader", "Reading", "Settings"]
