"""Checks of motion."""
