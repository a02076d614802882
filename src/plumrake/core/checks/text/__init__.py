"""Checks of text."""
