"""Checks of lists."""
