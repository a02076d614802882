"""Checks of tables."""
