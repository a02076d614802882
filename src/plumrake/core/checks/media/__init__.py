"""Checks of films and recordings."""
