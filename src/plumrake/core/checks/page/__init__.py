"""Checks of page."""
