"""Checks of forms."""
