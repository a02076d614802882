"""Colours and what becomes of them on the page."""
