"""Checks of controls."""
